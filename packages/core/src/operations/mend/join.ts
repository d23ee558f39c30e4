import type { RunContext } from '../../mesh/context.ts';
import { buildEdges, groupByLabel, shellsOf } from '../../mesh/edges.ts';
import { volumeOf } from '../../mesh/measures.ts';
import { concatMeshes, subMesh, type TriMesh } from '../../mesh/TriMesh.ts';
import { WindingTree } from '../../mesh/WindingTree.ts';
import { fromSolid, toSolid, withSolids } from '../../solid/kernel.ts';
import { dropDust, liesInside } from './stitch.ts';

/** A body: a shell that faces out, with the cavities that lie in it. */
export function bodiesOf(mesh: TriMesh): TriMesh[] {
  const shells = shellsOf(mesh, buildEdges(mesh));
  const parts = groupByLabel(shells.label, shells.count).map((g) => subMesh(mesh, g));
  const volumes = parts.map(volumeOf);
  const outer = parts
    .map((_, i) => i)
    .filter((i) => volumes[i] > 0)
    .sort((a, b) => volumes[a] - volumes[b] || a - b);
  const groups = new Map<number, TriMesh[]>(outer.map((i) => [i, [parts[i]]]));
  const trees = new Map<number, WindingTree>();
  parts.forEach((part, i) => {
    if (volumes[i] > 0) return;
    const home = outer.find((j) => {
      if (volumes[j] < -volumes[i]) return false;
      let tree = trees.get(j);
      if (!tree) trees.set(j, (tree = WindingTree.of(parts[j])));
      return liesInside(part, tree);
    });
    if (home !== undefined) groups.get(home)!.push(part);
  });
  return outer.sort((a, b) => a - b).map((i) => concatMeshes(groups.get(i)!));
}

/**
 * Unites overlapping bodies into one skin; skins buried inside go.
 *
 * @throws MeshError `not-solid` when a shell is not closed
 */
export async function joinShells(mesh: TriMesh, context: RunContext): Promise<TriMesh> {
  return withSolids((kernel, keep) => {
    context.progress(0, 'Uniting shells');
    const solids = bodiesOf(mesh).map((body) => keep(toSolid(kernel, body)));
    context.checkCancelled();
    if (solids.length === 1) return mesh;
    const united = keep(kernel.Manifold.union(solids));
    return dropDust(fromSolid(united));
  });
}
