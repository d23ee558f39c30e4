import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { quietContext } from '@jasmorphe/core/run/context';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { areaOf, volumeOf } from '@jasmorphe/core/mesh/measures';
import { selfIntersections } from '@jasmorphe/core/mesh/selfIntersections';
import { windingOf, WindingTree } from '@jasmorphe/core/mesh/WindingTree';
import { thicknessOf } from '@jasmorphe/core/mesh/thickness';
import { deviationOf } from '@jasmorphe/core/mesh/deviation';
import { boundsOf, concatMeshes, flipMesh, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { scaleMesh } from '@jasmorphe/core/mesh/transform';
import { weldExact, weldSoup, weldWithin } from '@jasmorphe/core/mesh/weld';
import { Bvh, newHit } from '@jasmorphe/core/mesh/Bvh';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { sweepLayers } from '@jasmorphe/core/section/layers';
import { loadKernel } from '@jasmorphe/core/solid/kernel';
import { box, moved, sphere, torus, without } from './solids.ts';

const require = createRequire(import.meta.url);

describe('measures against closed forms', () => {
  it('a box: 2(ab + bc + ca) and abc', async () => {
    const mesh = await box(3, 5, 7);
    expect(areaOf(mesh)).closeTo(2 * (15 + 35 + 21), 1e-9);
    expect(volumeOf(mesh)).closeTo(105, 1e-9);
  });

  it('a regular tetrahedron of edge 1: sqrt(3) and 1 / (6 sqrt 2)', () => {
    const h = Math.sqrt(3) / 2;
    const mesh: TriMesh = {
      positions: Float32Array.from([0, 0, 0, 1, 0, 0, 0.5, h, 0, 0.5, h / 3, Math.sqrt(2 / 3)]),
      triangles: Uint32Array.from([0, 2, 1, 0, 1, 3, 1, 2, 3, 2, 0, 3]),
    };
    expect(areaOf(mesh)).closeTo(Math.sqrt(3), 1e-6);
    expect(volumeOf(mesh)).closeTo(1 / (6 * Math.SQRT2), 1e-7);
  });

  it('a fine sphere: 4 pi r2 and 4/3 pi r3 from below', async () => {
    const mesh = await sphere(10, 256);
    expect(areaOf(mesh)).within(0.9993 * 400 * Math.PI, 400 * Math.PI);
    expect(volumeOf(mesh)).within((0.9993 * 4000 * Math.PI) / 3, (4000 * Math.PI) / 3);
  });

  it('a torus: 4 pi2 Rr and 2 pi2 R r2', () => {
    const mesh = torus(20, 6, 300, 200);
    expect(areaOf(mesh) / (4 * Math.PI ** 2 * 20 * 6)).closeTo(1, 5e-4);
    expect(volumeOf(mesh) / (2 * Math.PI ** 2 * 20 * 36)).closeTo(1, 5e-4);
  });

  it('volume far from the origin keeps its digits', async () => {
    expect(volumeOf(moved(await box(10, 10, 10), 8192, 8192, 8192))).closeTo(1000, 1e-6);
  });

  it('a mesh turned inside out has the negative volume', async () => {
    const mesh = await box(2, 2, 2);
    expect(volumeOf(flipMesh(mesh))).closeTo(-8, 1e-12);
  });
});

describe('inspect', () => {
  it('agrees with the solid kernel on volume and area of a scan (rabbit of the package bunny)', async () => {
    const bunny = require('bunny') as { positions: number[][]; cells: number[][] };
    const mesh = weldExact({
      positions: Float32Array.from(bunny.positions.flat()),
      triangles: Uint32Array.from(bunny.cells.flat()),
    });
    const found = inspectMesh(mesh);
    expect(found.triangles).equal(bunny.cells.length);
    const kernel = await loadKernel();
    const solid = new kernel.Manifold(
      new kernel.Mesh({ numProp: 3, vertProperties: mesh.positions, triVerts: mesh.triangles }),
    );
    expect(solid.status()).equal('NoError');
    expect(found.openEdges).equal(0);
    expect(found.volumeMm3! / solid.volume()).closeTo(1, 1e-5);
    expect(found.areaMm2 / solid.surfaceArea()).closeTo(1, 1e-5);
  });

  it('counts the open scan of stl-models as an edge census by plain counting does', () => {
    // the census below uses nothing of ours: edges as text in a Map
    const { mesh } = readMesh(readFileSync(require.resolve('stl-models/objects/bunny.bin.stl')));
    const census = new Map<string, number>();
    const t = mesh.triangles;
    for (let i = 0; i < t.length; i += 3)
      for (let k = 0; k < 3; k++) {
        const a = t[i + k];
        const b = t[i + ((k + 1) % 3)];
        const key = a < b ? `${a}_${b}` : `${b}_${a}`;
        census.set(key, (census.get(key) ?? 0) + 1);
      }
    const open = [...census.values()].filter((n) => n === 1).length;
    const found = inspectMesh(mesh);
    expect(found.triangles).equal(69451);
    expect(found.openEdges).equal(open).equal(223);
    // five holes: stated of this scan from memory; the Euler number agrees: V - E + F = 2 - 5 for genus 0
    expect(found.openLoops).equal(5);
    expect(found.vertices - census.size + found.triangles).equal(2 - 5);
    expect(found.watertight).equal(false);
    expect(found.volumeMm3).equal(null);
  });

  it('finds each kind of defect once', async () => {
    const cube = await box(10, 10, 10);
    const open = inspectMesh(without(cube, new Set([0])));
    expect([open.openEdges, open.openLoops]).eql([3, 1]);
    const doubled = inspectMesh({
      positions: cube.positions,
      triangles: Uint32Array.from([...cube.triangles, ...cube.triangles.slice(0, 3)]),
    });
    expect([doubled.duplicateTriangles, doubled.nonManifoldEdges]).eql([1, 3]);
    const turned = { positions: cube.positions, triangles: cube.triangles.slice() };
    [turned.triangles[1], turned.triangles[2]] = [turned.triangles[2], turned.triangles[1]];
    expect(inspectMesh(turned).inconsistentEdges).equal(3);
    const corner = inspectMesh(concatMeshes([cube, moved(cube, 10, 10, 10)]));
    expect([corner.shells, corner.nonManifoldVertices, corner.nonManifoldEdges]).eql([2, 1, 0]);
    const edge = inspectMesh(concatMeshes([cube, moved(cube, 10, 10, 0)]));
    expect(edge.nonManifoldEdges).equal(1);
    expect(inspectMesh(flipMesh(cube)).findings.map((f) => f.kind)).contains('inside-out');
  });

  it('tells a cavity from a second body', async () => {
    const hollow = inspectMesh(concatMeshes([await box(10, 10, 10), flipMesh(moved(await box(4, 4, 4), 3, 3, 3))]));
    expect(hollow.shells).equal(2);
    expect(hollow.findings.map((f) => f.kind)).not.contains('shells');
    expect(hollow.volumeMm3).closeTo(1000 - 64, 1e-6);
  });

  it('counts crossings as a slow exact check of every pair does', async () => {
    const { trianglesMeet } = await import('@jasmorphe/core/mesh/triangleMeet');
    const mesh = concatMeshes([
      await sphere(5, 16),
      moved(await sphere(5, 12), 3, 1, 0.5),
      moved(await box(4, 4, 4), -1, -1, 2),
    ]);
    const n = mesh.triangles.length / 3;
    let slow = 0;
    for (let s = 0; s < n; s++) for (let t = s + 1; t < n; t++) if (trianglesMeet(mesh, s, t)) slow++;
    expect(slow).greaterThan(20);
    expect(selfIntersections(mesh).count).equal(slow);
  });

  it('sees neighbours that fold back, and passes those that do not', () => {
    const flat = (z: number): TriMesh => ({
      positions: Float32Array.from([0, 0, 0, 10, 0, 0, 5, 8, 0, 5, 6, z]),
      triangles: Uint32Array.from([0, 1, 2, 1, 0, 3]),
    });
    expect(selfIntersections(flat(0)).count).equal(1);
    expect(selfIntersections(flat(1e-6)).count).equal(0);
    const fan = (x: number): TriMesh => ({
      positions: Float32Array.from([0, 0, 0, 10, 0, 0, 10, 10, 0, x, 4, 0, x, 6, 0]),
      triangles: Uint32Array.from([0, 1, 2, 0, 3, 4]),
    });
    expect(selfIntersections(fan(6)).count).equal(1);
    expect(selfIntersections(fan(-6)).count).equal(0);
  });
});

describe('welding', () => {
  it('joins equal corners and nothing else; minus zero is zero', () => {
    const soup = Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 0, 0, 1, 1, 0, -0, 1, 0]);
    const mesh = weldSoup(soup);
    expect(mesh.positions.length / 3).equal(4);
    expect([...mesh.triangles]).eql([0, 1, 2, 1, 3, 2]);
  });

  it('within a tolerance keeps the first point bit for bit', () => {
    const mesh = {
      positions: Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 1.0005, 0, 0, 1, 1, 0]),
      triangles: Uint32Array.from([0, 1, 2, 3, 4, 2]),
    };
    const { mesh: joined, joined: count } = weldWithin(mesh, 0.001);
    expect(count).equal(1);
    expect(inspectMesh(joined).openEdges).equal(4);
    expect([...joined.positions])
      .contains(1)
      .not.contains(Math.fround(1.0005));
    expect(weldWithin(mesh, 0.0001).joined).equal(0);
  });

  it('joins many random points as a set of texts does', () => {
    const random = randomFrom(7);
    const soup = Float32Array.from({ length: 9 * 30_000 }, () => Math.floor(random() * 40) / 8);
    const texts = new Set<string>();
    for (let i = 0; i < soup.length; i += 3) texts.add(`${soup[i]},${soup[i + 1]},${soup[i + 2]}`);
    expect(weldSoup(soup.slice()).positions.length / 3).equal(texts.size);
  });
});

describe('trees', () => {
  it('nearest point is that of a search through all triangles', async () => {
    const mesh = torus(20, 6, 40, 24);
    const tree = new Bvh(mesh);
    const random = randomFrom(3);
    const all = Array.from({ length: mesh.triangles.length / 3 }, (_, t) => new Bvh(mesh, Uint32Array.of(t)));
    for (let i = 0; i < 40; i++) {
      const [x, y, z] = [60 * random() - 30, 60 * random() - 30, 20 * random() - 10];
      const slow = Math.min(...all.map((one) => one.nearest(x, y, z, Infinity, newHit()).distance));
      expect(tree.nearest(x, y, z, Infinity, newHit()).distance).closeTo(slow, 1e-9);
      // closed form for the smooth torus, less the facets
      const smooth = Math.abs(Math.hypot(Math.hypot(x, y) - 20, z) - 6);
      expect(slow).closeTo(smooth, 0.25);
    }
  });

  it('winding number is 1 inside, 0 outside, 1/2 in the plane of a half-open box', async () => {
    const tree = windingOf(await sphere(10, 48));
    expect(tree.at(0, 0, 0)).closeTo(1, 0.02);
    expect(tree.at(30, 0, 0)).closeTo(0, 0.02);
    // it knows no unit: a body of some nanometres, and one as large as a planet's orbit
    for (const f of [1e-9, 1e12]) {
      const scaled = windingOf(scaleMesh(await sphere(10, 48), [f, f, f]));
      expect(scaled.at(2 * f, f, 3 * f)).closeTo(tree.at(2, 1, 3), 1e-4);
      expect(scaled.at(30 * f, f, 3 * f)).closeTo(0, 0.02);
    }
    const cup = windingOf(without(await box(10, 10, 10), topOf(await box(10, 10, 10))));
    // in the middle of the missing face of a cube the rest is seen under half a sphere (closed form)
    expect(cup.at(5, 5, 10)).closeTo(0.5, 0.02);
  });

  it('winding numbers of a torn scan are those of all its triangles, one by one (Van Oosterom and Strackee 1983)', () => {
    const { positions, cells } = require('bunny') as { positions: number[][]; cells: number[][] };
    const random = randomFrom(9);
    const torn: TriMesh = {
      positions: Float32Array.from(positions.flat()),
      triangles: Uint32Array.from(cells.filter(() => random() > 0.2).flat()),
    };
    const { positions: p, triangles } = torn;
    const { min, max } = boundsOf(torn);
    const [exact, quick] = [new WindingTree(new Bvh(torn), 1e6), windingOf(torn)];
    let squares = 0;
    for (let i = 0; i < 100; i++) {
      const q = [0, 1, 2].map((k) => min[k] + random() * (max[k] - min[k])) as [number, number, number];
      let sum = 0;
      for (let h = 0; h < triangles.length; h += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => q.map((x, i) => p[3 * triangles[h + k] + i] - x));
        const dot = (u: number[], v: number[]) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2];
        const [la, lb, lc] = [a, b, c].map((v) => Math.hypot(...v));
        const turn = dot(a, [b[1] * c[2] - b[2] * c[1], b[2] * c[0] - b[0] * c[2], b[0] * c[1] - b[1] * c[0]]);
        sum += 2 * Math.atan2(turn, la * lb * lc + dot(a, b) * lc + dot(b, c) * la + dot(c, a) * lb);
      }
      // angles multiplied as complex numbers lose no turn
      expect(exact.at(...q)).closeTo(sum / (4 * Math.PI), 1e-9);
      const off = quick.at(...q) - sum / (4 * Math.PI);
      expect(Math.abs(off)).most(0.02);
      squares += off * off;
    }
    expect(Math.sqrt(squares / 100)).most(0.005);
  });
});

function topOf(mesh: TriMesh): Set<number> {
  const top = new Set<number>();
  for (let t = 0; t < mesh.triangles.length / 3; t++)
    if ([0, 1, 2].every((k) => mesh.positions[3 * mesh.triangles[3 * t + k] + 2] === 10)) top.add(t);
  return top;
}

describe('sections', () => {
  it('layers of a cylinder: areas, perimeters and no island', async () => {
    const kernel = await loadKernel();
    const { fromSolid } = await import('@jasmorphe/core/solid/kernel');
    const mesh = fromSolid(kernel.Manifold.cylinder(20, 10, 10, 256));
    const report = sweepLayers(mesh, 0.2);
    expect(report.layers).equal(100);
    expect(report.totalAreaMm2 / (100 * Math.PI * 100)).closeTo(1, 2e-4);
    expect(report.totalPerimeterMm / (100 * 2 * Math.PI * 10)).closeTo(1, 1e-4);
    expect(report.islands).eql([]);
  });

  it('area of all layers times their height is the volume (Cavalieri), in any direction', async () => {
    const mesh = torus(20, 6, 120, 60);
    for (const up of [
      [0, 0, 1],
      [1, 0, 0],
      [1, 2, 3],
    ] as [number, number, number][]) {
      const report = sweepLayers(mesh, 0.05, up);
      expect((report.totalAreaMm2 * 0.05) / volumeOf(mesh)).closeTo(1, 2e-3);
    }
  });

  it('a table has no island; a hook that hangs down starts one in mid-air', async () => {
    const kernel = await loadKernel();
    const { fromSolid } = await import('@jasmorphe/core/solid/kernel');
    const legs = [
      [0, 0],
      [18, 0],
      [0, 18],
      [18, 18],
    ].map(([x, y]) => kernel.Manifold.cube([2, 2, 11]).translate([x, y, 0]));
    const table = fromSolid(kernel.Manifold.union([kernel.Manifold.cube([20, 20, 2]).translate([0, 0, 10]), ...legs]));
    expect(sweepLayers(table, 0.5).islands).eql([]);
    // a hook: the point hangs lower than where it is joined, so it starts in mid-air
    const hook = fromSolid(
      kernel.Manifold.union([
        kernel.Manifold.cube([2, 2, 20]),
        kernel.Manifold.cube([12, 2, 2]).translate([0, 0, 18]),
        kernel.Manifold.cube([2, 2, 10]).translate([10, 0, 9]),
      ]),
    );
    const { islands } = sweepLayers(hook, 0.5);
    expect(islands.length).equal(1);
    expect(islands[0].zMm).closeTo(9.25, 1e-6);
    expect(islands[0].areaMm2).closeTo(4, 1e-6);
  });

  it('a tube has the area of a ring', async () => {
    const kernel = await loadKernel();
    const { fromSolid } = await import('@jasmorphe/core/solid/kernel');
    const tube = fromSolid(kernel.Manifold.cylinder(10, 10, 10, 128).subtract(kernel.Manifold.cylinder(10, 6, 6, 128)));
    expect(sweepLayers(tube, 1).maxAreaMm2 / (Math.PI * (100 - 36))).closeTo(1, 1e-3);
  });
});

describe('thickness and deviation', () => {
  it('a plate is as thick as it is, at every point of its faces', async () => {
    const found = thicknessOf(await box(100, 100, 2), 2.5);
    expect(found.minMm).closeTo(2, 1e-5);
    expect(found.medianMm).closeTo(2, 1e-5);
    // the four edges of 100 x 2 are 800 of 20 800 mm2 and 100 mm through (closed form)
    expect(found.belowMinAreaPct).closeTo((100 * 20000) / 20800, 0.5);
  });

  it('concentric spheres are apart by the difference of their radii', async () => {
    const d = deviationOf(await sphere(10, 128), await sphere(12, 128), 20_000, quietContext);
    expect(d.meanMm).closeTo(2, 0.01);
    expect(d.maxMm).closeTo(2, 0.02);
    expect(d.spacingMm).closeTo(Math.sqrt((4 * Math.PI * 144) / 20_000), 0.01);
  });

  it('scaling by a factor scales area by its square and volume by its cube', async () => {
    const mesh = torus(20, 6, 60, 40);
    const larger = scaleMesh(mesh, [4, 4, 4]);
    expect(areaOf(larger) / areaOf(mesh)).closeTo(16, 1e-4);
    expect(volumeOf(larger) / volumeOf(mesh)).closeTo(64, 1e-3);
  });
});
