import type { Problem } from '@jasmorphe/contracts/views';
import type { BatchRequests } from './jobs/BatchRequests.ts';
import type { JobQueue } from './jobs/JobQueue.ts';
import type { JobRequests } from './jobs/JobRequests.ts';
import type { Backups } from './pack/Backups.ts';
import type { Packs } from './pack/Packs.ts';
import type { ReadPack } from './pack/readPack.ts';
import type { ComputePort } from './compute/ComputePort.ts';
import type { Remaker } from './compute/Remaker.ts';
import type { BedfulPrints } from './printing/BedfulPrints.ts';
import type { BenchTicks } from './printing/BenchTicks.ts';
import type { PartPrints } from './printing/PartPrints.ts';
import type { BlobStore } from './store/BlobStore.ts';
import type { Library } from './store/Library.ts';
import type { Teller } from './store/Teller.ts';

export interface ServerOptions {
  /** folder of the database and the meshes */
  dataFolder: string;
  port: number;
  /** folder of the built web application; the API alone answers when left out */
  webFolder?: string;
  uploadLimitBytes: number;
  /** how long nothing may come of a request that is not whole, ms */
  silenceMs: number;
}

/** What the routes work with. */
export interface Services {
  options: ServerOptions;
  library: Library;
  blobs: BlobStore;
  queue: JobQueue;
  requests: JobRequests;
  batches: BatchRequests;
  /** where work is done that takes long */
  compute: ComputePort;
  /** looks through the archive of a project, a file of this computer, in a thread */
  unpack: (path: string) => Promise<ReadPack>;
  remaker: Remaker;
  packs: Packs;
  backups: Backups;
  /** what happens at the printer and on the bench */
  partPrints: PartPrints;
  bedfulPrints: BedfulPrints;
  benchTicks: BenchTicks;
  events: Teller;
  /** has meshes looked at anew of which no present version knows what they are, behind all other work */
  refreshFacts: () => void;
  /** what was wrong with the data folder at the start */
  problems: Problem[];
}
