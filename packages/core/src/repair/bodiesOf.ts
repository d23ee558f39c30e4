import { shellsOf } from '../mesh/edges.ts';
import { meshesByLabel, shellMeasures } from '../mesh/shells.ts';
import { concatMeshes, type TriMesh } from '../mesh/TriMesh.ts';
import { windingOf } from '../mesh/WindingTree.ts';

/**
 * Is all of a shell inside another, whichever way that faces? Looked at in up to 60 of its corners: a shell that merely
 * overlaps sticks out somewhere.
 */
export function liesInside(shell: TriMesh, other: TriMesh): boolean {
  const winding = windingOf(other);
  const p = shell.positions;
  const stride = 3 * Math.max(1, Math.floor(p.length / 3 / 60));
  for (let i = 0; i < p.length; i += stride) if (Math.abs(winding.at(p[i], p[i + 1], p[i + 2])) < 0.5) return false;
  return true;
}

/** A body: a shell that faces out, with the cavities that lie in it. */
export function bodiesOf(mesh: TriMesh): TriMesh[] {
  const { label, count } = shellsOf(mesh);
  const parts = meshesByLabel(mesh, label, count) as TriMesh[];
  const { volume: volumes, boxes } = shellMeasures(mesh);
  const outer = parts
    .map((_, i) => i)
    .filter((i) => volumes[i] > 0)
    .sort((a, b) => volumes[a] - volumes[b] || a - b);
  const groups = new Map<number, TriMesh[]>(outer.map((i) => [i, [parts[i]]]));
  parts.forEach((part, i) => {
    if (volumes[i] > 0) return;
    const home = outer.find((j) => {
      if (volumes[j] < -volumes[i]) return false;
      if (![0, 1, 2].every((k) => boxes[6 * j + k] <= boxes[6 * i + k] && boxes[6 * j + 3 + k] >= boxes[6 * i + 3 + k]))
        return false;
      return liesInside(part, parts[j]);
    });
    if (home !== undefined) groups.get(home)!.push(part);
  });
  return outer.sort((a, b) => a - b).map((i) => concatMeshes(groups.get(i)!));
}
