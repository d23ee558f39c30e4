import { expect } from 'chai';
import { areaD, type PathsD } from 'clipper2-ts';
import type { DrawnView } from '@jasmorphe/core/operations/drawing/describe';
import { drawing } from '@jasmorphe/core/operations/drawing/run';
import { concatMeshes, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { placeMesh } from '@jasmorphe/core/mesh/transform';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { mapLayout, mapSvg } from '@jasmorphe/core/operations/divide/mapSvg';
import { adviceOf } from '@jasmorphe/core/planning/advice';
import { drawnApart } from '@jasmorphe/core/planning/cuts/planPicture';
import { quietContext } from '@jasmorphe/core/run/context';
import { dropKernel, loadKernel } from '@jasmorphe/core/solid/kernel';
import { box, sphere } from './solids.ts';

const viewsOf = async (mesh: TriMesh, params: object = {}): Promise<Record<DrawnView['name'], DrawnView>> => {
  const { report } = await drawing.run([mesh], parseParams(drawing.params, params), quietContext);
  return Object.fromEntries(report.views.map((v) => [v.name, v])) as Record<DrawnView['name'], DrawnView>;
};
const areaOf = (rings: number[][]): number => {
  const paths: PathsD = rings.map((r) =>
    Array.from({ length: r.length / 2 }, (_, i) => ({ x: r[2 * i], y: r[2 * i + 1] })),
  );
  return Math.abs(paths.reduce((n, p) => n + areaD(p), 0));
};
const identity = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
] as never;

describe('drawings in lines', () => {
  it('of a box: its faces, and of twelve edges the nine that a corner shows', async () => {
    const { front, top, corner } = await viewsOf(await box(40, 30, 20));
    expect([front.wideMm, front.highMm, top.wideMm, top.highMm].map((x) => Number(x.toFixed(4)))).eql([40, 20, 40, 30]);
    expect(areaOf(front.outline)).closeTo(800, 1);
    expect(areaOf(top.outline)).closeTo(1200, 1);
    expect(corner.creases.length).equal(9);
    // a convex body projects to the sum of its faces that are seen, each by how it leans
    const d = [0.5, 0.78, 0.42].map((x) => x / Math.hypot(0.5, 0.78, 0.42));
    expect(areaOf(corner.outline)).closeTo(600 * d[0] + 800 * d[1] + 1200 * d[2], 4);
  });

  it('of a ball: a round outline, no sharp edge, and level lines on the near side alone', async () => {
    const { front, corner } = await viewsOf(await sphere(20, 128), { levels: 10 });
    expect(areaOf(front.outline)).closeTo(Math.PI * 400, 5);
    expect(front.creases).eql([]);
    expect(corner.levels.length).least(10);
    const long = corner.levels.reduce((n, l) => {
      let sum = 0;
      for (let i = 2; i < l.length; i += 2) sum += Math.hypot(l[i] - l[i - 2], l[i + 1] - l[i - 1]);
      return n + sum;
    }, 0);
    expect(long).above(100);
  });

  it('what stands behind is hidden; holes stay holes', async () => {
    const small = placeMesh(await box(10, 10, 10), identity, [15, 40, 5]);
    const alone = await viewsOf(await box(40, 30, 20));
    const both = await viewsOf(concatMeshes([await box(40, 30, 20), small]));
    expect(both.front.creases.length, 'nothing of the small one is seen from the front').equal(
      alone.front.creases.length,
    );
    expect(both.top.outline.length).equal(2);
    expect(areaOf(both.top.outline)).closeTo(1300, 1);
    const frame = await viewsOf(
      concatMeshes(
        await Promise.all([
          box(40, 5, 5),
          box(40, 5, 5).then((m) => placeMesh(m, identity, [0, 35, 0])),
          box(5, 30, 5).then((m) => placeMesh(m, identity, [0, 5, 0])),
          box(5, 30, 5).then((m) => placeMesh(m, identity, [35, 5, 0])),
        ]),
      ),
    );
    expect(areaOf(frame.top.outline)).closeTo(1600 - 900, 2);
  });

  it('turned as it lies', async () => {
    const rotation = [
      [1, 0, 0],
      [0, 0, -1],
      [0, 1, 0],
    ];
    const { front } = await viewsOf(await box(40, 30, 20), { rotation });
    expect([front.wideMm, front.highMm].map((x) => Number(x.toFixed(4)))).eql([40, 30]);
  });
});

describe('advice before a print (common practice)', () => {
  const part = { kind: 'filament' as const, size: { x: 100, y: 80, z: 60 }, footMm2: 5000, supportMm3: 0, joints: 0 };
  const texts = (change: object) => adviceOf({ ...part, ...change }).map((a) => a.text);
  it('is given where it applies, each with its reason', () => {
    expect(texts({})).eql([]);
    expect(texts({ size: { x: 20, y: 20, z: 200 }, footMm2: 400 })[0]).equal(
      'Brim of about 8 mm, slower, and lift the nozzle 1 mm while travelling.',
    );
    expect(texts({ size: { x: 220, y: 20, z: 20 } })).eql(['Brim of about 8 mm.']);
    expect(texts({ joints: 2 })).eql(['10 layers next to each joint: 3 to 4 walls, 30 to 40 % infill.']);
    expect(texts({ supportMm3: 500 })[0]).match(/^Support: 0\.20 mm above it and 0\.35 mm beside it, 3 dense layers/);
    expect(texts({ kind: 'resin', supportMm3: 500, joints: 3 })).eql([]);
    expect(texts({ kind: 'resin', size: { x: 20, y: 20, z: 200 }, footMm2: 100 })).eql([
      'Raft, 30 mm beyond the part.',
    ]);
    for (const a of adviceOf({ ...part, joints: 1, supportMm3: 9 })) expect(a.reason.length).above(10);
  });
});

describe('the part map', () => {
  it('draws a crumb that is smaller than its lines, and tags what is drawn with finite figures', async () => {
    const kernel = await loadKernel();
    const solid = kernel.Manifold.cube([100, 60, 40]).add(kernel.Manifold.cube([0.2, 0.2, 0.2]).translate([120, 0, 0]));
    const bodies = solid.decompose().map((one) => ({ solid: one, node: { parent: null, side: 0 } }));
    const drawn = drawnApart((x) => x, bodies, []);
    expect(drawn.parts.map((p) => p.rings.length)).eql([1, 1]);
    // of one that was divided off before, nothing was drawn
    const kept = {
      ...drawn,
      parts: [...drawn.parts.map(({ rings }, i) => ({ tag: `A${i + 1}`, rings })), { tag: 'B1', rings: [] }],
    };
    const { parts } = mapLayout(kept);
    expect(parts.map((p) => p.tag)).eql(['A1', 'A2']);
    for (const { middle, place } of parts)
      for (const x of [middle.x, middle.y, ...place!]) expect(x).satisfy(Number.isFinite);
    expect(mapSvg(kept)).not.match(/NaN|Infinity/);
  });
});

describe('the solid kernel', () => {
  it('is let go with its memory, and there again for whoever needs it next', async () => {
    const before = await loadKernel();
    dropKernel();
    const after = await loadKernel();
    expect(after).not.equal(before);
    expect((await box(2, 3, 4)).triangles.length / 3).equal(12);
  });
});
