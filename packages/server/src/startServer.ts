import express, { type ErrorRequestHandler, type Express } from 'express';
import helmet from 'helmet';
import { randomUUID } from 'node:crypto';
import { mkdirSync, statSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { Remaker } from './compute/Remaker.ts';
import { RemakingCompute } from './compute/RemakingCompute.ts';
import type { ComputePort, MeshStore } from './compute/ComputePort.ts';
import { ThreadCompute, type Threads } from './threads/ThreadCompute.ts';
import { log, request } from './log.ts';
import { openApiDocument } from '@jasmorphe/contracts/openapi';
import { pageIds } from '@jasmorphe/contracts/requests';
import { ApiError, errorBody } from './http/ApiError.ts';
import { serving } from './http/serving.ts';
import { EventHub } from './http/EventHub.ts';
import { localOnly } from './http/localOnly.ts';
import { endSilence } from './http/silence.ts';
import { refuseDeepJson } from './http/validate.ts';
import { BatchRequests } from './jobs/BatchRequests.ts';
import { JobQueue } from './jobs/JobQueue.ts';
import { JobRequests } from './jobs/JobRequests.ts';
import { refreshFacts } from './jobs/refreshFacts.ts';
import { Backups } from './pack/Backups.ts';
import { Packs } from './pack/Packs.ts';
import { BedfulPrints } from './printing/BedfulPrints.ts';
import { BenchTicks } from './printing/BenchTicks.ts';
import { PartPrints } from './printing/PartPrints.ts';
import { bodyRoutes } from './routes/bodies.ts';
import { bedfulRoutes } from './routes/bedfuls.ts';
import { bookRoutes } from './routes/books.ts';
import { dayRoutes } from './routes/days.ts';
import { kitRoutes } from './routes/kits.ts';
import { meshRoutes } from './routes/meshes.ts';
import { printRoutes } from './routes/prints.ts';
import { projectRoutes } from './routes/projects.ts';
import { workshopRoutes } from './routes/workshop.ts';
import type { ServerOptions, Services } from './Services.ts';
import { BlobStore } from './store/BlobStore.ts';
import { trashDays } from './store/collect.ts';
import { openDatabase } from './store/database.ts';
import { quickLook } from './pack/doctor.ts';
import { lockFolder } from './store/folderLock.ts';
import { Library } from './store/Library.ts';

export interface RunningServer extends Services {
  address: string;
  server: Server;
  /** Ends jobs, connections and the database; safe to call twice. */
  stop(): Promise<void>;
}

const defaultUploadLimit = 2 * 2 ** 30;
const usualSilenceMs = 60_000;
/** How long a connection that nobody uses is kept, ms. */
const keepAliveMs = 60_000;

/**
 * Takes the data folder, opens the store, starts the jobs and listens on 127.0.0.1. Port 0 takes any free one.
 *
 * @param threads to work in, of whoever starts it; else it has its own for as long as it runs
 * @param elsewhere work is done, with meshes of this server; in threads if left out
 * @throws FolderInUse when another server has the folder; whatever hinders it from opening or listening
 */
export async function startServer(
  given: Partial<ServerOptions> & { dataFolder: string },
  threads?: Threads,
  elsewhere?: (home: MeshStore) => ComputePort,
): Promise<RunningServer> {
  const options: ServerOptions = {
    port: 4780,
    uploadLimitBytes: defaultUploadLimit,
    silenceMs: usualSilenceMs,
    ...given,
  };
  mkdirSync(options.dataFolder, { recursive: true });
  const lock = await lockFolder(options.dataFolder);
  const undo: (() => unknown)[] = [() => lock.release()];
  try {
    const blobs = new BlobStore(options.dataFolder);
    await blobs.clearIncoming();
    const database = await openDatabase(join(options.dataFolder, 'jasmorphe.db'));
    undo.unshift(() => database.close());
    const library = new Library(database, blobs);
    const events = new EventHub();
    undo.unshift(() => events.close());
    const owner = `server ${randomUUID()}`;
    const inThreads = new ThreadCompute(options.dataFolder, owner, threads);
    undo.unshift(() => inThreads.close());
    const where = elsewhere?.(blobs) ?? inThreads;
    const remaker = new Remaker(library.meshes, blobs, where);
    const compute = new RemakingCompute(where, (hashes) => remaker.all(hashes));
    const queue = new JobQueue(library, compute, events, owner);
    const requests = new JobRequests(library, queue);
    const batches = new BatchRequests(library, blobs, queue);
    const problems = await quickLook(database, blobs);
    for (const p of problems) log.warn(`${p.message} ${p.hint}`);
    for (const id of await library.projects.longGone()) await library.projects.remove(id);
    await library.collect();
    await blobs.emptyTrash('meshes', trashDays);
    await library.workshop.furnish();
    let ended = false;
    let refreshing = Promise.resolve();
    const refresh = () => {
      refreshing = refreshing
        .then(() => refreshFacts(library, compute, events, () => ended))
        .catch((error: unknown) => {
          if (!ended) log.error(error);
        });
    };
    const services: Services = {
      options,
      library,
      blobs,
      queue,
      requests,
      batches,
      compute,
      unpack: (path) => inThreads.unpack(path),
      remaker,
      packs: new Packs(library),
      backups: new Backups(library),
      partPrints: new PartPrints(library, events),
      bedfulPrints: new BedfulPrints(library, events),
      benchTicks: new BenchTicks(library, events),
      events,
      refreshFacts: refresh,
      problems,
    };
    const server = createServer(createApp(services, events));
    // a connection that is let go just as it is used again fails the request, so not after the usual 5 s
    server.keepAliveTimeout = keepAliveMs;
    // a request is ended when it falls silent, and not for its length
    server.requestTimeout = 0;
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(options.port, '127.0.0.1', resolve);
    });
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    lock.say(`the server at ${address} (process ${process.pid})`);
    await queue.start();
    refresh();
    let stopping: Promise<void> | undefined;
    const stop = () =>
      (stopping ??= (async () => {
        ended = true;
        queue.close();
        events.close();
        server.close();
        server.closeAllConnections();
        await inThreads.close();
        await queue.quiet();
        await queue.putBack().catch((error: unknown) => log.error(error, 'Jobs could not be put back'));
        await refreshing;
        await database.close();
        await lock.release();
      })());
    return { ...services, address, server, stop };
  } catch (error) {
    for (const step of undo) await step();
    throw error;
  }
}

function createApp(services: Services, hub: EventHub): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          // WebAssembly of the mesh decoder; styles of the component library
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          workerSrc: ["'self'", 'blob:'],
          // the build book is shown where it was fetched
          frameSrc: ["'self'", 'blob:'],
          objectSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use((_q, r, next) => {
    const requestId = randomUUID().slice(0, 8);
    r.set('X-Request-Id', requestId);
    request.run({ requestId }, next);
  });
  app.use(localOnly);
  app.use(endSilence(services.options.silenceMs));
  const { router: api, answer, send } = serving();
  send('GET /events', async ({ q, r }) => {
    hub.add(r);
    const { page } = q.query;
    if (typeof page === 'string' && pageIds.test(page)) r.on('close', services.queue.watchers.enter(page));
  });
  // an open page tells by this that the server behind it has another page by now
  const pageVersion = (): string | null => {
    const page =
      services.options.webFolder && statSync(join(services.options.webFolder, 'index.html'), { throwIfNoEntry: false });
    return page ? `${page.mtimeMs}-${page.size}` : null;
  };
  answer('GET /health', () => ({ up: true, name: 'Jasmorphe', problems: services.problems, page: pageVersion() }));
  let description: ReturnType<typeof openApiDocument> | undefined;
  send('GET /openapi.json', async ({ r }) => void r.json((description ??= openApiDocument())));
  api.use(express.json({ limit: '1mb', verify: refuseDeepJson }));
  api.use(
    projectRoutes(services),
    kitRoutes(services),
    bodyRoutes(services),
    printRoutes(services),
    bedfulRoutes(services),
    dayRoutes(services),
    bookRoutes(services),
    meshRoutes(services),
    workshopRoutes(services),
  );
  api.use((q) => {
    throw new ApiError(
      404,
      'not-found',
      `There is nothing at ${q.method} ${q.originalUrl.slice(0, 200)}.`,
      'See /api/openapi.json.',
    );
  });
  app.use('/api', api);
  const { webFolder } = services.options;
  if (webFolder) {
    app.use(
      '/assets',
      express.static(join(webFolder, 'assets'), { immutable: true, maxAge: '1y' }),
      // of an earlier page as a rule: nothing is missing of the data folder
      () => {
        throw new ApiError(
          404,
          'not-found',
          'There is no such piece of the page.',
          'Reload the page: it may be an earlier one.',
        );
      },
    );
    app.use(express.static(webFolder, { index: false }));
    app.get(/^\/(?!api|assets).*/, (_q, r) => r.sendFile(join(webFolder, 'index.html'), { dotfiles: 'allow' }));
  }
  const onError: ErrorRequestHandler = (error, q, r, next) => {
    const { status, body } = errorBody(error);
    if (status === 500) log.error(error, `${q.method} ${q.originalUrl.slice(0, 200)} failed`);
    // whoever asked has been answered, or is gone
    if (r.headersSent) return q.destroyed ? undefined : next(error);
    r.status(status).json(body);
  };
  app.use(onError);
  return app;
}
