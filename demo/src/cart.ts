import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { concatMeshes, subMesh, triangleCount, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { ellipsoid, sweep } from './shapes.ts';

/** A closed box from corner to corner. */
function box([x0, y0, z0]: Vec3, [x1, y1, z1]: Vec3): TriMesh {
  const positions = Float32Array.from([
    ...[x0, y0, z0, x1, y0, z0, x1, y1, z0, x0, y1, z0],
    ...[x0, y0, z1, x1, y0, z1, x1, y1, z1, x0, y1, z1],
  ]);
  const triangles = Uint32Array.from([
    ...[0, 2, 1, 0, 3, 2, 4, 5, 6, 4, 6, 7, 0, 1, 5, 0, 5, 4],
    ...[1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7],
  ]);
  return { positions, triangles };
}

/** A round bar between two points. */
const bar = (from: Vec3, to: Vec3, radius: number, reference: Vec3 = [0.3, 0.2, 1]): TriMesh =>
  sweep(
    (s) => [0, 1, 2].map((k) => from[k] + s * (to[k] - from[k])) as unknown as Vec3,
    () => [radius, radius],
    4,
    24,
    reference,
  );

/** A spoked wheel that stands on the ground about an axle along y. */
function wheel(): TriMesh {
  const radius = 26;
  const rim = sweep(
    (s) => {
      // a hair short of the whole turn, where its two ends meet
      const a = 2 * Math.PI * (0.0005 + 0.999 * s);
      return [radius * Math.cos(a), 0, radius * Math.sin(a)];
    },
    () => [3, 3.5],
    72,
    16,
    [0, 1, 0],
  );
  const spokes = Array.from({ length: 8 }, (_, i) => {
    const a = (Math.PI * i) / 4 + 0.1;
    return bar([5 * Math.cos(a), 0, 5 * Math.sin(a)], [25 * Math.cos(a), 0, 25 * Math.sin(a)], 1.4, [0, 1, 0]);
  });
  return concatMeshes([rim, bar([0, -6, 0], [0, 6, 0], 6), ...spokes]);
}

/** A lantern: a lit one has its flame showing above the glass. */
function lantern(lit: boolean): TriMesh {
  const at: Vec3 = [150, 0, 118];
  const parts = [
    ellipsoid(at, [9, 9, 14], 20, 28),
    bar([at[0], at[1], at[2] - 17], [at[0], at[1], at[2] - 11], 7),
    bar([at[0], at[1], at[2] + 11], [at[0], at[1], at[2] + 16], 5),
  ];
  if (lit) parts.push(ellipsoid([at[0], at[1], at[2] + 15.5], [2.5, 2.5, 4], 12, 16));
  return concatMeshes(parts);
}

const moved = ({ positions, triangles }: TriMesh, by: Vec3): TriMesh => ({
  positions: positions.map((x, i) => x + by[i % 3]),
  triangles,
});

/** A file of the cart's kit. */
export interface CartFile {
  path: string;
  bytes: Uint8Array;
}

/**
 * The hand cart of the procession as a kit: files that share one frame, wheels from one file, two forms of the lantern,
 * one shell with a hole, and a note.
 */
export function cartKit(): CartFile[] {
  const tray = concatMeshes([box([0, -35, 40], [150, 35, 46])]);
  const rail = (y: number): TriMesh =>
    concatMeshes([
      bar([6, y, 45], [6, y, 74], 2.2),
      bar([75, y, 45], [75, y, 74], 2.2),
      bar([144, y, 45], [144, y, 74], 2.2),
      bar([2, y, 74], [148, y, 74], 2.4),
      bar([2, y, 60], [148, y, 60], 1.8),
    ]);
  const bundle = ellipsoid([60, 0, 62], [38, 24, 17], 26, 36);
  // the reeds were modelled in a hurry: some of their skin is missing
  const torn = subMesh(
    bundle,
    Array.from({ length: triangleCount(bundle) }, (_, t) => t).filter((t) => t < 400 || t >= 422),
  );
  const meshes: [string, TriMesh][] = [
    ['cart/tray.stl', tray],
    ['cart/rail_left.stl', rail(33)],
    ['cart/rail_right.stl', rail(-33)],
    ['cart/axle_front.stl', bar([125, -44, 26], [125, 44, 26], 3)],
    ['cart/axle_rear.stl', bar([28, -44, 26], [28, 44, 26], 3)],
    ['cart/wheel.stl', moved(wheel(), [28, -46, 26])],
    ['cart/drawbar.stl', concatMeshes([bar([148, 0, 43], [235, 0, 58], 3), bar([235, -18, 58], [235, 18, 58], 2.6)])],
    ['cart/reeds.stl', torn],
    ['cart/post.stl', bar([150, 0, 43], [150, 0, 104], 3.4)],
    ['cart/lantern_lit.stl', lantern(true)],
    ['cart/lantern_dark.stl', lantern(false)],
    ['cart/newt.stl', ellipsoid([100, 8, 84], [16, 5, 4], 24, 24)],
  ];
  const note = 'Four wheels from one file. The axles turn freely in the tray: leave 0.6 mm.';
  return [
    ...meshes.map(([path, mesh]) => ({ path, bytes: writeBinaryStl(mesh) })),
    { path: 'cart/READ ME.txt', bytes: new TextEncoder().encode(note) },
  ];
}
