import type { Router } from 'express';
import { defaultDisplayBudget } from '@jasmorphe/contracts/displayMesh';
import { Refusal } from '../store/Refusal.ts';
import { serving } from '../http/serving.ts';
import type { Services } from '../Services.ts';

const forEver = 'public, max-age=31536000, immutable';

export function meshRoutes({ library, blobs, compute, remaker }: Services): Router {
  const { router, answer, send } = serving();
  const making = new Map<string, Promise<void>>();
  answer('GET /steps/{id}', async ({ path }) => {
    const step = await library.meshes.step(path.id);
    if (!step) throw Refusal.notFound('step', path.id);
    return step;
  });
  send('GET /meshes/{hash}', async ({ path, r }) => {
    const { hash } = await library.meshes.mesh(path.hash);
    await remaker.all([hash]);
    r.set({ 'Content-Type': 'application/octet-stream', 'Cache-Control': forEver });
    r.sendFile(blobs.path('meshes', hash), { cacheControl: false, dotfiles: 'allow' });
  });
  send('GET /meshes/{hash}/facts', async ({ path, r }) => {
    r.set('Cache-Control', 'no-cache');
    r.json(await library.meshes.mesh(path.hash));
  });
  send('GET /meshes/{hash}/display', async ({ path, q, r }) => {
    const { hash } = await library.meshes.mesh(path.hash);
    const budget = q.query.budget === undefined ? defaultDisplayBudget : Number(q.query.budget);
    if (!Number.isInteger(budget) || budget < 100 || budget > 2_000_000)
      throw new Refusal(
        'request',
        'bad-params',
        'A budget is a whole number of triangles from 100 to 2 000 000.',
        '',
        'budget',
      );
    const name = `${hash}-${budget}`;
    if (!(await blobs.has('display', name))) {
      let work = making.get(name);
      if (!work) {
        const made = compute.run({ kind: 'display', hash, budget }).result;
        work = made.then((bytes) => blobs.write('display', name, bytes)).finally(() => making.delete(name));
        making.set(name, work);
      }
      await work;
    }
    r.set({ 'Content-Type': 'application/octet-stream', 'Cache-Control': forEver });
    r.sendFile(blobs.path('display', name), { cacheControl: false, dotfiles: 'allow' });
  });
  return router;
}
