import { writeObj } from '@jasmorphe/core/formats/obj';
import { writePly } from '@jasmorphe/core/formats/ply';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { writeThreeMf } from '@jasmorphe/core/formats/threeMf';
import { largestShell } from '@jasmorphe/core/mesh/shells';
import { boundsOf, concatMeshes, flipMesh, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { scaleMesh } from '@jasmorphe/core/mesh/transform';
import { scanStandIn } from '@jasmorphe/core/operations/practice/standIn';
import { fromSolid, toSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { relief, shapesAt, turn } from './shapes.ts';

/** A mesh file of the demo, as a maker would have it on disk. */
export interface DemoFile {
  name: string;
  bytes: Uint8Array;
}

/** The ammonite before scanning: a ribbed tube wound in a spiral, 42 mm across, its whorls united. */
export async function cleanAmmonite(fineness = 1): Promise<TriMesh> {
  const { sweep } = shapesAt(fineness);
  const turns = 3.1;
  const growth = 0.155;
  const spiral = (t: number): { at: Vec3; r: number } => {
    const angle = 2 * Math.PI * turns * t;
    const r = 19 * Math.exp(growth * (angle - 2 * Math.PI * turns));
    return { at: [r * Math.cos(angle), 0.5 * r * (1 - t) * 0.12, r * Math.sin(angle)], r };
  };
  const pieces = 6;
  const whorls: TriMesh[] = [];
  for (let i = 0; i < pieces; i++)
    whorls.push(
      sweep(
        (s) => spiral(0.18 + (0.82 * (i + s)) / pieces).at,
        (s, a) => {
          const t = 0.18 + (0.82 * (i + s)) / pieces;
          const { r } = spiral(t);
          const round = 2 * Math.PI * turns * t;
          // ribs lean forward towards the outer rim and are sharper than the furrows between them
          const wave = 0.5 + 0.5 * Math.sin(round * 9 + 0.5 * Math.cos(a));
          const rib = 1 + 0.13 * (wave ** 2.2 - 0.35) * (0.55 + 0.45 * Math.cos(a));
          // suture lines: a groove across the whorl, folded into lobes and saddles
          const fold = 0.34 * Math.sin(3 * a) + 0.13 * Math.sin(7 * a + 1) + 0.07 * Math.sin(13 * a);
          const phase = (((round * 9) / (2 * Math.PI) + 0.62 * fold) % 1) - 0.5;
          const groove = 1 - 0.045 * Math.exp(-((phase / 0.05) ** 2));
          return [0.37 * r * rib * groove, 0.33 * r * rib * groove];
        },
        90,
        112,
        [0, 1, 0],
      ),
    );
  return withSolids((kernel, keep) => {
    const solids = whorls.map((w) => keep(toSolid(kernel, w)));
    // pockets that the whorls enclose between them are no part of a pocket cast
    const united = keep(toSolid(kernel, largestShell(fromSolid(keep(kernel.Manifold.union(solids))))));
    const { min, max } = united.boundingBox();
    const f = 42 / (max[0] - min[0]);
    return fromSolid(keep(keep(united.translate([-(min[0] + max[0]) / 2, -(min[1] + max[1]) / 2, -min[2]])).scale(f)));
  });
}

/** The ammonite as the stand-in scanner saw it. */
export async function ammoniteScan(fineness = 1): Promise<TriMesh> {
  return scanStandIn(await cleanAmmonite(fineness), {
    seed: 42,
    noiseMm: 0.03,
    holes: 9,
    holeMm: 1.1,
    islands: 16,
    ground: true,
    seenFrom: 0,
    thinMm: 0,
    flips: 0,
  });
}

/** The carnyx: a boar-headed war horn, over thirty shells that overlap, one of them inside out; 1.75 high, in metres. */
export function carnyxKit(fineness = 1): TriMesh {
  const { sweep, ellipsoid } = shapesAt(fineness);
  const tube = sweep(
    (s) => (s < 0.12 ? [0.5 * (0.12 - s), 0, 0.02] : [0, 0, 0.02 + 1.55 * ((s - 0.12) / 0.88)]),
    (s) => {
      const r = 0.022 + 0.034 * s * s;
      // soldered collars, and a spiral of beading between them
      const collar = 0.2 * Math.exp(-(((((8 * s) % 1) - 0.5) / 0.05) ** 2));
      return [r * (1 + collar), r * (1 + collar)];
    },
    320,
    56,
    [0, 1, 0],
  );
  const skull = relief(ellipsoid([0.06, 0, 1.6], [0.17, 0.1, 0.13], 110, 150), 0.0035, 46);
  const snout = sweep(
    (s) => [0.12 + 0.3 * s, 0, 1.6 - 0.05 * s],
    // wrinkles across the snout
    (s) => {
      const wrinkle = 1 + 0.035 * Math.sin(38 * s) * (1 - s);
      return [(0.1 - 0.035 * s) * wrinkle, (0.085 - 0.03 * s) * wrinkle];
    },
    110,
    84,
    [0, 0, 1],
  );
  const rim = sweep(
    (s) => [0.395 + 0.05 * s, 0, 1.552 - 0.004 * s],
    () => [0.075, 0.066],
    4,
    36,
    [0, 0, 1],
  );
  const jaw = sweep(
    (s) => [0.06 + 0.3 * s, 0, 1.48 - 0.015 * Math.sin(3 * s)],
    (s) => [0.03 - 0.008 * s, 0.055 - 0.02 * s],
    16,
    28,
    [0, 0, 1],
  );
  const ear = (y: number) =>
    turn(ellipsoid([-0.02, y, 1.72], [0.03, 0.018, 0.085], 18, 24), 0, y > 0 ? -0.5 : 0.5, [-0.02, y, 1.68]);
  const tusk = (y: number) =>
    sweep(
      (s) => [0.28 + 0.07 * Math.sin(2.2 * s), y * (1 + 0.35 * s), 1.5 + 0.13 * s],
      (s) => [0.017 * (1 - 0.9 * s), 0.017 * (1 - 0.9 * s)],
      16,
      18,
      [0, 1, 0],
    );
  // a comb of bristles, highest over the brow
  const crest = Array.from({ length: 9 }, (_, i) => {
    const x = -0.13 + 0.034 * i;
    const tall = 0.085 + 0.04 * Math.sin(0.35 * i);
    return turn(ellipsoid([x, 0, 1.665 + 0.25 * tall], [0.021, 0.0085, tall], 36, 24), 1, -0.28, [x, 0, 1.66]);
  });
  const teeth = [-1, 1].flatMap((side) =>
    Array.from({ length: 6 }, (_, i) => {
      const x = 0.15 + 0.036 * i;
      const y = side * (0.05 - 0.0035 * i);
      return sweep(
        (s) => [x, y, 1.478 + 0.052 * s],
        (s) => [0.0105 * (1 - 0.9 * s), 0.0105 * (1 - 0.9 * s)],
        14,
        20,
        [0, 1, 0],
      );
    }),
  );
  const eye = (y: number) => ellipsoid([0.15, y, 1.645], [0.024, 0.02, 0.024], 12, 16);
  const all = concatMeshes([
    tube,
    skull,
    snout,
    rim,
    jaw,
    ear(0.075),
    flipMesh(ear(-0.075)),
    tusk(0.055),
    tusk(-0.055),
    ...crest,
    ...teeth,
    eye(0.078),
    eye(-0.078),
  ]);
  let top = -Infinity;
  let floor = Infinity;
  for (let i = 2; i < all.positions.length; i += 3) {
    top = Math.max(top, all.positions[i]);
    floor = Math.min(floor, all.positions[i]);
  }
  const f = 1.75 / (top - floor);
  return scaleMesh(all, [f, f, f]);
}

/**
 * The heron mask: a shell 3 mm thick for a head with 8 mm of lining, with a long beak open below for breath, eye openings,
 * rings around them, a brow and a crest of plumes.
 */
export async function heronMask(fineness = 1): Promise<TriMesh> {
  const { sweep, ellipsoid } = shapesAt(fineness);
  const wall = 3;
  const middle: Vec3 = [0, 0, 100];
  const half: Vec3 = [101, 122, 146];
  const skull = ellipsoid(middle, half, 90, 128);
  const beak = (grow: number, from: number, long: number) =>
    sweep(
      (s) => [0, from - long * s, 62 - 30 * s - 16 * s * s],
      (s) => [(44 + grow) * (1 - 0.93 * s), (32 + grow) * (1 - 0.94 * s)],
      80,
      72,
      [0, 0, 1],
    );
  // the edge where upper and lower beak meet
  const lip = (x: number) =>
    sweep(
      (s) => [x * (42 - 36 * s), -88 - 214 * s, 56 - 30 * s - 15 * s * s],
      (s) => [3.4 * (1 - 0.7 * s), 2.6 * (1 - 0.7 * s)],
      50,
      16,
      [0, 0, 1],
    );
  const brow = (x: number) =>
    sweep(
      (s) => [x * (18 + 62 * s), -104 + 50 * s * s, 152 - 14 * s + 10 * Math.sin(3 * s)],
      (s) => [7 * (1 - 0.8 * s), 9 * (1 - 0.8 * s)],
      40,
      24,
      [0, 0, 1],
    );
  const plume = (x: number, lift: number, long: number) =>
    sweep(
      (s) => [x * (1 + 1.6 * s), 6 + long * s, 236 + lift * s - 76 * s * s],
      (s) => [5.5 * (1 - 0.93 * s), 8 * (1 - 0.93 * s)],
      50,
      20,
      [1, 0, 0],
    );
  // rows of small feathers over the cheeks
  const feathers: TriMesh[] = [];
  for (const side of [-1, 1])
    for (let row = 0; row < 6; row++)
      for (let i = 0; i < 6; i++) {
        const up = -0.42 + 0.17 * row;
        const round = 0.62 + 0.15 * i + 0.07 * (row % 2);
        const at: Vec3 = [
          side * half[0] * Math.cos(up) * Math.sin(round),
          -half[1] * Math.cos(up) * Math.cos(round),
          100 + half[2] * Math.sin(up),
        ];
        feathers.push(turn(ellipsoid(at, [5.5, 7, 11], 10, 14), 2, side * round, at));
      }
  return withSolids((kernel, keep) => {
    const take = (m: TriMesh) => keep(toSolid(kernel, m));
    const inner = take(ellipsoid(middle, [half[0] - wall, half[1] - wall, half[2] - wall], 90, 128));
    const innerBeak = take(beak(-wall, -70, 170));
    const eyes = [-33, 33].map((x) =>
      keep(keep(keep(kernel.Manifold.cylinder(140, 21, 25, 64)).rotate([90, 0, 0])).translate([x, -40, 112])),
    );
    const rings = [-33, 33].map((x) =>
      keep(keep(keep(kernel.Manifold.cylinder(74, 30, 30, 64)).rotate([90, 0, 0])).translate([x, -40, 112])),
    );
    // a slot along the underside of the beak, and nostrils
    const slot = keep(keep(kernel.Manifold.cube([26, 150, 60], true)).translate([0, -176, 8]));
    const nostrils = [-1, 1].map((x) =>
      keep(
        keep(keep(kernel.Manifold.cylinder(90, 5, 5, 32, true)).rotate([0, 90, 12 * x])).translate([x * 20, -150, 62]),
      ),
    );
    const back = keep(keep(kernel.Manifold.cube([500, 300, 700], true)).translate([0, 174, 100]));
    const neck = keep(keep(kernel.Manifold.cube([500, 600, 100], true)).translate([0, 0, -42]));
    const grown = take(ellipsoid(middle, [half[0] + 3.5, half[1] + 3.5, half[2] + 3.5], 90, 128));
    const outside = keep(
      kernel.Manifold.union([
        take(skull),
        take(beak(0, -80, 232)),
        ...rings.map((r) => keep(r.intersect(grown))),
        ...[-1, 1].flatMap((x) => [take(lip(x)), take(brow(x))]),
        take(plume(0, 46, 170)),
        take(plume(9, 30, 140)),
        take(plume(-9, 30, 140)),
        ...feathers.map(take),
      ]),
    );
    const holes = keep(kernel.Manifold.union([inner, innerBeak, ...eyes, slot, ...nostrils, back, neck]));
    return largestShell(fromSolid(keep(outside.subtract(holes))));
  });
}

/** The newt door-knocker, 96 mm long, with the loose supports that it came with. */
export function newtWithSupports(fineness = 1): TriMesh {
  const { sweep } = shapesAt(fineness);
  const spine = (s: number): Vec3 => {
    const a = -0.5 + 4.4 * s;
    return [30 * Math.cos(a) * (1 - 0.25 * s), 38 * Math.sin(a) * (1 - 0.2 * s), 26 + 6 * Math.sin(3 * s)];
  };
  const body = sweep(
    spine,
    (s, a) => {
      const r = s < 0.12 ? 5 + 3.2 * Math.sin((s / 0.12) * 1.6) : 7.6 * (1 - 0.82 * ((s - 0.12) / 0.88)) + 0.9;
      // warts in staggered rows along the back and flanks, smooth below
      const row = Math.floor(s * 84);
      const wart = Math.max(0, Math.sin(s * 84 * Math.PI)) ** 2 * Math.max(0, Math.cos(9 * a + Math.PI * row)) ** 2;
      const skin = s < 0.1 ? 1 : 1 + 0.1 * wart * Math.max(0, 0.35 + Math.sin(a));
      return [r * skin, 0.8 * r * skin];
    },
    420,
    108,
    [0, 0, 1],
  );
  const leg = (s: number, way: number): TriMesh => {
    const p = spine(s);
    return sweep(
      (q) => [p[0] + way * p[0] * 0.42 * q, p[1] + way * p[1] * 0.42 * q, p[2] - 6 * q * q],
      (q) => [2.6 - 1.1 * q, 2.4 - 1 * q],
      12,
      16,
      [0, 0, 1],
    );
  };
  const supports: TriMesh[] = [];
  for (let i = 0; i < 9; i++) {
    const p = spine(0.06 + 0.1 * i);
    const z = p[2] - (i < 2 ? 5.2 : 4.6 * (1 - 0.08 * i));
    supports.push(
      sweep(
        (q) => [p[0], p[1], 0.8 + (z - 0.8) * q],
        (q) => (q < 0.85 ? [0.75, 0.75] : [0.75 - 4.2 * (q - 0.85), 0.75 - 4.2 * (q - 0.85)]),
        20,
        12,
        [0, 1, 0],
      ),
    );
  }
  const raft = sweep(
    (q) => [0, 0, q * 1],
    () => [46, 46],
    1,
    48,
    [0, 1, 0],
  );
  return concatMeshes([body, leg(0.2, 1), leg(0.2, -1), leg(0.42, 1), leg(0.42, -1), raft, ...supports]);
}

/** Fineness of all files where less of everything is wanted: for slow machines and tests. */
export const lightFineness = 0.45;

/** Fineness of the ammonite where less of everything is wanted: more is done with it than with the others. */
const coarse = 0.32;

/**
 * The four files of Harrow Fen, each in another format, the same bytes every time.
 *
 * @param fineness 1, or less for meshes of fewer triangles
 */
export async function harrowFenFiles(fineness = 1): Promise<{
  ammonite: DemoFile;
  carnyx: DemoFile;
  /** and where the lowest corner of its mesh was before it was written, as a 3MF lies, in the positive octant */
  heron: DemoFile & { from: Vec3 };
  newt: DemoFile;
}> {
  const mask = await heronMask(fineness);
  return {
    ammonite: { name: 'ammonite-cast.ply', bytes: writePly(await ammoniteScan(fineness < 1 ? coarse : 1)) },
    carnyx: { name: 'carnyx-kit.obj', bytes: writeObj(carnyxKit(fineness)) },
    heron: {
      name: 'heron-mask.3mf',
      bytes: writeThreeMf([{ name: 'heron mask', mesh: mask }]),
      from: boundsOf(mask).min,
    },
    newt: { name: 'newt-knocker.stl', bytes: writeBinaryStl(newtWithSupports(fineness)) },
  };
}
