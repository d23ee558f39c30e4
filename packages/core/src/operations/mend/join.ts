import { sliceContext, type RunContext } from '../../run/context.ts';
import { crossingsOf } from '../../mesh/crossings.ts';
import { edgesOf, shellsOf } from '../../mesh/edges.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { MeshError } from '../../run/MeshError.ts';
import { concatMeshes, diagonalOf, type TriMesh } from '../../mesh/TriMesh.ts';
import { meshesByLabel } from '../../mesh/shells.ts';
import { weldExact } from '../../mesh/weld.ts';
import { bodiesOf } from '../../repair/bodiesOf.ts';
import { settleDuplicates } from '../../repair/duplicates.ts';
import { fillHoles } from '../../repair/fillHoles.ts';
import { dropFlatShells } from '../../repair/proveSolid.ts';
import { resolveCrossings } from '../../repair/resolveCrossings.ts';
import type { Crossings } from '../../mesh/selfIntersections.ts';
import { separateSheets } from '../../repair/separateSheets.ts';
import { settleCrossings, settleResolved } from '../../repair/settleCrossings.ts';
import { fromSolid, toSolid, withSolids } from '../../solid/kernel.ts';
import { dropCollapsed, dropDust } from './stitch.ts';

/**
 * Makes one skin of closed shells that cross each other or themselves, changing only triangles that cross. First the
 * exact way, along the crossing curves by winding number; where rounding spoils that, taking out what crosses and
 * closing the surface again; at last the union of the solid kernel, which comes first where shells touch in flats.
 *
 * @param known the pairs of triangles that cross, if they have been looked for
 * @returns null where none of these gives a closed skin free of crossings
 */
export async function joinShells(mesh: TriMesh, context: RunContext, known?: Crossings): Promise<TriMesh | null> {
  const scale = diagonalOf(mesh);
  const resolved = resolveCrossings(mesh, sliceContext(context, 0, 0.5), known);
  let united: TriMesh | null = null;
  if (resolved?.mesh !== mesh) {
    // where flats lie in one plane or corners only touch, corners had to be moved a little; the kernel settles such ties
    // symbolically, as if all corners stood apart by less than any number (Edelsbrunner and Mücke 1990), and moves none
    united = await unite(mesh, context);
    const exact = united && whole(united);
    if (exact && crossingsOf(exact, context).count === 0) return exact;
  }
  const joined = resolved && settleResolved(resolved, scale, sliceContext(context, 0.5, 0.6));
  const tidied = joined && whole(joined);
  if (tidied) return tidied;
  const settled = tidy(mesh, scale, sliceContext(context, 0.6, 0.75));
  if (settled && !overlaps(settled)) return settled;
  united ??= await unite(mesh, context);
  return united && tidy(united, scale, sliceContext(context, 0.8, 1));
}

/** Bodies that hung together by their faces or edges, made one. */
export interface Touching {
  mesh: TriMesh;
  /** shells that were united */
  shells: number;
  /** triangles that they had */
  triangles: number;
}

/**
 * Unites bodies that touch in faces or along edges. Their skins are told apart there without moving a corner, so that
 * the solid kernel can settle the contact symbolically and whole numbers stay whole.
 *
 * @param mesh welded
 * @returns null where nothing touches so, or what touches is not closed, or no skin free of crossings comes of it
 */
export async function uniteTouching(mesh: TriMesh, context: RunContext): Promise<Touching | null> {
  const { label, count } = shellsOf(mesh);
  const touching = new Uint8Array(count);
  const open = new Uint8Array(count);
  const { order, start, count: edges } = edgesOf(mesh);
  for (let e = 0; e < edges; e++) {
    const sides = start[e + 1] - start[e];
    if (sides === 2) continue;
    const shell = label[(order[start[e]] / 3) | 0];
    if (sides % 2 === 1) open[shell] = 1;
    else touching[shell] = 1;
  }
  const rest: TriMesh[] = [];
  const found = { shells: 0, triangles: 0 };
  const parts = touching.includes(1) ? (meshesByLabel(mesh, label, count) as TriMesh[]) : [];
  for (const [i, part] of parts.entries()) {
    if (!touching[i] || open[i]) {
      rest.push(part);
      continue;
    }
    context.checkCancelled();
    // faces that lie on one another are a shell of no volume where their sides were paired with each other
    const apart = dropFlatShells(separateSheets(part, 0).mesh).mesh;
    const united = bodiesOf(apart).length > 1 ? await unite(apart, context) : apart;
    const exact = united && whole(united);
    if (!exact || crossingsOf(exact, context).count > 0) {
      rest.push(part);
      continue;
    }
    rest.push(exact);
    found.shells += shellsOf(separateSheets(part, 0, true).mesh).count;
    found.triangles += part.triangles.length / 3;
  }
  return found.shells > 0 ? { mesh: concatMeshes(rest), ...found } : null;
}

/** Do shells still lie in one another after each was settled by itself? Then settling has cut them apart, not joined them. */
function overlaps(mesh: TriMesh): boolean {
  return shellsOf(mesh).count > 1;
}

async function unite(mesh: TriMesh, context: RunContext): Promise<TriMesh | null> {
  try {
    return await withSolids((kernel, keep) => {
      context.progress(0.75, 'Uniting shells');
      const solids = bodiesOf(mesh).map((body) => keep(toSolid(kernel, body)));
      context.checkCancelled();
      if (solids.length < 2) return null;
      return fromSolid(keep(kernel.Manifold.union(solids)));
    });
  } catch (error) {
    if (error instanceof MeshError && error.code === 'not-solid') return null;
    throw error;
  }
}

/** Welds, parts sheets, closes and settles what rounding left; null where crossings or open edges remain. */
function tidy(mesh: TriMesh, scale: number, context: RunContext): TriMesh | null {
  const single = settleDuplicates(dropCollapsed(weldExact(mesh))).mesh;
  const sheets = separateSheets(single, 2e-5 * scale).mesh;
  const closed = fillHoles(sheets, { limitMm: Infinity, follow: false }, context).mesh;
  const settled = settleCrossings(closed, scale, context, 4);
  return settled && whole(settled);
}

/** The mesh welded and without dust, or null where that is nothing or not closed. */
function whole(mesh: TriMesh): TriMesh | null {
  if (mesh.triangles.length === 0) return null;
  const clean = dropDust(weldExact(mesh));
  const check = inspectMesh(clean, { skipSelfIntersections: true, brief: true });
  return check.watertight && check.nonManifoldVertices === 0 ? clean : null;
}
