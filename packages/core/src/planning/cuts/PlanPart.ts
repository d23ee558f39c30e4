import { areaOf, centreOf, crossesOf, volumeOf } from '../../mesh/measures.ts';
import { dot, identity3 } from '../../mesh/transform.ts';
import type { Vec3 } from '../../mesh/TriMesh.ts';
import { roughDurationS } from '../estimate.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';
import type { Solid } from '../../solid/kernel.ts';
import { figures } from '../../trade/figures.ts';
import type { CleanPlace } from './CleanBox.ts';
import type { PlanPart } from './planParts.ts';
import { extentsIn, fitsQuickly, partsOfBox } from './quickFit.ts';
import { principalAxes } from './principalAxes.ts';
import type { Skin } from './Skin.ts';

/** What parts are judged against. */
export interface PartContext {
  rooms: readonly Vec3[];
  /** where no seam should be */
  clean: readonly CleanPlace[];
  /** the printers of the rooms */
  profiles: readonly PrinterProfile[];
  /** how much a seam shows on each triangle of the stand-in, and the kernel's number for it */
  seen: Float32Array;
  original: number;
  next: () => number;
}

const axisUps: readonly Vec3[] = [
  [0, 0, 1],
  [0, 0, -1],
  [1, 0, 0],
  [-1, 0, 0],
  [0, 1, 0],
  [0, -1, 0],
];

/** Corners and triangles of a piece of the stand-in, and how much a seam shows on each. */
export function skinOf(context: Pick<PartContext, 'seen' | 'original'>, solid: Solid): Skin {
  const { numProp, vertProperties, triVerts, faceID, runIndex, runOriginalID } = solid.getMesh();
  const n = vertProperties.length / numProp;
  let positions = vertProperties;
  if (numProp !== 3) {
    positions = new Float32Array(3 * n);
    for (let v = 0; v < n; v++) for (let k = 0; k < 3; k++) positions[3 * v + k] = vertProperties[v * numProp + k];
  }
  const seen = new Float32Array(triVerts.length / 3);
  for (let run = 0; run < runOriginalID.length; run++)
    if (runOriginalID[run] === context.original)
      for (let t = runIndex[run] / 3; t < runIndex[run + 1] / 3; t++) seen[t] = context.seen[faceID[t]] ?? 0;
  return { positions, triangles: triVerts, seen };
}

/** Measures a piece of the stand-in. */
export function partOf(context: PartContext, skin: Skin, faces: readonly Vec3[]): PlanPart {
  const { positions, triangles } = skin;
  const frames = [identity3, principalAxes(positions, triangles)];
  const sizes = frames.map((rows) => extentsIn(positions, rows));
  const expected = Math.min(...sizes.map((size) => partsOfBox(size, context.rooms)));
  const volumeMm3 = skin.volumeMm3 ?? volumeOf(skin);
  // what holds more than a room is in none, however it lies
  const fits =
    expected === 1 ||
    (expected <= 4 &&
      context.rooms.some(([x, y, z]) => x * y * z > volumeMm3) &&
      fitsQuickly(positions, context.rooms, frames));
  const part: PlanPart = {
    ...skin,
    id: context.next(),
    crosses: crossesOf(skin),
    frames,
    faces,
    volumeMm3,
    longestMm: Math.max(...sizes[0]),
    centre: centreOf(skin),
    fits,
    stuck: false,
    expected: fits ? 1 : expected,
    areaMm2: areaOf(skin),
    supportMm3: 0,
    up: [0, 0, 1],
    heightMm: 0,
    durationsS: [],
    sweeps: null,
    onto: null,
    parted: new Map(),
    single: new Map(),
    options: new Map(),
  };
  judgePrint(part, context);
  return part;
}

const steep = -Math.sin((figures.overhangDeg.value * Math.PI) / 180) - 1e-3;

/** Support by columns from the overhangs to the floor, and time, in the best of a few poses. */
function judgePrint(part: PlanPart, { rooms, profiles }: PartContext): void {
  const { positions: p, triangles: t, crosses } = part;
  // a part that will be cut on is not held to the room's height yet
  const tallest = part.fits ? Math.max(...rooms.map((r) => Math.max(...r))) * (1 + 1e-5) : Infinity;
  const ups = [...part.faces.map((f): Vec3 => [-f[0], -f[1], -f[2]]), ...axisUps];
  const tried: Vec3[] = [];
  let best = Infinity;
  for (const up of ups) {
    if (tried.some((u) => dot(u, up) > 0.999)) continue;
    tried.push(up);
    let lo = Infinity;
    let hi = -Infinity;
    for (let i = 0; i < p.length; i += 3) {
      const h = up[0] * p[i] + up[1] * p[i + 1] + up[2] * p[i + 2];
      if (h < lo) lo = h;
      if (h > hi) hi = h;
    }
    if (hi - lo > tallest && best < Infinity) continue;
    let support = 0;
    for (let i = 0; i < t.length && support < best; i += 3) {
      const nx = crosses[i];
      const ny = crosses[i + 1];
      const nz = crosses[i + 2];
      const down = up[0] * nx + up[1] * ny + up[2] * nz;
      if (down >= steep * Math.sqrt(nx * nx + ny * ny + nz * nz)) continue;
      const a = 3 * t[i];
      const b = 3 * t[i + 1];
      const c = 3 * t[i + 2];
      const h =
        (up[0] * (p[a] + p[b] + p[c]) +
          up[1] * (p[a + 1] + p[b + 1] + p[c + 1]) +
          up[2] * (p[a + 2] + p[b + 2] + p[c + 2])) /
          3 -
        lo;
      // what lies on the bed needs none
      if (h > figures.layerMm.value) support += (-down / 2) * h;
    }
    if (support < best) {
      best = support;
      part.heightMm = hi - lo;
      part.up = up;
    }
  }
  part.supportMm3 = best;
  const piece = { ...part, columnsMm3: best };
  part.durationsS = profiles.map((profile) => roughDurationS(piece, profile));
}

/** Numbers of the rooms that a part fits; all of them where it fits none, since it has to be printed somewhere. */
export function roomsFor(part: PlanPart, rooms: readonly Vec3[]): readonly number[] {
  if (part.onto) return part.onto;
  const all = rooms.map((_, i) => i);
  const sizes = part.frames.map((rows) => extentsIn(part.positions, rows));
  const fitting = all.filter(
    (i) =>
      sizes.some((size) => partsOfBox(size, [rooms[i]]) === 1) ||
      (part.fits && fitsQuickly(part.positions, [rooms[i]], part.frames)),
  );
  part.onto = fitting.length > 0 ? fitting : all;
  return part.onto;
}
