import { expect } from 'chai';
import fc from 'fast-check';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { boundsOf, sizeOf, triangleCount, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { operations } from '@jasmorphe/core/operations/runs';
import { box, codeOf, moved, run, sphere } from './solids.ts';

const middle = (mesh: TriMesh): number[] => {
  const { min, max } = boundsOf(mesh);
  return [0, 1, 2].map((k) => (min[k] + max[k]) / 2);
};
const near = (a: readonly number[], b: readonly number[], within = 1e-4) =>
  a.forEach((x, k) => expect(x, `${a.join()} against ${b.join()}`).closeTo(b[k], within));

describe('move', () => {
  it('a quarter turn about an axis exchanges the two others, and the middle stays', async () => {
    const mesh = moved(await box(10, 20, 30), 5, 6, 7);
    for (const [turn, size] of [
      [
        [90, 0, 0],
        [10, 30, 20],
      ],
      [
        [0, 90, 0],
        [30, 20, 10],
      ],
      [
        [0, 0, 90],
        [20, 10, 30],
      ],
      // about x first, then about z: what was y is up, and what was x lies along y
      [
        [90, 0, 90],
        [30, 10, 20],
      ],
    ] as const) {
      const { outputs, report } = await run(operations.move, mesh, { turn: [...turn] });
      near(sizeOf(boundsOf(outputs[0])), size);
      near(middle(outputs[0]), middle(mesh));
      expect(report.movedMm).closeTo(0, 1e-4);
    }
  });

  it('keeps every length between corners, whatever it is asked for; triangles stay as they are', async () => {
    const mesh = await sphere(20, 24);
    const p = mesh.positions;
    const corner = fc.nat(p.length / 3 - 1);
    const triple = (most: number) => {
      const one = fc.double({ min: -most, max: most, noNaN: true });
      return fc.tuple(one, one, one);
    };
    await fc.assert(
      fc.asyncProperty(
        triple(720),
        triple(300),
        fc.boolean(),
        fc.array(fc.tuple(corner, corner), { minLength: 50, maxLength: 50 }),
        async (turn, by, onBed, pairs) => {
          const { outputs } = await run(operations.move, mesh, { turn, by, onBed });
          const q = outputs[0].positions;
          expect(outputs[0].triangles).eql(mesh.triangles);
          for (const [a, b] of pairs) {
            const far = (x: Float32Array) => Math.hypot(...[0, 1, 2].map((k) => x[3 * a + k] - x[3 * b + k]));
            expect(far(q)).closeTo(far(p), 2e-4);
          }
          expect(volumeOf(outputs[0]) / volumeOf(mesh)).closeTo(1, 1e-5);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('lays the face down that the point is on: each of a box, with the area that it has', async () => {
    const mesh = (await run(operations.move, await box(10, 20, 30), { turn: [33, 21, 77] })).outputs[0];
    // the middle of a face is the mean of its corners: two triangles each, as the solid kernel makes boxes
    const p = mesh.positions;
    const heights: number[] = [];
    for (let t = 0; t < triangleCount(mesh); t++) {
      const at = [0, 1, 2].map((k) => [0, 1, 2].reduce((s, c) => s + p[3 * mesh.triangles[3 * t + c] + k], 0) / 3);
      const { outputs, report } = await run(operations.move, mesh, { face: at as unknown as Vec3, onBed: true });
      const { min } = boundsOf(outputs[0]);
      const { z } = report.size;
      expect(min[2]).closeTo(0, 1e-4);
      near(middle(outputs[0]).slice(0, 2), [0, 0]);
      // a box of 6000 mm3 that lies on a face is as high as the other sides say
      expect(report.faceAreaMm2! * z).closeTo(6000, 0.05);
      heights.push(Math.round(z));
    }
    expect([10, 20, 30].map((h) => heights.filter((x) => x === h).length)).eql([4, 4, 4]);
  });

  it('shifts by what is asked, after it was set on the bed; and asked for nothing gives the same mesh', async () => {
    const mesh = moved(await box(4, 4, 4), 100, 100, 100);
    const { report } = await run(operations.move, mesh, { onBed: true, by: [1, 2, 3] });
    near(Object.values(report.min), [-1, 0, 3]);
    expect((await run(operations.move, mesh, {})).outputs[0]).equal(mesh);
  });

  it('refuses what leads nowhere: a kilometre away, no point, words', async () => {
    const mesh = await box(1, 1, 1);
    const wrong = [{ by: [2e6, 0, 0] }, { face: [1, 2] }, { turn: ['a', 0, 0] }, { by: [Infinity, 0, 0] }, { to: 3 }];
    const codes = await Promise.all(wrong.map((params) => codeOf(() => run(operations.move, mesh, params))));
    expect(codes).eql(Array(5).fill('bad-params'));
  });
});
