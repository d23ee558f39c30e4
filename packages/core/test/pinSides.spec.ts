import { expect } from 'chai';
import fc from 'fast-check';
import { pinSides, type SharedFace } from '@jasmorphe/core/operations/divide/joins/pinSides';
import { operations } from '@jasmorphe/core/operations/runs';
import { run, sphere } from './solids.ts';

/** Shared faces of a grid of parts. @param areas a share of 0 to 1 for each part, from the smallest face to the largest */
function gridFaces([nx, ny, nz]: readonly number[], areas: readonly number[]): SharedFace[] {
  const shared: SharedFace[] = [];
  const part = (x: number, y: number, z: number) => x + nx * (y + ny * z);
  for (let z = 0; z < nz; z++)
    for (let y = 0; y < ny; y++)
      for (let x = 0; x < nx; x++) {
        const areaMm2 = 100 + 900 * areas[part(x, y, z)];
        if (x + 1 < nx) shared.push({ cut: x, below: part(x, y, z), above: part(x + 1, y, z), areaMm2 });
        if (y + 1 < ny) shared.push({ cut: 10 + y, below: part(x, y, z), above: part(x, y + 1, z), areaMm2 });
        if (z + 1 < nz) shared.push({ cut: 20 + z, below: part(x, y, z), above: part(x, y, z + 1), areaMm2 });
      }
  return shared;
}

/** Parts with a cut face on which they carry no pin. */
function clear(shared: readonly SharedFace[], above: readonly boolean[]): number {
  const faces = new Map<string, boolean>();
  shared.forEach(({ cut, below, above: top }, i) => {
    for (const part of [below, top]) {
      const pinned = (above[i] ? top : below) === part;
      const key = `${part} ${cut}`;
      faces.set(key, (faces.get(key) ?? true) && !pinned);
    }
  });
  return new Set([...faces].filter(([, free]) => free).map(([key]) => key.split(' ')[0])).size;
}

describe('which side of a cut carries the pins', () => {
  // every one of the 2^n ways, n up to 12
  for (const size of [
    [2, 1, 1],
    [4, 1, 1],
    [2, 2, 1],
    [3, 2, 1],
    [2, 2, 2],
    [3, 3, 1],
  ])
    it(`${size.join(' x ')} parts: as many keep a face to lie on as the best of all ways has`, () => {
      const most = (shared: SharedFace[]): number => {
        let best = 0;
        for (let bits = 0; bits < 2 ** shared.length; bits++)
          best = Math.max(
            best,
            clear(
              shared,
              shared.map((_, i) => ((bits >> i) & 1) === 1),
            ),
          );
        return best;
      };
      const parts = size[0] * size[1] * size[2];
      // areas decide which of the best ways is taken, and not how good it is
      const best = most(gridFaces(size, Array<number>(parts).fill(0.5)));
      const shares = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: parts, maxLength: parts });
      fc.assert(
        fc.property(shares, (areas) => {
          const shared = gridFaces(size, areas);
          expect(clear(shared, pinSides(shared))).equal(best);
        }),
      );
    });

  it('a ball cut into octants: each lies on a whole cut face but for its holes, half as high as the ball', async () => {
    const ball = await sphere(100, 64);
    const { report } = await run(operations.divide, ball, { bed: [150, 150, 150], join: 'pin' });
    expect(report.parts.length).equal(8);
    // a quarter of a disc, less the two holes of at most 6.4 mm
    const quarter = (Math.PI * 100 ** 2) / 4;
    for (const { tag, footMm2, heightMm } of report.parts) {
      expect(footMm2, tag).within(0.99 * (quarter - 2 * Math.PI * 3.2 ** 2), quarter);
      expect(heightMm, tag).closeTo(100, 0.01);
    }
    const roles = report.parts.flatMap((p) => p.joins);
    expect(roles.filter((j) => j.role === 'pin').length).equal(roles.filter((j) => j.role === 'hole').length);
  });
});
