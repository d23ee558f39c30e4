import { expect } from 'chai';
import { createRequire } from 'node:module';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import { areaOf, triangleCentre, volumeOf } from '@jasmorphe/core/mesh/measures';
import { findGround } from '@jasmorphe/core/mesh/ground';
import {
  boundsOf,
  concatMeshes,
  flipMesh,
  sizeOf,
  subMesh,
  triangleCount,
  type TriMesh,
} from '@jasmorphe/core/mesh/TriMesh';
import { operations } from '@jasmorphe/core/operations/runs';
import { clipMesh } from '@jasmorphe/core/section/clip';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { box, codeOf, moved, run, sphere, torus, turned } from './solids.ts';

const require = createRequire(import.meta.url);
const { crop, foot, refine, simplify, mirror, practice, mend } = operations;

const rabbit = (): TriMesh => {
  const { positions, cells } = require('bunny') as { positions: number[][]; cells: number[][] };
  return { positions: Float32Array.from(positions.flat()), triangles: Uint32Array.from(cells.flat()) };
};

/** A flat grid of squares of about 1, a little rough, through z = 0. */
function plot(half: number): TriMesh {
  const n = 2 * half;
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= n; j++) positions.push(i - half, j - half, 0.02 * Math.sin(12.9898 * i + 78.233 * j));
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      const a = i * (n + 1) + j;
      triangles.push(a, a + n + 1, a + n + 2, a, a + n + 2, a + 1);
    }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

describe('clipping', () => {
  it('halves of a box have half its area, less the open cut; corners come out alike on both sides', async () => {
    const cube = turned(await box(10, 10, 10));
    const normal = [0.6, 0, 0.8] as const;
    const { min, max } = boundsOf(cube);
    const middle = (normal[0] * (min[0] + max[0]) + normal[2] * (min[2] + max[2])) / 2;
    const above = clipMesh(cube, [...normal], middle).mesh;
    const below = clipMesh(cube, [-normal[0], 0, -normal[2]], -middle).mesh;
    expect(areaOf(above) + areaOf(below)).closeTo(600, 1e-4);
    const whole = inspectMesh(concatMeshes([above, below]));
    expect(whole.openEdges).equal(0);
    expect(whole.volumeMm3).closeTo(1000, 1e-3);
  });

  it('leaves triangles on one side alone, bit for bit, and a mesh on the plane whole', async () => {
    const cube = await box(10, 10, 10);
    expect(triangleCount(clipMesh(cube, [0, 0, 1], 0).mesh)).equal(12);
    expect(triangleCount(clipMesh(cube, [0, 0, 1], 11).mesh)).equal(0);
    expect(Array.from(clipMesh(cube, [1, 0, 0], -1).mesh.positions)).eql(Array.from(cube.positions));
  });
});

describe('crop', () => {
  it('to a box keeps the area inside it: a band of a cylinder, 2 pi r h', async () => {
    const { Manifold } = await loadKernel();
    const cylinder = fromSolid(Manifold.cylinder(30, 10, 10, 360));
    const { outputs, report } = await run(crop, cylinder, { min: [-50, -50, 5], max: [50, 50, 20] });
    expect(areaOf(outputs[0])).closeTo(2 * Math.PI * 10 * 15, 0.2);
    expect(report.size.z).closeTo(15, 1e-5);
  });

  it('finds the ground under a scan and takes it off, keeping the thing above whole', async () => {
    const ball = moved(await sphere(10, 48), 0, 0, 9.5);
    const scene = turned(concatMeshes([ball, plot(30)]));
    const ground = findGround(scene)!;
    expect(Math.abs(ground.offset)).lessThan(0.05);
    expect(ground.flatMm).lessThan(0.05);
    const { outputs, report } = await run(crop, scene, { ground: true, keep: 'largest' });
    expect(report.ground!.areaMm2 / 3600).closeTo(1, 0.1);
    // a sphere cut 0.5 above its lowest point at h = 20 - 0.5 - margin: 2 pi r h
    const cap = areaOf(outputs[0]) / (2 * Math.PI * 10);
    expect(cap).within(19.2, 19.55);
  });

  it('drops strays, by size or by the body picked', async () => {
    const scene = concatMeshes([
      await sphere(10, 32),
      moved(await box(1, 1, 1), 20, 0, 0),
      moved(await box(2, 2, 2), 0, 20, 0),
    ]);
    const largest = await run(crop, scene, { keep: 'largest' });
    expect(largest.report.strays.map((s) => s.triangles)).eql([12, 12]);
    expect(volumeOf(largest.outputs[0])).greaterThan(4000);
    const picked = await run(crop, scene, { keep: 'picked', at: [1, 21, 1] });
    expect(volumeOf(picked.outputs[0])).closeTo(8, 1e-4);
  });

  it('keeps the cavity of the body it keeps', async () => {
    const hollow = concatMeshes([await box(10, 10, 10), flipMesh(moved(await box(4, 4, 4), 3, 3, 3))]);
    const scene = concatMeshes([hollow, moved(await box(1, 1, 1), 20, 0, 0)]);
    const { outputs, report } = await run(crop, scene, { keep: 'largest' });
    expect(volumeOf(outputs[0])).closeTo(1000 - 64, 1e-4);
    expect(report.straysDropped).equal(1);
  });

  it('says so when there is no ground, nothing left, half a box, or half a plane', async () => {
    const ball = await sphere(10, 24);
    expect(await codeOf(() => run(crop, ball, { ground: true }))).equal('no-ground');
    expect(await codeOf(() => run(crop, ball, { min: [50, 50, 50] }))).equal('nothing-left');
    expect(await codeOf(() => run(crop, ball, { offset: 3 }))).equal('bad-params');
    expect(await codeOf(() => run(crop, ball, { min: [0, 1] }))).equal('bad-params');
    expect(await codeOf(() => run(crop, ball, { keep: 'picked' }))).equal('bad-params');
  });

  it('takes a flat base for what it is, part of the model', async () => {
    expect(findGround(await box(10, 10, 10))).equal(null);
    const { Manifold } = await loadKernel();
    expect(findGround(fromSolid(Manifold.cylinder(20, 10, 4, 64)))).equal(null);
  });
});

describe('foot', () => {
  it('the area of contact of a sphere cut at h is pi h (2 r - h), the volume lost pi h2 (3 r - h) / 3', async () => {
    const ball = await sphere(20, 128);
    for (const h of [1, 3]) {
      const { outputs, report } = await run(foot, ball, { height: h });
      expect(report.contactAreaMm2 / (Math.PI * h * (40 - h))).closeTo(1, 0.01);
      expect(report.removedVolumeMm3! / ((Math.PI * h * h * (60 - h)) / 3)).closeTo(1, 0.02);
      expect(isSound(inspectMesh(outputs[0], { brief: true }))).equal(true);
      expect(sizeOf(boundsOf(outputs[0]))[2]).closeTo(40 - h, 1e-3);
    }
    const { report } = await run(foot, ball, {});
    expect(report.contactAreaMm2).closeTo(report.proposed.areaMm2, 0.02 * report.proposed.areaMm2);
    expect(report.heightMm).within(0.5, 4.8);
  });

  it('cuts along any way up, and cuts an open mesh without closing its other holes', async () => {
    const ball = await sphere(20, 64);
    const { outputs } = await run(foot, ball, { height: 2, up: [0, 1, 1] });
    expect(isSound(inspectMesh(outputs[0], { brief: true }))).equal(true);
    const { max } = boundsOf(ball);
    const open = clipMesh(ball, [0, 0, -1], -(max[2] - 8)).mesh;
    const cut = await run(foot, open, { height: 2 });
    expect(inspectMesh(cut.outputs[0], { brief: true }).openLoops).equal(1);
    expect(boundsOf(cut.outputs[0]).min[2]).closeTo(-18, 1e-3);
  });

  it('refuses to cut everything off', async () => {
    expect(await codeOf(async () => run(foot, await box(1, 1, 1), { height: 1 }))).equal('nothing-left');
    expect(await codeOf(async () => run(foot, await box(1, 1, 1), { height: -1 }))).equal('bad-params');
  });
});

describe('refine', () => {
  it('a coarse sphere becomes a fine one: farther from flat, nearer to 4/3 pi r3, old corners kept', async () => {
    const coarse = await sphere(20, 24);
    const { outputs, report } = await run(refine, coarse, { tolerance: 0.02 });
    const exact = (4 / 3) * Math.PI * 8000;
    expect(volumeOf(coarse) / exact).lessThan(0.98);
    expect(volumeOf(outputs[0]) / exact).closeTo(1, 0.003);
    // sagitta of a chord: r (1 - cos(half its angle)); no chord of the coarse sphere subtends more than 15 degrees by much
    expect(report.chordErrorBeforeMm).within(0.1, 20 * (1 - Math.cos((12 * Math.PI) / 180)));
    expect(report.chordErrorAfterMm).lessThan(0.02);
    const corners = new Set(
      Array.from({ length: outputs[0].positions.length / 3 }, (_, v) =>
        outputs[0].positions.slice(3 * v, 3 * v + 3).join(),
      ),
    );
    for (let v = 0; v < coarse.positions.length / 3; v++)
      expect(corners.has(coarse.positions.slice(3 * v, 3 * v + 3).join())).equal(true);
    for (let v = 0; v < outputs[0].positions.length; v += 3)
      expect(Math.hypot(...outputs[0].positions.slice(v, v + 3))).closeTo(20, 0.06);
    expect(isSound(inspectMesh(outputs[0], { brief: true }))).equal(true);
  });

  it('leaves a box as it is, and keeps the rims of a cylinder sharp while its wall grows round', async () => {
    const cube = await box(10, 10, 10);
    const same = await run(refine, cube, { tolerance: 0.001 });
    expect(triangleCount(same.outputs[0])).equal(12);
    const { Manifold } = await loadKernel();
    const prism = fromSolid(Manifold.cylinder(30, 10, 10, 24));
    const { outputs, report } = await run(refine, prism, { tolerance: 0.01 });
    expect(volumeOf(outputs[0]) / (Math.PI * 100 * 30)).closeTo(1, 0.002);
    expect(boundsOf(outputs[0]).max[2]).equal(30);
    expect(report.chordErrorBeforeMm).closeTo(10 * (1 - Math.cos(Math.PI / 24)), 0.01);
    expect(isSound(inspectMesh(outputs[0], { brief: true }))).equal(true);
  });
});

describe('simplify', () => {
  it('takes most of a fine sphere away within the tolerance, still a solid', async () => {
    const ball = await sphere(20, 256);
    const { outputs, report } = await run(simplify, ball, { tolerance: 0.05 });
    expect(report.trianglesAfter).lessThan(report.trianglesBefore / 5);
    expect(report.deviation.maxMm).at.most(0.06);
    expect(report.sound).equal(true);
    expect(volumeOf(outputs[0]) / volumeOf(ball)).closeTo(1, 0.005);
  });

  it('to a number of triangles states the tolerance that takes; both at once are refused', async () => {
    const ball = await sphere(20, 128);
    const { report } = await run(simplify, ball, { triangles: 4000 });
    expect(report.trianglesAfter).within(1500, 6500);
    expect(report.deviation.maxMm).greaterThan(0);
    expect(await codeOf(() => run(simplify, ball, { triangles: 400, tolerance: 1 }))).equal('bad-params');
    expect(await codeOf(() => run(simplify, ball, { triangles: ball.triangles.length / 3 }))).equal('bad-params');
  });

  it('keeps the holes of an open mesh open', () => {
    const half = clipMesh(torus(20, 6, 120, 60), [1, 0, 0], 0).mesh;
    return run(simplify, half, { tolerance: 0.05 }).then(({ outputs }) => {
      expect(inspectMesh(outputs[0], { brief: true }).openLoops).equal(2);
    });
  });
});

describe('mirror', () => {
  it('half a sphere becomes the sphere, its seam welded', async () => {
    const ball = await sphere(20, 64);
    const half = moved(clipMesh(ball, [1, 0, 0], 0).mesh, 5, 1, 2);
    const { outputs, report } = await run(mirror, half, {});
    expect(report.axis).equal('x');
    expect(report.atMm).closeTo(5, 1e-4);
    expect(report.openEdges).equal(0);
    expect(volumeOf(outputs[0]) / volumeOf(ball)).closeTo(1, 1e-4);
    expect(isSound(inspectMesh(outputs[0], { brief: true }))).equal(true);
  });

  it('takes a rough seam within the weld, a closed half with its wall, and the side asked for', async () => {
    const cube = await box(10, 10, 10);
    const wall = await run(mirror, cube, { axis: 'z', at: 10 });
    expect(volumeOf(wall.outputs[0])).closeTo(2000, 1e-6);
    expect(wall.report.openEdges).equal(0);
    const off = await run(mirror, cube, { axis: 'x', at: 4, keep: 'below' });
    expect(volumeOf(off.outputs[0])).closeTo(800, 1e-4);
    const rough = clipMesh(torus(20, 6, 60, 30), [0, 1, 0], 0).mesh;
    const shaken = {
      ...rough,
      positions: rough.positions.map((p, i) => (i % 3 === 1 && p === 0 ? 0.004 * Math.sin(i) : p)),
    };
    const mended = await run(mirror, shaken, { axis: 'y', at: 0, weld: 0.005 });
    expect(mended.report.openEdges).equal(0);
    // 2 pi2 R r2 of the polygon of 60 and 30 corners
    const polygon = ((60 * Math.sin((2 * Math.PI) / 60)) / 2) * ((30 * Math.sin((2 * Math.PI) / 30)) / 2);
    expect(volumeOf(mended.outputs[0]) / (2 * polygon * 20 * 36)).closeTo(1, 0.01);
  });

  it('says so when the seam is not known, or nothing is on that side', async () => {
    expect(await codeOf(async () => run(mirror, await box(1, 1, 1), {}))).equal('no-seam');
    expect(await codeOf(async () => run(mirror, await box(1, 1, 1), { axis: 'x', at: 5, keep: 'above' }))).equal(
      'nothing-left',
    );
  });
});

describe('stand-in scanner', () => {
  it('makes dirtier scans as severity grows, another for another seed, and mending gives the model back', async () => {
    const model = { ...rabbit(), positions: rabbit().positions.map((x) => 10 * x) };
    // of few triangles: its scan has as many whatever it has itself
    const closed = (await run(mend, model, {})).outputs[0];
    const clean = (await run(simplify, closed, { tolerance: 0.6 })).outputs[0];
    // what gives the dirtier back gives the cleaner back
    const severity = 0.7;
    const { outputs } = await run(practice, clean, { severity, seed: 7 });
    const { outputs: mended } = await run(mend, outputs[0], { fillLimit: 1e6 });
    const kept = (await run(crop, mended[0], { keep: 'largest' })).outputs[0];
    expect(isSound(inspectMesh(kept, { brief: true }))).equal(true);
    expect(volumeOf(kept) / volumeOf(clean)).closeTo(1, 0.04 + 0.12 * severity);
    const ball = await sphere(20, 24);
    const scan = (severity: number, seed: number) => run(practice, ball, { severity, seed, occlusion: false });
    const [clear, dirty, other] = [await scan(0.2, 7), await scan(0.7, 7), await scan(0.2, 8)];
    expect(clear.report.after.watertight).equal(false);
    expect(clear.report.after.openEdges).lessThan(dirty.report.after.openEdges);
    // that one seed gives one scan is held with all operations
    expect(triangleCount(other.outputs[0])).not.equal(triangleCount(clear.outputs[0]));
  }).timeout(300_000);

  it('leaves a ground that crop finds at every severity and with any seed, and none when told not to', async () => {
    const ball = moved(await sphere(20, 24), 3, -8, 30);
    // each severity and each seed once
    for (const [severity, seed] of [
      [0.1, 1],
      [0.6, 2],
      [1, 3],
    ]) {
      const { outputs } = await run(practice, ball, { severity, seed, occlusion: false });
      const ground = findGround(outputs[0])!;
      expect(ground, `severity ${severity}, seed ${seed}`).not.equal(null);
      expect(Math.abs(ground.normal[2]), `severity ${severity}, seed ${seed}`).greaterThan(0.998);
      expect(ground.offset / Math.sign(ground.normal[2])).within(8, 10.2);
    }
    const without = await run(practice, ball, { severity: 0.6, ground: false, occlusion: false });
    expect(findGround(without.outputs[0])).equal(null);
  }).timeout(300_000);

  it('does not see the bottom of a deep narrow hole', async () => {
    const { Manifold } = await loadKernel();
    const cup = fromSolid(
      Manifold.cylinder(40, 10, 10, 96).subtract(Manifold.cylinder(40, 3, 3, 64).translate([0, 0, 5])),
    );
    const { outputs } = await run(practice, cup, { severity: 0.2, ground: false });
    const { positions: p } = outputs[0];
    const low: number[] = [];
    for (let t = 0; t < triangleCount(outputs[0]); t++) {
      const c = triangleCentre(outputs[0], t);
      if (Math.abs(Math.hypot(c[0], c[1]) - 3) < 0.5 && c[2] < 25) low.push(t);
    }
    expect(p.length).greaterThan(10_000);
    // the wall of the hole below z = 25 has 2 pi r h
    expect(areaOf(subMesh(outputs[0], low))).lessThan(0.02 * 2 * Math.PI * 3 * 20);
    expect(await codeOf(() => run(practice, subMesh(cup, []), {}))).equal('not-solid');
  });
});
