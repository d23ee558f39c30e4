import { vec3 } from '../../mesh/transform.ts';
import { xyz, type Vec3, type Xyz } from '../../mesh/TriMesh.ts';
import type { PartName } from '../../params/checks.ts';
import type { Lump } from './contact.ts';

/** A, B, ... Z, AA, AB ... */
export function letters(n: number): string {
  let out = '';
  for (let i = n; i >= 0; i = Math.floor(i / 26) - 1) out = String.fromCharCode(65 + (i % 26)) + out;
  return out;
}

/** A part without its joins: where it is, how large, how much. */
export interface Plain {
  min: Xyz;
  size: Xyz;
  volumeMm3: number;
}

export const plainOf = ({ solid }: Lump): Plain => {
  const { min, max } = solid.boundingBox();
  return { min: xyz(min), size: xyz(vec3((k) => max[k] - min[k])), volumeMm3: solid.volume() };
};

/** Is a part the one that had a name before? The kernel keeps coordinates as 32 bit floats. */
function isNamed(part: Plain, name: PartName): boolean {
  const slack = 1e-3 + 1e-5 * Math.max(...name.size.map(Math.abs), ...name.min.map(Math.abs));
  const { min, size } = part;
  return (
    [min.x, min.y, min.z].every((x, k) => Math.abs(x - name.min[k]) <= slack) &&
    [size.x, size.y, size.z].every((x, k) => Math.abs(x - name.size[k]) <= slack) &&
    Math.abs(part.volumeMm3 - name.volumeMm3) <= 1e-4 * name.volumeMm3
  );
}

/**
 * Letters by level from below, numbers by place within it. A part that was there before keeps its name, and no other
 * part gets that of one that was printed.
 */
export function nameLumps(lumps: Lump[], names: readonly PartName[]): void {
  const order = ({ solid, level }: Lump): Vec3 => {
    const { min, max } = solid.boundingBox();
    return [level, Math.round((min[1] + max[1]) / 2), (min[0] + max[0]) / 2];
  };
  lumps.sort((a, b) => {
    const p = order(a);
    const q = order(b);
    return p[0] - q[0] || p[1] - q[1] || p[2] - q[2];
  });
  const taken = new Set(names.filter((n) => n.spent).map((n) => n.tag));
  const free = new Set(names);
  for (const lump of lumps) {
    const plain = plainOf(lump);
    const known = [...free].find((n) => isNamed(plain, n));
    if (!known || lumps.some((l) => l.tag === known.tag)) continue;
    lump.tag = known.tag;
    taken.add(known.tag);
    free.delete(known);
  }
  const perLevel = new Map<number, number>();
  for (const lump of lumps) {
    if (lump.tag !== '') continue;
    let number = perLevel.get(lump.level) ?? 0;
    do lump.tag = `${letters(lump.level)}${++number}`;
    while (taken.has(lump.tag));
    perLevel.set(lump.level, number);
  }
}
