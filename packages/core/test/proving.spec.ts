import { expect } from 'chai';
import { makeSimpler } from '@jasmorphe/core/repair/makeSimpler';
import { extractLevel } from '@jasmorphe/core/field/extractLevel';
import { SignedDistance } from '@jasmorphe/core/field/SignedDistance';
import { newHit, treeOf } from '@jasmorphe/core/mesh/Bvh';
import { quietContext } from '@jasmorphe/core/run/context';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { selfIntersections } from '@jasmorphe/core/mesh/selfIntersections';
import { SoundSide } from '@jasmorphe/core/mesh/SoundSide';
import { boundsOf, concatMeshes, subMesh, triangleCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { weldExact } from '@jasmorphe/core/mesh/weld';
import { windingOf } from '@jasmorphe/core/mesh/WindingTree';
import { mend } from '@jasmorphe/core/operations/mend/run';
import { operations } from '@jasmorphe/core/operations/runs';
import { proveSolid } from '@jasmorphe/core/repair/proveSolid';
import { regionsOf, regionsOverlap } from '@jasmorphe/core/section/regions';
import { Slicer } from '@jasmorphe/core/section/Slicer';
import { fromSolid, toSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { box, moved, run, sphere, torus, turned, without } from './solids.ts';

/** A plate, 8 mm thick and `size` mm a side, with n x n round holes through it, by the solid kernel. */
const drilled = (n: number, size = 60, sides = 20): Promise<TriMesh> =>
  withSolids((kernel, keep) => {
    const pitch = size / n;
    const holes = [];
    for (let i = 0; i < n; i++)
      for (let k = 0; k < n; k++)
        holes.push(
          keep(
            keep(kernel.Manifold.cylinder(20, 0.25 * pitch, 0.25 * pitch, sides, true)).translate([
              (i + 0.5) * pitch - size / 2,
              (k + 0.5) * pitch - size / 2,
              0,
            ]),
          ),
        );
    const plate = keep(kernel.Manifold.cube([size, size, 8], true));
    return fromSolid(keep(plate.subtract(keep(kernel.Manifold.union(holes)))));
  });

/** The corners of each triangle, as text that does not depend on which comes first. */
const facesOf = ({ positions: p, triangles }: TriMesh): string[] =>
  Array.from({ length: triangles.length / 3 }, (_, t) =>
    [0, 1, 2]
      .map((k) => [0, 1, 2].map((c) => p[3 * triangles[3 * t + k] + c]).join())
      .sort()
      .join(' '),
  );

describe('inside by what is nearest', () => {
  const points = function* (mesh: TriMesh, n: number, seed: number) {
    const random = randomFrom(seed);
    const { min, max } = boundsOf(mesh);
    for (let i = 0; i < n; i++)
      yield [0, 1, 2].map((k) => min[k] - 1 + random() * (max[k] - min[k] + 2)) as [number, number, number];
  };

  it('agrees with the winding number at every point of sound solids', async () => {
    for (const mesh of [torus(20, 6, 40, 24), turned(await box(10, 20, 30)), await drilled(4)]) {
      const side = new SoundSide(mesh);
      const tree = treeOf(mesh);
      for (const [x, y, z] of points(mesh, 3000, 3)) {
        const hit = tree.nearest(x, y, z, Infinity, newHit());
        if (hit.distance < 1e-4) continue;
        expect(side.inside(x, y, z, hit)).equal(windingOf(mesh).at(x, y, z) > 0.5);
      }
    }
  });

  it('agrees with it where shells overlap, once it knows what crosses', async () => {
    const mesh = concatMeshes([
      await sphere(10, 32),
      moved(await sphere(10, 32), 9, 2, 1),
      moved(await sphere(4, 20), 0, 0, 0),
    ]);
    const distance = new SignedDistance(mesh);
    const crossed = new Uint8Array(triangleCount(mesh));
    for (const t of selfIntersections(mesh).pairs) crossed[t] = 1;
    expect(crossed.includes(1)).equal(true);
    distance.noteCrossed(crossed);
    for (const [x, y, z] of points(mesh, 3000, 4)) {
      if (distance.distance(x, y, z, Infinity) < 1e-3) continue;
      expect(distance.insideByNearest(x, y, z), `${x} ${y} ${z}`).equal(distance.inside(x, y, z));
    }
  });
});

describe('what operations make', () => {
  it('hollowing a drilled plate: sound, the wall as asked, the volume that the level set has', async () => {
    const plate = await drilled(4, 30);
    const { outputs, report } = await run(operations.hollow, plate, { wall: 1 });
    expect(report.proof).include({ sound: true, crossingPairs: 0, tears: 0 });
    expect(isSound(inspectMesh(outputs[0], { brief: true }))).equal(true);
    // a grid of a third of the wall rounds creases off, never by more than a cell
    expect(report.wall.medianMm).closeTo(1, 0.02);
    expect(report.wall.minMm).greaterThan(0.75);
    expect(report.volumeMm3).lessThan(report.solidVolumeMm3);
  });

  it('a level with thousands of slivers comes out simpler, closed and free of crossings', async function () {
    const plate = await drilled(4, 24);
    const distance = new SignedDistance(plate);
    const level = extractLevel(
      {
        distance: (x, y, z, limit) => distance.distance(x, y, z, limit),
        inside: (x, y, z) => distance.insideByNearest(x, y, z),
        depth: 0.8,
        closed: true,
      },
      boundsOf(plate),
      0.35,
      quietContext,
    );
    expect(selfIntersections(level).count).equal(0);
    const simpler = await makeSimpler(level, 0.35 / 24, quietContext);
    const facts = inspectMesh(simpler, { brief: true });
    expect([facts.watertight, facts.selfIntersectingPairs, facts.nonManifoldVertices]).eql([true, 0, 0]);
    expect(triangleCount(simpler)).lessThan(triangleCount(level) / 3);
    expect(volumeOf(simpler) / volumeOf(level)).closeTo(1, 0.005);
  });

  it('a flat shell is no sound solid, and is taken out', async () => {
    const back = {
      positions: Float32Array.of(50, 0, 0, 51, 0, 0, 50, 1, 0),
      triangles: Uint32Array.of(0, 1, 2, 0, 2, 1),
    };
    const mesh = concatMeshes([await box(5, 5, 5), back]);
    const facts = inspectMesh(mesh, { brief: true });
    expect([facts.watertight, facts.flatShells, isSound(facts)]).eql([true, 1, false]);
    const { mesh: clean, proof } = proveSolid(mesh, [], quietContext);
    expect(proof).include({ sound: true, flatShells: 1, mended: true });
    expect(isSound(inspectMesh(clean, { brief: true }))).equal(true);
  });

  it('new triangles that cross are mended, and old ones stay bit for bit', async () => {
    const before = await sphere(10, 40);
    // a corner drawn through the other side of the ball: only its own triangles are new
    const positions = before.positions.slice();
    for (let k = 0; k < 3; k++) positions[k] *= -1.2;
    const { mesh, proof } = proveSolid({ positions, triangles: before.triangles }, [before], quietContext);
    expect(proof).include({ mended: true, sound: true });
    expect(inspectMesh(mesh, { brief: true }).selfIntersectingPairs).equal(0);
    // what bounds winding numbers of one and more: the ball less the pyramid that was drawn through it, as the kernel has it
    const star = Array.from({ length: triangleCount(before) }, (_, t) => t).filter((t) =>
      [0, 1, 2].some((k) => before.triangles[3 * t + k] === 0),
    );
    const pyramid = weldExact(
      concatMeshes([
        subMesh(before, star),
        subMesh(
          { positions, triangles: before.triangles.map((_, i, all) => all[i % 3 === 0 ? i : i + 3 - 2 * (i % 3)]) },
          star,
        ),
      ]),
    );
    const left = await withSolids((kernel, keep) =>
      keep(keep(toSolid(kernel, before)).subtract(keep(toSolid(kernel, pyramid)))).volume(),
    );
    expect(left).lessThan(0.99 * volumeOf(before));
    expect(volumeOf(mesh) / left).closeTo(1, 1e-5);
    expect(proof.volumeChange).closeTo(volumeOf(mesh) / volumeOf({ positions, triangles: before.triangles }) - 1, 1e-6);
  });

  it('two boxes of whole numbers that lie in one plane unite to whole numbers', async () => {
    const a = await box(60, 50, 40);
    for (const [b, volume] of [
      [moved(await box(40, 50, 40), 40, 0, 0), 160_000],
      [moved(await box(40, 30, 60), 40, 10, 10), 174_000],
      [moved(await box(40, 30, 60), 40, 10, 0), 168_000],
    ] as const) {
      const { outputs, report } = await run(mend, concatMeshes([a, b]), {});
      expect(volumeOf(outputs[0])).equal(volume);
      const { min, max } = boundsOf(outputs[0]);
      expect([...min, ...max].every((x) => Number.isInteger(x))).equal(true);
      expect(report.sizeChange).eql({ x: 0, y: 0, z: 0 });
    }
  });
});

describe('boxes that share whole faces', () => {
  const cases = {
    'a row of three': [3, 1, 1],
    'a block of eight': [2, 2, 2],
  };
  for (const [name, [nx, ny, nz]] of Object.entries(cases))
    it(`${name}: one box, to the last digit, and no skin is made anew`, async () => {
      const boxes: TriMesh[] = [];
      for (let i = 0; i < nx; i++)
        for (let j = 0; j < ny; j++)
          for (let k = 0; k < nz; k++) boxes.push(moved(await box(60, 50, 40), 60 * i, 50 * j, 40 * k));
      const soup = concatMeshes(boxes);
      const { outputs, report } = await run(mend, soup, {});
      expect(volumeOf(outputs[0])).equal(boxes.length * 60 * 50 * 40);
      expect([report.method, report.sound, report.after.shells]).eql(['join', true, 1]);
      expect(report.parts).eql([{ method: 'join', shells: boxes.length, triangles: 12 * boxes.length }]);
      // the outside of the faces is theirs, bit for bit; the inside has gone
      const outside = new Set(facesOf(soup));
      expect(facesOf(outputs[0]).every((f) => outside.has(f))).equal(true);
      // turned, so that no coordinate is round: to float32
      const askew = await run(mend, turned(soup), {});
      expect(askew.report.sound).equal(true);
      expect(volumeOf(askew.outputs[0]) / volumeOf(outputs[0])).closeTo(1, 1e-7);
      // the new skin lies on the old one everywhere
      expect(askew.report.deviation.bToA.maxMm).equal(0);
    });
});

describe('patches', () => {
  it('are no deviation of the old skin: their reach and bulge are told apart from it', async () => {
    // a ball that lost a cap of about a third of its height
    const ball = await sphere(20, 64);
    const gone = new Set<number>();
    for (let t = 0; t < triangleCount(ball); t++)
      if ([0, 1, 2].every((k) => ball.positions[3 * ball.triangles[3 * t + k] + 2] > 12)) gone.add(t);
    const open = without(ball, gone);
    const follows = (await run(mend, open, { method: 'stitch' })).report;
    expect(follows.untouchedPct).equal(100);
    expect(follows.deviation.maxMm).lessThan(0.2);
    expect(follows.patches!.farthestMm).greaterThan(1);
    const taut = (await run(mend, open, { method: 'stitch', taut: true })).report;
    expect(Math.abs(taut.patches!.bulgeMm3)).lessThan(0.2 * follows.patches!.bulgeMm3);
    // both close the same rims, so what one bulges more is what it holds more
    const held = (r: typeof follows) => r.after.volumeMm3!;
    expect(held(follows) - held(taut)).closeTo(follows.patches!.bulgeMm3 - taut.patches!.bulgeMm3, 1);
  });
});

describe('a relief that is open below', () => {
  it('keeps every triangle: a large opening over a rim that rises and falls is no reason for a new skin', async () => {
    for (const steep of [0.4, 1, 2]) {
      const n = 9;
      const positions: number[] = [];
      const triangles: number[] = [];
      for (let j = 0; j < n; j++)
        for (let i = 0; i < n; i++) {
          const u = (2 * i) / (n - 1) - 1;
          const v = (2 * j) / (n - 1) - 1;
          positions.push(30 * u, 30 * v, 15 * steep * (2 - u * u - v * v));
        }
      for (let j = 0; j + 1 < n; j++)
        for (let i = 0; i + 1 < n; i++) {
          const a = j * n + i;
          triangles.push(a, a + 1, a + n + 1, a, a + n + 1, a + n);
        }
      const { report } = await run(
        mend,
        { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) },
        {},
      );
      expect([report.method, report.untouchedPct, report.sound, report.deviation.maxMm], `${steep}`).eql([
        'stitch',
        100,
        true,
        0,
      ]);
    }
  });
});

describe('regions of layers', () => {
  it('alike, shifted, within and apart', async () => {
    const of = async (x: number, y: number, w: number, h: number) =>
      regionsOf(new Slicer(moved(await box(w, h, 2), x, y, 0)).at(1))[0];
    const a = await of(0, 0, 10, 10);
    expect(regionsOverlap(a, await of(0, 0, 10, 10))).equal(true);
    expect(regionsOverlap(a, await of(2, 0, 10, 10))).equal(true);
    expect(regionsOverlap(a, await of(4, 4, 2, 2))).equal(true);
    expect(regionsOverlap(await of(-5, 4, 30, 2), a)).equal(true);
    expect(regionsOverlap(a, await of(11, 0, 5, 5))).equal(false);
    const ring = fromSolid(
      await withSolids((k, keep) =>
        keep(k.Manifold.cylinder(2, 20, 20, 64)).subtract(keep(k.Manifold.cylinder(9, 15, 15, 64, true))),
      ),
    );
    const [hoop] = regionsOf(new Slicer(ring).at(1));
    // in the hole of a ring there is nothing under it
    expect(regionsOverlap(hoop, await of(-3, -3, 6, 6))).equal(false);
    expect(regionsOverlap(hoop, await of(12, -2, 6, 4))).equal(true);
  });
});
