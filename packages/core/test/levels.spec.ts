import { expect } from 'chai';
import { dualContour } from '@jasmorphe/core/field/dualContour';
import { extractLevel } from '@jasmorphe/core/field/extractLevel';
import { gridPoints, scanConvert } from '@jasmorphe/core/field/scanConvert';
import { SignedDistance } from '@jasmorphe/core/field/SignedDistance';
import { quietContext, type RunContext } from '@jasmorphe/core/run/context';
import { deviationOf } from '@jasmorphe/core/mesh/deviation';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { areaOf, volumeOf } from '@jasmorphe/core/mesh/measures';
import { boundsOf, concatMeshes, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { fromSolid, withSolids, type Kernel } from '@jasmorphe/core/solid/kernel';
import { box, codeOf, moved, sphere, torus, turned, without } from './solids.ts';

/** The body at a distance from a mesh, by the level of its exact distance. */
function parallelTo(mesh: TriMesh, outward: number, cell: number): TriMesh {
  const d = new SignedDistance(mesh);
  const { min, max } = boundsOf(mesh);
  return extractLevel(
    {
      distance: (x, y, z, limit) => d.distance(x, y, z, limit),
      inside: (x, y, z) => d.inside(x, y, z),
      depth: -outward,
      closed: true,
    },
    { min: min.map((x) => x - outward) as never, max: max.map((x) => x + outward) as never },
    cell,
    quietContext,
  );
}

const solidFacts = (mesh: TriMesh) => {
  const f = inspectMesh(mesh, { brief: true });
  return [f.watertight, f.selfIntersectingPairs, f.nonManifoldEdges, f.nonManifoldVertices, f.inconsistentEdges];
};
const sound = [true, 0, 0, 0, 0];
const euler = (mesh: TriMesh) => mesh.positions.length / 3 - mesh.triangles.length / 6;

describe('parallel bodies', () => {
  it('of a box outward by d: V + A d + pi (a + b + c) d2 + 4/3 pi d3 (Steiner 1840)', async () => {
    const [a, b, c] = [14, 10, 7];
    for (const d of [0.7, 2, 4]) {
      const grown = parallelTo(turned(await box(a, b, c)), d, 0.35);
      const exact =
        a * b * c + 2 * (a * b + b * c + c * a) * d + Math.PI * (a + b + c) * d ** 2 + (4 / 3) * Math.PI * d ** 3;
      expect(volumeOf(grown) / exact, String(d)).closeTo(1, 2e-3);
      // and its surface is the derivative of that
      const skin = 2 * (a * b + b * c + c * a) + 2 * Math.PI * (a + b + c) * d + 4 * Math.PI * d ** 2;
      expect(areaOf(grown) / skin, String(d)).closeTo(1, 0.01);
      expect(solidFacts(grown)).eql(sound);
      expect(euler(grown)).equal(2);
    }
  }).timeout(180_000);

  it('of a box inward by d is the box smaller by 2 d each way, corners and all', async () => {
    const shrunk = parallelTo(turned(await box(20, 14, 9)), -2, 0.3);
    // corners are cut off by the grid: what is missing is of the order of a cell squared along the edges
    expect(volumeOf(shrunk) / (16 * 10 * 5)).closeTo(1, 6e-3);
    expect(solidFacts(shrunk)).eql(sound);
  }).timeout(180_000);

  it('of a torus fill its hole where they meet: another genus, found with no word about it', async () => {
    const ring = torus(10, 3, 72, 36);
    expect(euler(ring)).equal(0);
    const thicker = parallelTo(ring, 2, 0.6);
    expect(euler(thicker)).equal(0);
    const filled = parallelTo(ring, 7.4, 0.6);
    expect(euler(filled)).equal(2);
    expect(solidFacts(filled)).eql(sound);
    // Pappus: a ring of radius 5 about one of 10
    expect(volumeOf(thicker) / (2 * Math.PI ** 2 * 10 * 25)).closeTo(1, 0.01);
  }).timeout(180_000);

  it('of two balls far apart are two balls, and none is passed over', async () => {
    const pair = concatMeshes([await sphere(3, 40), moved(await sphere(0.4, 24), 90, -40, 55)]);
    const grown = parallelTo(pair, 0.5, 0.25);
    expect(inspectMesh(grown, { brief: true }).shells).equal(2);
    expect(volumeOf(grown) / ((4 / 3) * Math.PI * (3.5 ** 3 + 0.9 ** 3))).closeTo(1, 0.02);
  }).timeout(180_000);

  it('a wall of sheets: half the least thickness to each side of an open square', async () => {
    // Steiner in the plane: 2 A h + perimeter pi h2 / 2 + 4/3 pi h3 around a flat sheet
    const sheet: TriMesh = {
      positions: Float32Array.from([0, 0, 0, 12, 0, 0, 12, 8, 0, 0, 8, 0]),
      triangles: Uint32Array.from([0, 1, 2, 0, 2, 3]),
    };
    const d = new SignedDistance(turned(sheet));
    const { min, max } = boundsOf(turned(sheet));
    const h = 1;
    const grown = extractLevel(
      { distance: (x, y, z, limit) => d.distance(x, y, z, limit), inside: () => false, depth: -h, closed: true },
      { min: min.map((x) => x - h) as never, max: max.map((x) => x + h) as never },
      0.2,
      quietContext,
    );
    const exact = 2 * 96 * h + (40 * Math.PI * h ** 2) / 2 + (4 / 3) * Math.PI * h ** 3;
    expect(volumeOf(grown) / exact).closeTo(1, 3e-3);
    expect(solidFacts(grown)).eql(sound);
  });
});

describe('dual contouring', () => {
  const contour = (mesh: TriMesh, cell: number, coarsen = 0) =>
    dualContour(scanConvert(mesh, cell, quietContext), mesh, coarsen, quietContext);
  const made = (make: (k: Kernel) => ReturnType<Kernel['Manifold']['sphere']>) =>
    withSolids((kernel, keep) => fromSolid(keep(make(kernel))));

  it('brings flats back as they were; what creases lose falls with the square of the cell', async () => {
    const source = turned(await box(20, 14, 9));
    const lost: number[] = [];
    for (const cell of [1.8, 0.9, 0.45]) {
      const skin = contour(source, cell);
      expect(solidFacts(skin)).eql(sound);
      const d = deviationOf(source, skin, 20_000, quietContext);
      // a crease that passes through a cell without crossing its edges is cut off there, by less than half a cell
      expect(d.maxMm).below(0.5 * cell);
      expect(d.meanMm).below(0.02 * cell);
      lost.push(1 - volumeOf(skin) / (20 * 14 * 9));
    }
    for (const [coarse, fine] of [
      [lost[0], lost[1]],
      [lost[1], lost[2]],
    ])
      expect(coarse / fine).within(3, 5.5);
  }).timeout(180_000);

  it('merges cells of flats, and few where the skin bends', async () => {
    const source = turned(await box(20, 14, 9));
    const [fine, merged] = [contour(source, 0.45), contour(source, 0.45, 0.05)];
    expect(merged.triangles.length).below(0.2 * fine.triangles.length);
    expect(volumeOf(merged) / (20 * 14 * 9)).closeTo(1, 1e-3);
    const ball = await sphere(8, 160);
    const [round, kept] = [contour(ball, 0.5), contour(ball, 0.5, 0.01)];
    expect(kept.triangles.length).above(0.9 * round.triangles.length);
    // planes may lie a twentieth of a cell off, so facets and their own rise together stay below a tenth
    expect(deviationOf(ball, contour(ball, 0.5, 0.05), 20_000, quietContext).maxMm).below(0.1);
  }).timeout(180_000);

  it('keeps a wall that is little thicker than a cell as one wall', async () => {
    // two patches of skin in one cell (Nielson 2004)
    const skin = contour(turned(await box(20, 14, 0.9)), 0.5);
    const facts = inspectMesh(skin, { brief: true });
    expect([facts.watertight, facts.nonManifoldEdges, facts.shells]).eql([true, 0, 1]);
    expect(volumeOf(skin) / (20 * 14 * 0.9)).closeTo(1, 0.01);
  });

  it('a hole, a cavity and a second body are there afterwards as they were before', async () => {
    const source = await made((k) =>
      k.Manifold.cube([20, 20, 20], true)
        .subtract(k.Manifold.cylinder(30, 3, 3, 48, true))
        .subtract(k.Manifold.sphere(2.5, 32).translate([6.5, 6.5, 0]))
        .add(k.Manifold.sphere(3, 32).translate([30, 0, 0])),
    );
    const skin = contour(source, 0.6);
    const facts = inspectMesh(skin, { brief: true });
    expect([facts.watertight, facts.shells]).eql([true, inspectMesh(source, { brief: true }).shells]);
    // one body with a hole through it, and the skins of two balls
    expect(euler(skin)).equal(euler(source));
    expect(volumeOf(skin) / volumeOf(source)).closeTo(1, 2e-3);
  }).timeout(180_000);

  it('closes a body that a face is missing from, by the winding number', async () => {
    const cube = await box(10, 10, 10);
    const open = without(cube, new Set([0]));
    const skin = contour(open, 0.4);
    expect(inspectMesh(skin, { brief: true }).watertight).equal(true);
    expect(volumeOf(skin) / 1000).closeTo(1, 0.06);
  }).timeout(180_000);

  it('inside out or doubled, what is inside stays inside', async () => {
    const ball = await sphere(8, 64);
    const twice = concatMeshes([ball, moved(ball, 0, 0, 3)]);
    const skin = contour(twice, 0.4);
    // two balls of radius 8, their middles 3 apart: less the lens they share (closed form)
    const lens = (Math.PI * (16 - 3) ** 2 * (9 + 12 * 8)) / (12 * 3);
    expect(volumeOf(skin) / (2 * (4 / 3) * Math.PI * 512 - lens)).closeTo(1, 0.01);
    expect(inspectMesh(skin, { brief: true }).shells).equal(1);
  }).timeout(180_000);

  it('says so when a grid would not fit in memory, and stops when it is cancelled', async () => {
    const ball = await sphere(100, 32);
    expect(gridPoints(ball, 0.1)).above(4e8);
    expect(await codeOf(() => scanConvert(ball, 0.1, quietContext))).equal('too-fine');
    let asked = 0;
    const stopping: RunContext = {
      ...quietContext,
      checkCancelled: () => {
        if (++asked > 3) throw Object.assign(new Error('stop'), { code: 'cancelled' });
      },
    };
    expect(await codeOf(() => dualContour(scanConvert(ball, 1.5, stopping), ball, 0, stopping))).equal('cancelled');
  });
});
