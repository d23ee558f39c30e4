import { expect } from 'chai';
import { extractLevel } from '@jasmorphe/core/field/extractLevel';
import type { Field } from '@jasmorphe/core/field/FieldBlock';
import { makeSimpler } from '@jasmorphe/core/repair/makeSimpler';
import { SignedDistance } from '@jasmorphe/core/field/SignedDistance';
import { ByteScanner } from '@jasmorphe/core/formats/ByteScanner';
import { triangulatePolygon } from '@jasmorphe/core/formats/polygon';
import { quietContext } from '@jasmorphe/core/run/context';
import { edgesOf, openLoops, shellsOf, twinsOf } from '@jasmorphe/core/mesh/edges';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { applyMat3, cross, dot, rotationToZ } from '@jasmorphe/core/mesh/transform';
import { trianglesMeet } from '@jasmorphe/core/mesh/triangleMeet';
import { concatMeshes, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { UnionFind } from '@jasmorphe/core/mesh/UnionFind';
import { letters } from '@jasmorphe/core/operations/divide/names';
import { bestLie, cellsFor, gridCuts } from '@jasmorphe/core/planning/cuts/grid';
import { trappedVolume } from '@jasmorphe/core/operations/hollow/trapped';
import { roomOf } from '@jasmorphe/core/planning/room';
import { fillHoles } from '@jasmorphe/core/repair/fillHoles';
import { fillLoop } from '@jasmorphe/core/repair/fillLoop';
import { makeConsistent } from '@jasmorphe/core/repair/orient';
import { separateSheets } from '@jasmorphe/core/repair/separateSheets';
import { settleCrossings } from '@jasmorphe/core/repair/settleCrossings';
import { regionsOf, regionsOverlap } from '@jasmorphe/core/section/regions';
import { cutSegments, measureCut } from '@jasmorphe/core/section/cut';
import { Slicer } from '@jasmorphe/core/section/Slicer';
import { figures } from '@jasmorphe/core/trade/figures';
import { box, codeOf, moved, sphere, torus, without } from './solids.ts';

const area = (p: ArrayLike<number>, [a, b, c]: number[]): number => {
  const u = [0, 1, 2].map((k) => p[3 * b + k] - p[3 * a + k]) as unknown as Vec3;
  const v = [0, 1, 2].map((k) => p[3 * c + k] - p[3 * a + k]) as unknown as Vec3;
  return Math.hypot(...cross(u, v)) / 2;
};

/** Least area over all triangulations of a polygon, by trying every one (Catalan many). */
function leastByTrying(p: ArrayLike<number>, i: number, j: number): number {
  if (j - i < 2) return 0;
  let best = Infinity;
  for (let k = i + 1; k < j; k++)
    best = Math.min(best, leastByTrying(p, i, k) + leastByTrying(p, k, j) + area(p, [i, k, j]));
  return best;
}

describe('hole filling', () => {
  it('finds the least area that trying every triangulation finds', () => {
    const random = randomFrom(4);
    for (let n = 4; n <= 9; n++) {
      const p = Float64Array.from({ length: 3 * n }, (_, i) =>
        i % 3 === 0
          ? Math.cos((2 * Math.PI * i) / 3 / n)
          : i % 3 === 1
            ? Math.sin((2 * Math.PI * (i - 1)) / 3 / n)
            : 0.6 * random(),
      );
      const filled = fillLoop(p, () => false)!;
      expect(filled.length).equal(3 * (n - 2));
      let sum = 0;
      for (let t = 0; t < filled.length; t += 3) sum += area(p, filled.slice(t, t + 3));
      expect(sum).closeTo(leastByTrying(p, 0, n - 1), 1e-9);
    }
  });

  it('keeps clear of chords that are there already', () => {
    const square = Float64Array.from([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0]);
    const other = fillLoop(square, (i, j) => Math.min(i, j) === 0 && Math.max(i, j) === 2)!;
    expect(other.join()).equal('0,1,3,1,2,3');
    expect(fillLoop(square, () => true)).equal(null);
  });

  it('fills a flat ring of 400 corners to its area, and a hole in a box leaves it closed', async () => {
    const n = 400;
    const ring = Float64Array.from({ length: 3 * n }, (_, i) =>
      [Math.cos, Math.sin, () => 0][i % 3]((2 * Math.PI * Math.floor(i / 3)) / n),
    );
    const filled = fillLoop(ring, () => false)!;
    let sum = 0;
    for (let t = 0; t < filled.length; t += 3) sum += area(ring, filled.slice(t, t + 3));
    expect(sum).closeTo((n / 2) * Math.sin((2 * Math.PI) / n), 1e-9);
    const {
      mesh,
      filled: count,
      left,
    } = fillHoles(without(await box(1, 1, 1), new Set([0, 1])), { limitMm: Infinity, follow: true }, quietContext);
    expect([inspectMesh(mesh).watertight, count > 0, left]).eql([true, true, 0]);
    expect(volumeOf(mesh)).closeTo(1, 1e-6);
  });

  it('leaves loops longer than the limit', async () => {
    const { left, filled } = fillHoles(
      without(await box(10, 10, 10), new Set([0])),
      { limitMm: 20, follow: true },
      quietContext,
    );
    expect([left, filled]).eql([1, 0]);
  });
});

describe('edges and sheets', () => {
  it('Euler: V - E + F is 2 for a sphere and 0 for a torus', async () => {
    for (const [mesh, euler] of [
      [await sphere(5, 32), 2],
      [torus(5, 2, 20, 12), 0],
    ] as const)
      expect(mesh.positions.length / 3 - edgesOf(mesh).count + mesh.triangles.length / 3).equal(euler);
  });

  it('twins pair every half-edge of a closed mesh with its opposite', () => {
    const mesh = torus(5, 2, 12, 8);
    const twin = twinsOf(mesh);
    twin.forEach((g, h) => {
      expect(twin[g]).equal(h);
      expect(mesh.triangles[h]).equal(mesh.triangles[g % 3 === 2 ? g - 2 : g + 1]);
    });
  });

  it('walks a boundary within its own fan: two holes that meet in a corner are bounded by one curve', () => {
    // a 4 x 4 board of squares with two squares missing that touch in one corner
    const points: number[] = [];
    for (let y = 0; y < 5; y++) for (let x = 0; x < 5; x++) points.push(x, y, 0);
    const faces: number[] = [];
    for (let y = 0; y < 4; y++)
      for (let x = 0; x < 4; x++) {
        if ((x === 1 && y === 1) || (x === 2 && y === 2)) continue;
        const a = 5 * y + x;
        faces.push(a, a + 1, a + 6, a, a + 6, a + 5);
      }
    const mesh: TriMesh = { positions: Float32Array.from(points), triangles: Uint32Array.from(faces) };
    const loops = openLoops(mesh);
    expect(loops.map((l) => l.length).sort((a, b) => a - b)).eql([8, 16]);
  });

  it('turns neighbours the way most of a patch faces', async () => {
    const cube = await box(1, 1, 1);
    const triangles = cube.triangles.slice();
    for (const t of [2, 5, 9]) [triangles[3 * t], triangles[3 * t + 1]] = [triangles[3 * t + 1], triangles[3 * t]];
    const broken = { positions: cube.positions, triangles };
    const { mesh, turned } = makeConsistent(broken);
    expect(turned).equal(3);
    expect(volumeOf(mesh)).closeTo(1, 1e-9);
  });

  it('parts two boxes along their shared edge, each body staying whole', async () => {
    const both = concatMeshes([await box(1, 1, 1), moved(await box(1, 1, 1), 1, 1, 0)]);
    const { mesh, cutEdges } = separateSheets(inspectable(both), 1e-4);
    const found = inspectMesh(mesh);
    expect([cutEdges, found.nonManifoldEdges, found.shells, found.watertight]).eql([1, 0, 2, true]);
    expect(volumeOf(mesh)).closeTo(2, 1e-3);
  });

  it('shells are what union-find says they are', () => {
    const sets = new UnionFind(6);
    sets.union(0, 3);
    sets.union(3, 5);
    sets.union(1, 2);
    expect([...sets.labels().label]).eql([0, 1, 1, 0, 2, 0]);
    const mesh = concatMeshes([torus(5, 2, 8, 6), moved(torus(5, 2, 8, 6), 50, 0, 0)]);
    expect(shellsOf(mesh).count).equal(2);
  });
});

/** The mesh with equal corners joined, as inspection sees it. */
function inspectable(mesh: TriMesh): TriMesh {
  const ids = new Map<string, number>();
  const positions: number[] = [];
  const triangles = mesh.triangles.map((v) => {
    const p = [...mesh.positions.slice(3 * v, 3 * v + 3)];
    const key = p.join();
    if (!ids.has(key)) {
      ids.set(key, positions.length / 3);
      positions.push(...p);
    }
    return ids.get(key)!;
  });
  return { positions: Float32Array.from(positions), triangles };
}

describe('crossings', () => {
  const pair = (...p: number[]): TriMesh => ({
    positions: Float32Array.from(p),
    triangles: Uint32Array.of(0, 1, 2, 3, 4, 5),
  });
  const base = [0, 0, 0, 4, 0, 0, 0, 4, 0];

  it('of two triangles, in every position', () => {
    const cases: [string, number[], boolean][] = [
      ['pierced', [1, 1, -1, 1, 1, 1, 2, 2, 1], true],
      ['above', [1, 1, 1, 2, 1, 1, 1, 2, 1], false],
      ['crossing the plane beside it', [5, 5, -1, 5, 5, 1, 6, 6, 1], false],
      ['a corner touching the face', [1, 1, 0, 1, 1, 1, 2, 2, 1], true],
      ['a corner touching an edge', [2, 0, 0, 2, -1, 1, 3, -1, 1], true],
      ['in one plane, overlapping', [1, 1, 0, 5, 1, 0, 1, 5, 0], true],
      ['in one plane, inside', [0.5, 0.5, 0, 1, 0.5, 0, 0.5, 1, 0], true],
      ['in one plane, apart', [5, 5, 0, 6, 5, 0, 5, 6, 0], false],
      ['a hair above, by one unit in the last place', [1, 1, 1e-45, 1, 1, 1, 2, 2, 1], false],
    ];
    for (const [name, other, meets] of cases) {
      expect(trianglesMeet(pair(...base, ...other), 0, 1), name).equal(meets);
      expect(trianglesMeet(pair(...other, ...base), 0, 1), `${name}, the other way about`).equal(meets);
    }
  });

  it('are settled by taking out and refilling when they are few', async () => {
    // a corner of a fine sphere pulled through the opposite side of a neighbour
    const mesh = await sphere(10, 48);
    const positions = mesh.positions.slice();
    const [a, b] = [3 * mesh.triangles[0], 3 * mesh.triangles[1]];
    for (let k = 0; k < 3; k++)
      positions[a + k] += 2.5 * (positions[b + k] - positions[a + k]) - 0.06 * positions[a + k];
    const bent = { positions, triangles: mesh.triangles };
    expect(inspectMesh(bent).selfIntersectingPairs).greaterThan(0);
    const settled = settleCrossings(bent, 20, quietContext)!;
    const after = inspectMesh(settled);
    expect([after.selfIntersectingPairs, after.watertight]).eql([0, true]);
    expect(volumeOf(settled) / volumeOf(mesh)).closeTo(1, 0.02);
  });

  it('give up when most of the mesh would go', async () => {
    const tangle = concatMeshes([await box(1, 1, 1), moved(await box(1, 1, 1), 0.3, 0.3, 0.3)]);
    expect(settleCrossings(tangle, 2, quietContext)).equal(null);
  });
});

describe('distance fields', () => {
  const analytic = (f: (x: number, y: number, z: number) => number, depth = 0): Field => ({
    distance: (x, y, z, limit) => Math.min(limit, Math.abs(f(x, y, z))),
    inside: (x, y, z) => f(x, y, z) > 0,
    depth,
    closed: true,
  });

  it('a torus comes out with its volume and its one hole', () => {
    const f = (x: number, y: number, z: number) => 3 - Math.hypot(Math.hypot(x, y) - 10, z);
    const mesh = extractLevel(analytic(f), { min: [-13, -13, -3], max: [13, 13, 3] }, 0.4, quietContext);
    const found = inspectMesh(mesh);
    expect([found.watertight, found.selfIntersectingPairs, found.shells]).eql([true, 0, 1]);
    expect(found.vertices - (3 * found.triangles) / 2 + found.triangles).equal(0);
    expect(found.volumeMm3! / (2 * Math.PI ** 2 * 10 * 9)).closeTo(1, 0.01);
  });

  it('a level inside or outside the surface is a sphere of another radius', () => {
    const f = (x: number, y: number, z: number) => 10 - Math.hypot(x, y, z);
    for (const depth of [3, -2]) {
      const mesh = extractLevel(analytic(f, depth), { min: [-13, -13, -13], max: [13, 13, 13] }, 0.5, quietContext);
      expect(volumeOf(mesh) / ((4 / 3) * Math.PI * (10 - depth) ** 3), String(depth)).closeTo(1, 0.01);
    }
  });

  it('closes where inside ends away from any surface, as in the middle of a hole', () => {
    // two balls by their sides alone; the nearest surface is a far plane, so nothing else tells where they end
    const field: Field = {
      distance: (x, _y, _z, limit) => Math.min(limit, 40 - x),
      inside: (x, y, z) => Math.hypot(x, y, z) < 5.3 || Math.hypot(x - 9, y - 2, z) < 0.9,
      depth: 0,
      closed: false,
    };
    const mesh = extractLevel(field, { min: [-6, -6, -6], max: [11, 6, 6] }, 0.35, quietContext);
    const found = inspectMesh(mesh);
    expect([found.watertight, found.selfIntersectingPairs, found.shells]).eql([true, 0, 2]);
    expect(found.volumeMm3! / ((4 / 3) * Math.PI * (5.3 ** 3 + 0.9 ** 3))).closeTo(1, 0.02);
  });

  it('signed distance of a box: depth at its middle, outside beyond a corner', async () => {
    const d = new SignedDistance(await box(10, 10, 10));
    expect([d.distance(5, 5, 5, 100), d.inside(5, 5, 5)]).eql([5, true]);
    expect(d.distance(13, 14, 10, 100)).closeTo(5, 1e-6);
    expect(d.inside(13, 14, 10)).equal(false);
    expect(d.distance(50, 5, 5, 8)).equal(8);
  });

  it('simplifying keeps within its tolerance and stays sound', async () => {
    const mesh = await sphere(10, 128);
    const simpler = await makeSimpler(mesh, 0.05, quietContext);
    const found = inspectMesh(simpler);
    expect(found.triangles).lessThan(mesh.triangles.length / 6);
    expect([found.watertight, found.selfIntersectingPairs]).eql([true, 0]);
    expect(found.volumeMm3! / volumeOf(mesh)).closeTo(1, 0.015);
  });
});

describe('liquid in a cavity', () => {
  it('runs out of a hole at the bottom, and stays below a hole half-way up', async () => {
    const tank = await box(20, 20, 40);
    expect(trappedVolume(tank, [{ at: [10, 10, 0], radius: 2 }])).equal(0);
    expect(trappedVolume(tank, [{ at: [10, 0, 20], radius: 1 }]) / 16_000).closeTo(0.45, 0.06);
    expect(trappedVolume(tank, [])).closeTo(16_000, 1e-6);
  });

  it('stays in the far leg of a U that stands on its bend only up to the drain', async () => {
    const { fromSolid, loadKernel } = await import('@jasmorphe/core/solid/kernel');
    const { Manifold } = await loadKernel();
    const arch = fromSolid(
      Manifold.union([
        Manifold.cube([10, 10, 40]),
        Manifold.cube([10, 10, 40]).translate([30, 0, 0]),
        Manifold.cube([40, 10, 10]).translate([0, 0, 30]),
      ]),
    );
    // drained at the foot of one leg, the other keeps what lies below the bridge: 10 x 10 x 30
    expect(trappedVolume(arch, [{ at: [5, 5, 0], radius: 2 }]) / 3000).closeTo(1, 0.08);
  });
});

describe('sections', () => {
  it('a plane through a box in any direction has the area of its polygon', async () => {
    const cube = await box(10, 10, 10);
    const n = 1 / Math.sqrt(3);
    // through the middle, square to the diagonal: a regular hexagon of side 10 / sqrt 2
    const { areaMm2, lengthMm } = measureCut(cutSegments(cube, [n, n, n], 15 * n), [n, n, n]);
    expect(areaMm2).closeTo(((3 * Math.sqrt(3)) / 2) * 50, 1e-3);
    expect(lengthMm).closeTo(6 * Math.sqrt(50), 1e-3);
  });

  it('gathers holes into the regions around them', async () => {
    const { fromSolid, loadKernel } = await import('@jasmorphe/core/solid/kernel');
    const { Manifold } = await loadKernel();
    const tube = Manifold.cylinder(4, 10, 10, 64).subtract(Manifold.cylinder(4, 6, 6, 64));
    const mesh = fromSolid(
      Manifold.union([tube, Manifold.cylinder(4, 3, 3, 64), Manifold.cube([4, 4, 4]).translate([20, 0, 0])]),
    );
    const regions = regionsOf(new Slicer(mesh).at(2)).sort((a, b) => b.areaMm2 - a.areaMm2);
    expect(regions.map((r) => r.holes.length)).eql([1, 0, 0]);
    expect(regions[0].areaMm2 / (Math.PI * 64)).closeTo(1, 0.01);
    expect(regionsOverlap(regions[0], regions[1])).equal(false);
    expect(regionsOverlap(regions[0], regions[0])).equal(true);
  });

  it('a plane exactly through vertices and flats gives closed curves all the same', async () => {
    const slicer = new Slicer(await box(10, 10, 10));
    for (const z of [0, 5, 10]) for (const c of slicer.at(z).contours) expect(c.closed, String(z)).equal(true);
    expect(slicer.at(10).areaMm2).closeTo(100, 1e-6);
    expect(slicer.at(0).contours).eql([]);
  });
});

describe('small parts', () => {
  it('rotations to z are rotations, from any direction', () => {
    for (const up of [
      [0, 0, 1],
      [0, 0, -1],
      [1, 0, 0],
      [1, -2, 0.5],
      [0.001, 0, -1],
    ] as Vec3[]) {
      const m = rotationToZ(up);
      const z = applyMat3(m, up);
      expect(z[2]).closeTo(Math.hypot(...up), 1e-9);
      expect(dot(cross(m[0], m[1]), m[2])).closeTo(1, 1e-9);
    }
  });

  it('polygons are cut into the right area, also hollow and upright ones', () => {
    const hook = [0, 0, 0, 4, 0, 0, 4, 0, 4, 3, 0, 4, 3, 0, 1, 0, 0, 1];
    const cut = triangulatePolygon(hook);
    let sum = 0;
    for (let t = 0; t < cut.length; t += 3) sum += area(hook, cut.slice(t, t + 3));
    expect(sum).closeTo(4 + 3, 1e-9);
    expect(triangulatePolygon([0, 0, 0, 1, 0, 0, 2, 0, 0, 3, 0, 0]).length).equal(6);
  });

  it('words are found over line ends of all kinds, with their lines', () => {
    const scan = new ByteScanner(new TextEncoder().encode('one two\r\nTHREE\r4.5e-3 \\\n six\n\n'));
    const words: string[] = [];
    while (scan.wordAcross()) words.push(`${scan.text()}@${scan.line}`);
    expect(words).eql(['one@1', 'two@1', 'THREE@2', '4.5e-3@3', 'six@4']);
    expect(scan.is('six')).equal(true);
  });

  it('cells, cuts and letters of a grid', () => {
    expect(cellsFor([900, 758, 312], [250, 210, 220])).equal(4 * 4 * 2);
    expect(bestLie([100, 200, 50], [210, 110, 60])).eql([110, 210, 60]);
    expect(gridCuts([0, 0, 0], [100, 50, 50], [50.0001, 60, 60])).eql([{ axis: 'x', mm: 50 }]);
    expect([0, 25, 26, 51, 52, 701, 702].map(letters)).eql(['A', 'Z', 'AA', 'AZ', 'BA', 'ZZ', 'AAA']);
  });

  it('a margin that leaves no room is refused', async () => {
    expect(roomOf([250, 210, 220], 3)).eql([244, 204, 217]);
    expect(await codeOf(() => roomOf([20, 20, 20], 10))).equal('bad-params');
  });

  it('every figure of the trade has its unit, reason and source', () => {
    for (const [name, f] of Object.entries(figures)) {
      expect(f.value, name).greaterThan(0);
      expect(
        [f.unit, f.reason, f.source].every((s) => s.length > 1),
        name,
      ).equal(true);
    }
    // check values of the trade (common practice)
    expect([figures.resinWallMm.value, figures.drainsPerCavity.value, figures.spinClearanceMm.value]).eql([
      2.5, 2, 0.6,
    ]);
  });
});
