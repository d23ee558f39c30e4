import { expect } from 'chai';
import fc from 'fast-check';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { insideRegion, regionsOf, regionsOverlap, type Region } from '@jasmorphe/core/section/regions';
import { Slicer } from '@jasmorphe/core/section/Slicer';
import { sweepLayers } from '@jasmorphe/core/section/layers';
import { fromSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { concatMeshes, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { box, moved, sphere, torus, turned, without } from './solids.ts';

/** Sections of random flat shapes: polygons around a middle, some with a hole, pushed up into prisms by the solid kernel. */
async function shapes(count: number, seed: number): Promise<Region[]> {
  const random = randomFrom(seed);
  const out: Region[] = [];
  for (let i = 0; i < count; i++) {
    const n = 3 + Math.floor(random() * 9);
    const [x, y, r] = [10 * random(), 10 * random(), 1 + 5 * random()];
    const ring = (size: number): [number, number][] =>
      Array.from({ length: n }, (_, k) => {
        const a = (2 * Math.PI * (k + 0.8 * random())) / n;
        const q = size * (0.5 + 0.5 * random());
        return [x + q * Math.cos(a), y + q * Math.sin(a)];
      });
    const outer = ring(r);
    const inner = random() < 0.4 ? ring(0.3 * r) : null;
    const mesh = await withSolids((kernel, keep) => {
      const flat = keep(new kernel.CrossSection([outer], 'Positive'));
      const cut = inner ? keep(flat.subtract(keep(new kernel.CrossSection([inner], 'Positive')))) : flat;
      return fromSolid(keep(cut.extrude(2)));
    });
    out.push(...regionsOf(new Slicer(mesh).at(1)));
  }
  return out;
}

describe('layers', () => {
  it('two regions overlap when points spread over both say so, and never otherwise', async () => {
    let both = 0;
    const once = async (seed: number) => {
      const list = await shapes(26, seed);
      for (let i = 0; i < list.length; i++)
        for (let j = 0; j < i; j++) {
          const [a, b] = [list[i], list[j]];
          // the area of the common part by points on a grid; nothing is said of touches narrower than its step
          let hits = 0;
          const step = 0.12;
          for (let x = Math.max(a.box[0], b.box[0]); x < Math.min(a.box[2], b.box[2]); x += step)
            for (let y = Math.max(a.box[1], b.box[1]); y < Math.min(a.box[3], b.box[3]); y += step)
              if (insideRegion(a, x, y) && insideRegion(b, x, y)) hits++;
          const says = regionsOverlap(a, b);
          expect(regionsOverlap(b, a)).equal(says);
          if (hits > 0) expect(says, `${i} ${j}: ${hits} points in both`).equal(true);
          if (!says) expect(hits, `${i} ${j}`).equal(0);
          if (hits > 0) both++;
        }
    };
    await fc.assert(fc.asyncProperty(fc.nat(), once), { numRuns: 3, seed: 8 });
    expect(both).greaterThan(100);
  }).timeout(60_000);

  it('a sweep gives the sections that single cuts give, whatever the mesh and the heights', async () => {
    const ball = await sphere(10, 24);
    const list: TriMesh[] = [
      torus(12, 4, 30, 18),
      turned(await box(10, 20, 30)),
      concatMeshes([ball, moved(ball, 5, 0, 3)]),
      // open: chains end at the rim
      without(ball, new Set([3, 4, 50, 51, 52])),
    ];
    const random = randomFrom(2);
    for (const mesh of list) {
      const slicer = new Slicer(mesh);
      const heights = Float64Array.from({ length: 40 }, () => -16 + 40 * random()).sort();
      let called = 0;
      slicer.sweep(heights, (section, i) => {
        const alone = new Slicer(mesh).at(heights[i]);
        expect(section.z).equal(heights[i]);
        expect(section.contours.length).equal(alone.contours.length);
        expect(section.areaMm2).closeTo(alone.areaMm2, 1e-9);
        expect(section.perimeterMm).closeTo(alone.perimeterMm, 1e-9);
        called++;
      });
      expect(called).equal(40);
    }
  });

  it('layers of a ball have the areas and lengths of circles', async () => {
    const { maxAreaMm2, totalAreaMm2, totalPerimeterMm, layers, islands } = sweepLayers(await sphere(10, 180), 0.1);
    expect([layers, islands.length]).eql([200, 0]);
    expect(maxAreaMm2 / (Math.PI * 100)).closeTo(1, 1e-3);
    // the sum of circles times the layer is the ball's volume, 4/3 pi r^3
    expect((totalAreaMm2 * 0.1) / ((4 / 3) * Math.PI * 1000)).closeTo(1, 1e-3);
    // the circles' lengths times the layer: integral of 2 pi sqrt(r^2 - z^2) = pi^2 r^2
    expect((totalPerimeterMm * 0.1) / (Math.PI ** 2 * 100)).closeTo(1, 2e-3);
  });

  it('contours keep their boxes and their signs: outer curves turn to the left, holes to the right', async () => {
    const ring = torus(12, 4, 60, 40);
    const { contours } = new Slicer(ring).at(0.5);
    expect(contours.length).equal(2);
    const [outer, hole] = contours.sort((a, b) => b.areaMm2 - a.areaMm2);
    expect([outer.areaMm2 > 0, hole.areaMm2 < 0]).eql([true, true]);
    for (const c of contours)
      for (let i = 0; i < c.points.length; i += 2) {
        expect(c.points[i]).within(c.box[0], c.box[2]);
        expect(c.points[i + 1]).within(c.box[1], c.box[3]);
      }
    // half widths of the ring at that height: 12 +- sqrt(16 - 0.25)
    expect(outer.box[2]).closeTo(12 + Math.sqrt(15.75), 0.03);
    expect(hole.box[2]).closeTo(12 - Math.sqrt(15.75), 0.03);
  });
});
