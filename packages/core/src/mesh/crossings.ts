import { begin } from '../run/secondThread.ts';
import { quietContext, type RunContext } from '../run/context.ts';
import { selfIntersections, type Crossings } from './selfIntersections.ts';
import { sharedTriangles } from './sharedTriangles.ts';
import { triangleCount, type TriMesh } from './TriMesh.ts';

const known = new WeakMap<TriMesh, Crossings>();

/** Where more of the triangles than this are new, all are tested: it takes no longer. */
const mostNew = 0.3;

/** Pairs of triangles of a mesh that cross, looked for once. */
export function crossingsOf(mesh: TriMesh, context: RunContext = quietContext): Crossings {
  return known.get(mesh) ?? note(mesh, selfIntersections(mesh, context));
}

/** The same, looked for on the second thread where there is one; asked for later. */
export function beginCrossings(mesh: TriMesh, context: RunContext): () => Promise<Crossings> {
  const done = known.get(mesh);
  if (done) return () => Promise.resolve(done);
  const coming = begin(context, 'crossings', selfIntersections, mesh);
  return async () => known.get(mesh) ?? note(mesh, await coming());
}

/**
 * The same for a mesh that came out of another, testing only triangles that the other has not: whether two of its old
 * triangles cross is known.
 *
 * @param before welded
 */
export function crossingsAfter(mesh: TriMesh, before: TriMesh, context: RunContext = quietContext): Crossings {
  const done = known.get(mesh);
  if (done) return done;
  const old = crossingsOf(before, context);
  if (2 * old.count > old.pairs.length) return crossingsOf(mesh, context);
  const { from } = sharedTriangles(before, mesh);
  const fresh = new Uint8Array(from.length);
  let news = 0;
  // of several copies of an old triangle one may be left, or of one old triangle there may be copies: only the first counts as old
  const now = new Int32Array(triangleCount(before)).fill(-1);
  for (let t = 0; t < from.length; t++) {
    if (from[t] >= 0 && now[from[t]] < 0) now[from[t]] = t;
    else {
      fresh[t] = 1;
      news++;
    }
  }
  if (news > mostNew * from.length) return crossingsOf(mesh, context);
  const found = news > 0 ? selfIntersections(mesh, context, fresh) : { count: 0, pairs: [] };
  for (let i = 0; i < old.pairs.length; i += 2) {
    const s = now[old.pairs[i]];
    const t = now[old.pairs[i + 1]];
    if (s < 0 || t < 0) continue;
    found.pairs.push(s, t);
    found.count++;
  }
  return note(mesh, found);
}

/** Says that no triangles of a mesh cross, where that came out on the way. */
export function noteUncrossed(mesh: TriMesh): void {
  note(mesh, { count: 0, pairs: [] });
}

function note(mesh: TriMesh, crossings: Crossings): Crossings {
  known.set(mesh, crossings);
  return crossings;
}
