import { writeObj } from '@jasmorphe/core/formats/obj';
import { writePly } from '@jasmorphe/core/formats/ply';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { writeThreeMf } from '@jasmorphe/core/formats/threeMf';
import { largestShell } from '@jasmorphe/core/mesh/shells';
import { concatMeshes, flipMesh, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { scaleMesh } from '@jasmorphe/core/mesh/transform';
import { scanStandIn } from '@jasmorphe/core/operations/scan/standIn';
import { fromSolid, toSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { ellipsoid, sweep, turn } from './shapes.ts';

/** A mesh file of the demo, as a maker would have it on disk. */
export interface DemoFile {
  name: string;
  bytes: Uint8Array;
}

/** The ammonite before scanning: a ribbed tube wound in a spiral, 42 mm across, its whorls united. */
export async function cleanAmmonite(): Promise<TriMesh> {
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
          const rib = 1 + 0.055 * Math.sin(2 * Math.PI * turns * t * 11) * (0.6 + 0.4 * Math.cos(a));
          return [0.37 * r * rib, 0.33 * r * rib];
        },
        46,
        52,
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
export async function ammoniteScan(): Promise<TriMesh> {
  return scanStandIn(await cleanAmmonite(), {
    seed: 42,
    noiseMm: 0.09,
    holes: 9,
    holeMm: 1.1,
    islands: 16,
    ground: true,
    seenFrom: 0,
    thinMm: 0,
    flips: 0,
  });
}

/** The carnyx: a boar-headed war horn, fifteen shells that overlap, one of them inside out; 1.75 high, in metres. */
export function carnyxKit(): TriMesh {
  const tube = sweep(
    (s) => (s < 0.12 ? [0.5 * (0.12 - s), 0, 0.02] : [0, 0, 0.02 + 1.55 * ((s - 0.12) / 0.88)]) as Vec3,
    (s) => [0.022 + 0.034 * s * s, 0.022 + 0.034 * s * s],
    60,
    32,
    [0, 1, 0],
  );
  const skull = ellipsoid([0.06, 0, 1.6], [0.17, 0.1, 0.13]);
  const snout = sweep(
    (s) => [0.12 + 0.3 * s, 0, 1.6 - 0.05 * s],
    (s) => [0.1 - 0.035 * s, 0.085 - 0.03 * s],
    18,
    36,
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
  const crest = Array.from({ length: 5 }, (_, i) => {
    const x = -0.075 + 0.045 * i;
    return ellipsoid([x, 0, 1.66 + 0.02 * Math.sin(i)], [0.032, 0.009, 0.068 + 0.012 * Math.sin(1.3 * i)], 14, 18);
  });
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

/** The heron mask: a shell 2.4 mm thick with a beak, eye openings and an open back. */
export async function heronMask(): Promise<TriMesh> {
  const outer = ellipsoid([0, 0, 100], [84, 108, 122], 44, 64);
  const beak = sweep(
    (s) => [0, -80 - 210 * s, 92 - 26 * s - 20 * s * s],
    (s) => [34 * (1 - 0.93 * s), 30 * (1 - 0.93 * s)],
    30,
    40,
    [0, 0, 1],
  );
  const crest = sweep(
    (s) => [0, 40 + 120 * s, 190 + 26 * s - 60 * s * s],
    (s) => [7 * (1 - 0.9 * s), 10 * (1 - 0.9 * s)],
    20,
    20,
    [0, 0, 1],
  );
  const grown = 2.4;
  return withSolids((kernel, keep) => {
    const take = (m: TriMesh) => keep(toSolid(kernel, m));
    const inner = take(ellipsoid([0, 0, 100], [84 - grown, 108 - grown, 122 - grown], 44, 64));
    const innerBeak = take(
      sweep(
        (s) => [0, -70 - 190 * s, 92 - 24 * s - 18 * s * s],
        (s) => [(34 - grown) * (1 - 0.93 * s), (30 - grown) * (1 - 0.93 * s)],
        30,
        40,
        [0, 0, 1],
      ),
    );
    const eyes = [-34, 34].map((x) =>
      keep(keep(keep(kernel.Manifold.cylinder(120, 13, 15, 32)).rotate([90, 0, 0])).translate([x, -40, 122])),
    );
    const back = keep(keep(kernel.Manifold.cube([400, 300, 500], true)).translate([0, 170, 100]));
    const neck = keep(keep(kernel.Manifold.cube([400, 400, 100], true)).translate([0, 0, -20]));
    const skin = keep(kernel.Manifold.union([take(outer), take(beak)]));
    const hollow = keep(kernel.Manifold.union([inner, innerBeak, ...eyes]));
    const cut = keep(keep(keep(skin.subtract(hollow)).subtract(neck)).subtract(back));
    return fromSolid(keep(cut.add(keep(take(crest).subtract(keep(kernel.Manifold.union([back, hollow])))))));
  });
}

/** The newt door-knocker, 96 mm long, with the loose supports that it came with. */
export function newtWithSupports(): TriMesh {
  const spine = (s: number): Vec3 => {
    const a = -0.5 + 4.4 * s;
    return [30 * Math.cos(a) * (1 - 0.25 * s), 38 * Math.sin(a) * (1 - 0.2 * s), 26 + 6 * Math.sin(3 * s)];
  };
  const body = sweep(
    spine,
    (s) => {
      const r = s < 0.12 ? 5 + 3.2 * Math.sin((s / 0.12) * 1.6) : 7.6 * (1 - 0.82 * ((s - 0.12) / 0.88)) + 0.9;
      return [r, 0.8 * r];
    },
    120,
    28,
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

/** The four files of Harrow Fen, each in another format, the same bytes every time. */
export async function harrowFenFiles(): Promise<{
  ammonite: DemoFile;
  carnyx: DemoFile;
  heron: DemoFile;
  newt: DemoFile;
}> {
  return {
    ammonite: { name: 'ammonite-cast.ply', bytes: writePly(await ammoniteScan()) },
    carnyx: { name: 'carnyx-kit.obj', bytes: writeObj(carnyxKit()) },
    heron: { name: 'heron-mask.3mf', bytes: writeThreeMf([{ name: 'heron mask', mesh: await heronMask() }]) },
    newt: { name: 'newt-knocker.stl', bytes: writeBinaryStl(newtWithSupports()) },
  };
}
