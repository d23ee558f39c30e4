import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ComputePort, MeshStore } from '@jasmorphe/server/compute/ComputePort';
import type { ServerOptions } from '@jasmorphe/server/Services';
import { Threads } from '@jasmorphe/server/threads/ThreadCompute';
import { startServer as startWith, type RunningServer } from '@jasmorphe/server/startServer';

const threads = new Threads();

/** Starts a server in threads that the servers of all tests share: they are warm after the first. */
export const startServer = (
  options: Partial<ServerOptions> & { dataFolder: string },
  elsewhere?: (home: MeshStore) => ComputePort,
): Promise<RunningServer> => startWith(options, threads, elsewhere);

/** A server with a data folder of its own, for the tests of a block. */
export interface OwnServer {
  readonly server: RunningServer;
  readonly folder: string;
  /** ends it and starts it again in its folder */
  restart: () => Promise<void>;
}

/** Starts a server before the tests of the block that calls it, and ends it behind them with its folder. */
export function ownServer(): OwnServer {
  let folder = '';
  let server: RunningServer;
  const start = async (): Promise<void> => void (server = await startServer({ dataFolder: folder, port: 0 }));
  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-'));
    await start();
  });
  after(async () => {
    await server.stop();
    rmSync(folder, { recursive: true, force: true });
  });
  return {
    get server() {
      return server;
    },
    get folder() {
      return folder;
    },
    restart: async () => {
      await server.stop();
      await start();
    },
  };
}
