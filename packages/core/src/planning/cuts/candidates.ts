import type { Vec3 } from '../../mesh/TriMesh.ts';
import { identity3 } from '../../mesh/transform.ts';
import type { PlanPart } from './planParts.ts';
import { spreadDirections } from './proxySolid.ts';
import { alike } from './sectionProfile.ts';

/** Planes tried along a direction besides those that something speaks for. */
const evenPlanes = 20;
/** Directions closer than this are one, as |cos|: 8 degrees. */
const same = Math.cos((8 * Math.PI) / 180);

/** Directions all round, and how many there are in all. More are not always better: they crowd out what lies well. */
const spreads = {
  usual: { around: spreadDirections(7), most: 16 },
  wide: { around: spreadDirections(24), most: 30 },
};

interface Flat {
  normal: Vec3;
  offset: number;
  areaMm2: number;
}

const steps = 40;

/** Flats of a part's own skin by normal and offset, the largest first; mm to a tenth. */
export function flatsOfPart({ positions: p, triangles: t, crosses, seen }: PlanPart, most: number): Flat[] {
  const found = new Map<string, { normal: [number, number, number]; offset: number; areaMm2: number }>();
  for (let i = 0; i < t.length; i += 3) {
    // faces of cuts are flat anyway
    if (!(seen[i / 3] > 0)) continue;
    const a = 3 * t[i];
    const x = crosses[i];
    const y = crosses[i + 1];
    const z = crosses[i + 2];
    const twice = Math.sqrt(x * x + y * y + z * z);
    if (!(twice > 0)) continue;
    const n: Vec3 = [x / twice, y / twice, z / twice];
    const offset = n[0] * p[a] + n[1] * p[a + 1] + n[2] * p[a + 2];
    const key = `${Math.round(n[0] * steps)} ${Math.round(n[1] * steps)} ${Math.round(n[2] * steps)} ${Math.round(offset * 10)}`;
    const flat = found.get(key);
    if (flat) flat.areaMm2 += twice / 2;
    else found.set(key, { normal: [...n], offset, areaMm2: twice / 2 });
  }
  return [...found.values()].sort((f, g) => g.areaMm2 - f.areaMm2).slice(0, most);
}

/** Directions along which a part might be cut: axes of the model, its own, its flats', and some all round. */
export function directionsFor(part: PlanPart, flats: readonly Flat[], wide: boolean): Vec3[] {
  const { around, most } = spreads[wide ? 'wide' : 'usual'];
  const out: Vec3[] = [];
  const add = (d: Vec3, limit = same): void => {
    if (!out.some((o) => alike(o, d) > limit)) out.push(d);
  };
  for (const d of identity3) add(d);
  for (const d of part.frames[1]) add(d, Math.cos((1 * Math.PI) / 180));
  for (const f of flats) if (f.areaMm2 > 0.02 * flats[0].areaMm2) add(f.normal, Math.cos((1 * Math.PI) / 180));
  for (const d of around) add(d, Math.cos((20 * Math.PI) / 180));
  return out.slice(0, most);
}

/** What makes a plane one that something speaks for. */
export interface Offsets {
  offsets: Float64Array;
  /** offsets at which a flat lies */
  natural: ReadonlySet<number>;
}

/** Offsets along a direction at which a part might be cut, rising: even ones, the last that fit from either end, and its flats. */
export function offsetsAlong(
  part: PlanPart,
  normal: Vec3,
  rooms: readonly Vec3[],
  flats: readonly Flat[],
): Offsets | null {
  const { positions: p } = part;
  let lo = Infinity;
  let hi = -Infinity;
  for (let i = 0; i < p.length; i += 3) {
    const h = normal[0] * p[i] + normal[1] * p[i + 1] + normal[2] * p[i + 2];
    if (h < lo) lo = h;
    if (h > hi) hi = h;
  }
  const reach = hi - lo;
  const least = Math.max(1e-6, 0.01 * reach);
  if (!(reach > 0)) return null;
  const all = new Set<number>();
  for (let i = 1; i <= evenPlanes; i++) all.add(lo + (reach * i) / (evenPlanes + 1));
  for (let parts = 2; parts <= 5; parts++) for (let i = 1; i < parts; i++) all.add(lo + (reach * i) / parts);
  const slack = 1e-6 * reach;
  for (const room of rooms)
    for (const r of room)
      if (r < reach) {
        all.add(lo + r - slack);
        all.add(hi - r + slack);
      }
  const natural = new Set<number>();
  const axis = normal.filter((x) => x !== 0).length === 1;
  for (const f of flats) {
    const d = normal[0] * f.normal[0] + normal[1] * f.normal[1] + normal[2] * f.normal[2];
    if (Math.abs(d) < 0.9998) continue;
    // aslant, rounding would leave a film of the flat on the wrong side
    const at = Math.sign(d) * f.offset + (axis ? 0 : 0.02 * Math.sign(d));
    natural.add(at);
    all.add(at);
  }
  const sorted = [...all].filter((o) => o > lo + least && o < hi - least).sort((a, b) => a - b);
  return sorted.length > 0 ? { offsets: Float64Array.from(sorted), natural } : null;
}
