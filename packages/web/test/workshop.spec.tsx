import { expect } from 'chai';
import { flipMesh, concatMeshes, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { box, moved, sphere } from '../../core/test/solids.ts';
import { answers, sent } from './dom.tsx';
import { served } from './display.ts';

const { fullMesh } = await import('../src/worker/fullMesh.ts');

const segments = (lines: ArrayLike<number>): number => {
  let sum = 0;
  for (let i = 0; i < lines.length; i += 6)
    sum += Math.hypot(lines[i + 3] - lines[i], lines[i + 4] - lines[i + 1], lines[i + 5] - lines[i + 2]);
  return sum;
};
/** Area of loose triangles. */
const areaOfFace = (p: ArrayLike<number>): number => {
  let sum = 0;
  for (let i = 0; i < p.length; i += 9) {
    const u = [0, 1, 2].map((k) => p[i + 3 + k] - p[i + k]);
    const v = [0, 1, 2].map((k) => p[i + 6 + k] - p[i + k]);
    sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
  }
  return sum;
};

describe('the worker that holds the full mesh', () => {
  it('cuts a box along each axis: area, outline and place are those of the box (closed formulas)', async () => {
    served('box', await box(10, 20, 30));
    for (const [axis, share, area, around, at] of [
      [0, 0.25, 600, 100, 2.5],
      [1, 0.5, 300, 80, 10],
      [2, 0.9, 200, 60, 27],
    ] as const) {
      const cut = await fullMesh().cut('box', axis, share);
      expect(cut.areaMm2).closeTo(area, 1e-3);
      expect(areaOfFace(cut.face)).closeTo(area, 1e-3);
      expect(segments(cut.lines)).closeTo(around, 1e-4);
      expect(cut.at).closeTo(at, 1e-5);
      expect(cut.regions).equal(1);
      for (let i = axis; i < cut.face.length; i += 3) expect(cut.face[i]).closeTo(at, 1e-5);
    }
    // never in a flat end itself
    expect((await fullMesh().cut('box', 2, 0)).areaMm2).closeTo(200, 1e-3);
    expect((await fullMesh().cut('box', 2, 7)).areaMm2).closeTo(200, 1e-3);
  });

  it('a cut through a hollow body has a hole; through two bodies two regions', async () => {
    const shell = concatMeshes([await box(10, 10, 10), flipMesh(moved(await box(6, 6, 6), 2, 2, 2))]);
    served('shell', shell);
    const cut = await fullMesh().cut('shell', 2, 0.5);
    expect([cut.areaMm2, areaOfFace(cut.face)].map((x) => Math.round(x * 1000) / 1000)).eql([64, 64]);
    expect(cut.regions).equal(1);
    served('two', concatMeshes([await box(4, 4, 4), moved(await box(4, 4, 4), 10, 0, 0)]));
    const both = await fullMesh().cut('two', 2, 0.5);
    expect([both.regions, Math.round(both.areaMm2)]).eql([2, 32]);
  });

  it('a mesh is fetched once as long as it is asked about, and one that is not there is told', async () => {
    served('once', await box(1, 2, 3));
    expect(await fullMesh().load('once')).eql({ triangles: 12 });
    expect(sent.filter((s) => s.path === '/api/meshes/once').length).equal(1);
    answers.set('GET /api/meshes/gone-with-the-rest', { error: { code: 'not-found', message: 'gone', hint: '' } });
    const said = await fullMesh()
      .load('gone-with-the-rest')
      .then(
        () => '',
        (error: Error) => error.message,
      );
    expect(said).equal('mesh gone-wit cannot be loaded');
    // the one before answers as before
    expect((await fullMesh().cut('once', 2, 0.5)).areaMm2).closeTo(2, 1e-5);
  });

  it('every question is answered of the mesh that it names, though others are asked about meanwhile', async () => {
    for (const n of [1, 2, 3]) served(`of${n}`, await box(n, n, 10));
    const asked = [1, 2, 3, 1, 3, 2].map((n) => [n, fullMesh().cut(`of${n}`, 2, 0.5)] as const);
    for (const [n, answer] of asked) expect((await answer).areaMm2).closeTo(n * n, 1e-4);
    // more than are kept at a time: those let go of are fetched again
    for (const n of [4, 5, 6, 7, 8]) served(`of${n}`, await box(n, n, 10));
    for (const n of [4, 5, 6, 7, 8, 1, 2])
      expect((await fullMesh().profile(`of${n}`, 2, 3))[1].areaMm2).closeTo(n * n, 1e-4);
    // one that failed to come is asked for again
    answers.set('GET /api/meshes/late', { error: { code: 'not-found', message: 'gone', hint: '' } });
    await fullMesh()
      .load('late')
      .catch(() => undefined);
    served('late', await box(2, 2, 2));
    expect(await fullMesh().load('late')).eql({ triangles: 12 });
  });

  it('distances to a skin are those to the box, inside and outside, with their mean and largest', async () => {
    served('far', await box(10, 10, 10));
    const points = Float32Array.from([5, 5, 12, 5, 5, 9, -3, -4, 5, 5, 5, 5]);
    const { distances, maxMm, meanMm, p99Mm } = await fullMesh().distances(points, 'far');
    [2, 1, 5, 5].forEach((d, i) => expect(distances[i]).closeTo(d, 1e-5));
    expect([maxMm, meanMm, p99Mm]).eql([5, 3.25, 5]);
    expect((await fullMesh().distances(new Float32Array(0), 'far')).meanMm).equal(0);
  });

  it('measures on the full mesh what was picked beside it; what cannot be measured is said', async () => {
    served('measured', await box(10, 20, 30));
    const measure = (kind: 'points' | 'axis' | 'circle' | 'girth', points: Vec3[], axis: 0 | 1 | 2 = 2) =>
      fullMesh().measure('measured', kind, points, axis);
    // picked a little off the skin, as on a mesh that was thinned out for drawing
    expect((await measure('points', [[-0.2, 10, 15], [10.3, 10, 15]])).lengthMm).closeTo(10, 1e-5); // oxfmt-ignore
    expect((await measure('axis', [[0, 0, 0], [10, 20, 30]], 1)).lengthMm).closeTo(20, 1e-5); // oxfmt-ignore
    expect((await measure('girth', [[0, 10, 15]])).lengthMm).closeTo(60, 1e-3);
    const said = await measure('circle', [
      [0, 0, 0],
      [0, 0, 10],
      [0, 0, 20],
    ]).then(
      // oxfmt-ignore
      () => '',
      (error: Error) => error.message,
    );
    expect(said).match(/^The three points stand in a line, so /);
  });

  it('walls of a plate are as thick as it is, under points of any skin drawn of it; behind an open sheet there is none', async () => {
    served('plate', await box(40, 30, 2));
    const under = await fullMesh().thickness('plate', Float32Array.from([10, 10, 2, 25, 12, 0, 30, 20, 2.1]));
    for (const t of under) expect(t).closeTo(2, 0.02);
    const sheet: TriMesh = {
      positions: Float32Array.from([0, 0, 0, 10, 0, 0, 0, 10, 0]),
      triangles: Uint32Array.from([0, 1, 2]),
    };
    served('sheet', sheet);
    expect(Array.from(await fullMesh().thickness('sheet', Float32Array.from([2, 2, 0])))).eql([Infinity]);
  });

  it('room between a ball and the hollow one around it: R - r, more where the piece is scaled', async () => {
    const { Manifold } = await loadKernel();
    const around = fromSolid(Manifold.sphere(30, 96).subtract(Manifold.sphere(24, 96)));
    served('around', around);
    const ball = await sphere(20, 48);
    served('ball', ball);
    const at = { moveMm: [0, 0, 0], turnDeg: [0, 0, 0] } as const;
    const points = ball.positions.slice(0, 300);
    const ask = (factor: number) => fullMesh().clearance('around', 'ball', at as never, factor, points);
    for (const room of await ask(1)) expect(room).closeTo(4, 0.1);
    for (const room of await ask(1.1)) expect(room).closeTo(6.4, 0.1);
    // far from any inside there is nothing to say
    const far = await fullMesh().clearance('around', 'ball', at as never, 1, Float32Array.from([900, 0, 0]));
    expect(Number.isNaN(far[0])).equal(true);
  });

  it('areas along a cone fall with the square of what is left of its height', async () => {
    const { Manifold } = await loadKernel();
    served('cone', fromSolid(Manifold.cylinder(40, 10, 0.0001, 256)));
    const profile = await fullMesh().profile('cone', 2, 20);
    expect(profile.length).equal(20);
    for (const { at, areaMm2 } of profile)
      expect(areaMm2).closeTo(Math.PI * 100 * (1 - at / 40) ** 2, 0.01 * Math.PI * 100);
    expect(profile[0].at).closeTo(1, 1e-5);
  });

  it('a flat that begins over air is an underside; a box is mirrored in three planes', async () => {
    const { Manifold } = await loadKernel();
    // a table top of 30 x 30 x 5 on a leg of 10 x 10 x 20
    const table = Manifold.cube([10, 10, 20])
      .translate([10, 10, 0])
      .add(Manifold.cube([30, 30, 5]).translate([0, 0, 20]));
    served('table', fromSolid(table));
    const [flat] = await fullMesh().undersides('table', 2);
    expect(flat.at).closeTo(20, 1e-4);
    // of the top 30 x 30 less the leg's 10 x 10, down to the bed
    expect(flat.supportMm3 / (800 * 20)).closeTo(1, 0.02);
    served('brick', await box(10, 20, 30));
    const mirrors = await fullMesh().mirrors('brick');
    for (const [k, at] of [5, 10, 15].entries())
      expect(
        mirrors.some((m) => Math.abs(m.normal[k]) > 0.9999 && Math.abs(m.offset * m.normal[k] - at) < 0.01),
        'xyz'[k],
      ).equal(true);
  });

  it('the seam of a cut runs round the box once; the rims of a drum are creases of 2 pi r', async () => {
    served('seamed', await box(10, 20, 30));
    const [seam] = await fullMesh().seams('seamed', [{ normal: [0, 0, 1], offset: 15 }]);
    expect(segments(seam)).closeTo(60, 1e-3);
    const { Manifold } = await loadKernel();
    served('drum', fromSolid(Manifold.cylinder(20, 10, 10, 128)));
    const creases = await fullMesh().creases('drum');
    expect(creases.length).equal(2);
    for (const c of creases) expect(c.lengthMm).closeTo(2 * Math.PI * 10, 0.1);
  });
});
