import { stageFinding } from '@jasmorphe/core/inspect/stageFinding';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { asideOf, codesOf, keyOf, sameFinding } from '@jasmorphe/core/inspect/findingKeys';
import { inspectionVersion, readInspection } from '@jasmorphe/core/inspect/Inspection';
import { scaleMesh } from '@jasmorphe/core/mesh/transform';
import { expect } from 'chai';
import fc from 'fast-check';
import { byPlace } from '@jasmorphe/core/inspect/byPlace';
import type { Finding, FindingKind } from '@jasmorphe/core/inspect/Finding';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { concatMeshes, diagonalOf, flipMesh, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { openLoops } from '@jasmorphe/core/mesh/edges';
import { quietContext } from '@jasmorphe/core/run/context';
import { weldExact } from '@jasmorphe/core/mesh/weld';
import { holesOf } from '@jasmorphe/core/repair/bridges';
import { EnvelopeCholesky } from '@jasmorphe/core/repair/EnvelopeCholesky';
import { Patchwork } from '@jasmorphe/core/repair/Patchwork';
import { resolveCrossings } from '@jasmorphe/core/repair/resolveCrossings';
import { separateSheets } from '@jasmorphe/core/repair/separateSheets';
import { zipSeams } from '@jasmorphe/core/repair/zipSeams';
import { clipMesh } from '@jasmorphe/core/section/clip';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { box, moved, sphere, torus, without } from './solids.ts';
import { spentMs } from './spent.ts';

const kinds = (list: Finding[]): string[] => list.map((f) => f.kind);
const the = (mesh: TriMesh, kind: FindingKind): Finding => {
  const found = inspectMesh(mesh, { lines: true }).findings.filter((f) => f.kind === kind);
  expect(found.length, kind).equal(1);
  return found[0];
};

describe('findings', () => {
  it('two boxes that overlap: one finding, along the edges of what they share', async () => {
    const pair = concatMeshes([await box(10, 10, 10), moved(await box(10, 10, 10), 6, 3, 2)]);
    const f = the(pair, 'crossings');
    // they share a box 4 x 7 x 8; six of its edges lie on both skins, two of each length
    expect(f.lengthMm).closeTo(2 * (4 + 7 + 8), 0.01);
    expect(f.mends).contain('join');
    expect(f.severity).equal('failure');
    let drawn = 0;
    for (let i = 0; i < f.lines!.length; i += 6)
      drawn += Math.hypot(...[0, 1, 2].map((k) => f.lines![i + 3 + k] - f.lines![i + k]));
    expect(drawn).closeTo(38, 0.01);
    expect(inspectMesh(pair).findings[0].lines).equal(undefined);
  });

  it('an open loop knows its length, its number and whether it is flat; half a model is recognised', async () => {
    const half = clipMesh(await sphere(10, 128), [1, 0, 0], 0).mesh;
    const loop = the(half, 'open-loops');
    expect(loop.lengthMm! / (2 * Math.PI * 10)).closeTo(1, 0.002);
    expect(loop.spanMm).closeTo(Math.hypot(20, 20), 0.1);
    expect([loop.loop, loop.sure]).eql([1, 'counted']);
    expect(findingSentence(loop)).match(/flat/);
    expect(the(half, 'half').mends).eql(['mirror']);
  });

  it('a skin inside another, inside out or not, and a cavity', async () => {
    const outer = await box(10, 10, 10);
    const inner = moved(await box(4, 4, 4), 3, 3, 3);
    const buried = the(concatMeshes([outer, inner]), 'buried');
    expect(buried.spanMm).closeTo(4 * Math.sqrt(3), 1e-4);
    expect(kinds(inspectMesh(concatMeshes([outer, flipMesh(inner)])).findings)).not.contain('buried');
    const facts = inspectMesh(concatMeshes([outer, flipMesh(inner)])).shellList;
    expect(facts.map((s) => Math.sign(s.volumeMm3 ?? 0)).sort()).eql([-1, 1]);
  });

  it('walls and gaps too thin to print, at the size it has', async () => {
    expect(kinds(inspectMesh(await box(40, 40, 0.2)).findings)).contain('thin-walls');
    expect(kinds(inspectMesh(await box(40, 40, 5)).findings)).not.contain('thin-walls');
    const slot = concatMeshes([await box(40, 40, 5), moved(await box(40, 40, 5), 0, 0, 5.1)]);
    expect(kinds(inspectMesh(slot).findings)).contain('thin-gaps');
  });

  it('a thin floor in a thick block counts with both its sides, of few triangles or many: twice its area', async () => {
    const { Manifold } = await loadKernel();
    const block = Manifold.cube([100, 80, 10]).subtract(Manifold.cube([30, 20, 20]).translate(40, 30, 0.5));
    for (const solid of [block, block.refine(12)]) {
      const floor = the(fromSolid(solid), 'thin-walls');
      const { areaMm2, leastMm } = floor.values as { areaMm2: number; leastMm: number };
      expect(areaMm2 / (2 * 30 * 20)).closeTo(1, 0.05);
      expect(leastMm).closeTo(0.5, 1e-5);
    }
  });

  it('facets show by the sagitta of their arcs, r (1 - cos(pi / n)), and flats never do', async () => {
    const { Manifold } = await loadKernel();
    const f = the(fromSolid(Manifold.cylinder(30, 20, 20, 24)), 'facets');
    expect(findingSentence(f)).contain((20 * (1 - Math.cos(Math.PI / 24))).toFixed(2));
    expect(kinds(inspectMesh(await box(40, 30, 20)).findings)).not.contain('facets');
  });

  it('each has a key of its own, a place within the model, and something that mends it unless there is nothing to mend', async () => {
    const mess = concatMeshes([
      clipMesh(await sphere(10, 24), [0, 0, 1], -4).mesh,
      moved(clipMesh(await sphere(5, 16), [0, 1, 0], 1).mesh, 6, 2, 3),
      moved(await sphere(0.05, 6), 14, 0, 0),
      moved(torus(8, 1, 24, 12), 0, 0, 3),
    ]);
    const { findings, min, max } = inspectMesh(mess);
    expect(new Set(findings.map((f) => f.key)).size).equal(findings.length);
    for (const f of findings) {
      for (const k of ['x', 'y', 'z'] as const) expect(f.at![k]).within(min[k] - 1e-3, max[k] + 1e-3);
      if (f.severity === 'failure') expect(f.mends.length, f.key).greaterThan(0);
    }
    expect(kinds(findings)).include.members(['open-loops', 'crossings', 'crumbs']);
  });
});

describe('what a reason is kept by', () => {
  /** A ball with holes of so many sizes cut into it, each about a direction of its own. */
  const holed = async (holes: readonly (readonly [x: number, y: number, z: number, reach: number])[]) => {
    const ball = await sphere(20, 64);
    const p = ball.positions;
    const gone = new Set<number>();
    for (let t = 0; t < ball.triangles.length / 3; t++) {
      const at = [0, 1, 2].map((k) => [0, 1, 2].reduce((s, c) => s + p[3 * ball.triangles[3 * t + c] + k], 0) / 60);
      if (holes.some(([x, y, z, reach]) => x * at[0] + y * at[1] + z * at[2] > reach)) gone.add(t);
    }
    return without(ball, gone);
  };
  const loops = (mesh: TriMesh) => inspectMesh(mesh).findings.filter((f) => f.kind === 'open-loops');

  it('stays with its place when others come and go, and lapses when the thing itself becomes another', async () => {
    const [a, b, c] = [
      [1, 0, 0, 0.9],
      [0, 1, 0, 0.95],
      [0, 0, 1, 0.97],
    ] as const;
    const both = loops(await holed([b, c]));
    const all = loops(await holed([a, b, c]));
    // the smaller of two is the third of three: its number changes, its key does not
    expect([both[1].loop, all[2].loop]).eql([2, 3]);
    expect(sameFinding(both[1].key, all[2].key)).equal(true);
    expect(all.filter((f) => sameFinding(f.key, both[0].key))).length(1);
    const reason = { code: both[1].key, reason: 'it stands on that side' };
    expect(asideOf(all, [reason])).eql([null, null, reason]);
    // the hole grown to twice its width, or the whole at another size, is another thing
    expect(asideOf(loops(await holed([b, [0, 0, 1, 0.88]])), [reason])).eql([null, null]);
    expect(asideOf(loops(scaleMesh(await holed([b, c]), [2, 2, 2])), [reason])).eql([null, null]);
  });

  it('reasons that were kept by number still hold for what has that number', () => {
    const list = ['open-loops', 'crumbs', 'open-loops'].map((kind, i) => ({
      kind,
      key: keyOf(kind, { x: i, y: 0, z: 0 }, 1),
    }));
    expect(codesOf(list)).eql(['open-loops', 'crumbs', 'open-loops-2']);
    const reason = { code: 'open-loops-2' };
    expect(asideOf(list, [reason])).eql([null, null, reason]);
  });

  it('what is told of all there are of a kind stays when one of them is mended, and lapses at another size', async () => {
    // three edges of four sheets: boxes that touch along them, in a row
    const row = (n: number, size = 10) =>
      Promise.all(Array.from({ length: n }, async (_, i) => moved(await box(size, size, size), i * size, i * size, 0)));
    const of = async (n: number, size?: number, without0 = false) => {
      const all = concatMeshes(await row(n, size));
      const mesh = without0 ? concatMeshes([moved((await row(1))[0], 0, 0.5, 0), ...(await row(n)).slice(1)]) : all;
      return inspectMesh(weldExact(mesh)).findings.find((f) => f.kind === 'non-manifold-edges')!;
    };
    const [three, fewer, larger] = [await of(4), await of(4, 10, true), await of(4, 20)];
    expect([three.values, fewer.values]).eql([{ edges: 3 }, { edges: 2 }]);
    expect(three.at).not.eql(fewer.at);
    expect(sameFinding(three.key, fewer.key)).equal(true);
    expect(sameFinding(three.key, larger.key)).equal(false);
    // and is never taken for one that has a place of its own
    expect(
      sameFinding(keyOf('open-loops-all', { x: 0, y: 0, z: 0 }, 9), keyOf('open-loops', { x: 0, y: 0, z: 0 }, 9)),
    ).equal(false);
  });

  it('reasons that were kept by the tag or the part hold for it alone', () => {
    const list = [
      stageFinding('too-large', 'failure', { tag: 'A3' }, { name: 'A3' }),
      stageFinding('print-stopped', 'failure', { tag: 'B1', heightMm: 5 }, { name: 'part-7' }),
      stageFinding('rest-waits', 'attention', { tag: 'B1r1' }, { name: 'part-7' }),
    ];
    const [large, stopped] = [{ code: 'too-large-A3' }, { code: 'stopped-part-7' }];
    expect(asideOf(list, [large, stopped])).eql([large, stopped, stopped]);
    expect(asideOf(list, [{ code: 'too-large-A4' }, { code: 'stopped-part-8' }])).eql([null, null, null]);
  });

  it('keys of other kinds, of things with names and of no sense are never taken for one another', () => {
    const at = { x: 1, y: 2, z: 3 };
    expect(sameFinding(keyOf('crumbs', at, 2), keyOf('shells', at, 2))).equal(false);
    expect(sameFinding('slivers#A1', 'slivers#A2')).equal(false);
    expect(sameFinding('slivers#A1', 'slivers#A1')).equal(true);
    expect(sameFinding('open-loops', keyOf('open-loops', at, 2))).equal(false);
    // rounding of a place far from the origin
    expect(
      sameFinding(
        keyOf('degenerate', { x: 1750.01, y: 0, z: 0 }, 0),
        keyOf('degenerate', { x: 1750.02, y: 0, z: 0 }, 0),
      ),
    ).equal(true);
  });

  it('being the same goes both ways, holds of a thing and itself, and of whatever moved or grew by next to nothing', () => {
    const place = fc.record({
      x: fc.double({ min: -2000, max: 2000, noNaN: true }),
      y: fc.double({ min: -2000, max: 2000, noNaN: true }),
      z: fc.double({ min: -2000, max: 2000, noNaN: true }),
    });
    const span = fc.double({ min: 0.01, max: 500, noNaN: true });
    fc.assert(
      fc.property(place, place, span, span, (p, q, s, t) => {
        const [a, b] = [keyOf('crossings', p, s), keyOf('crossings', q, t)];
        expect(sameFinding(a, b)).equal(sameFinding(b, a));
        expect(sameFinding(a, keyOf('crossings', p, s))).equal(true);
        expect(sameFinding(a, keyOf('crossings', { ...p, x: p.x + 0.1 * s }, 1.1 * s))).equal(true);
        expect(sameFinding(a, keyOf('crossings', p, 2 * s))).equal(false);
        expect(sameFinding(a, keyOf('shells', p, s))).equal(false);
        // a key goes into an address, and into a column of eighty characters
        expect(a.length).most(80);
        expect(decodeURIComponent(encodeURIComponent(a))).equal(a);
      }),
    );
  });

  it('what an earlier version found keeps its sentence until it is looked for again', () => {
    const old = readInspection({
      triangles: 1,
      findings: [
        {
          code: 'open-loops-2',
          severity: 'failure',
          count: 4,
          message: 'Open loop 2 of 3.',
          at: { x: 0, y: 0, z: 0 },
          spanMm: 1,
          sure: 'counted',
          mends: [],
        },
      ],
    });
    expect(findingSentence(old.findings[0], 'in')).equal('Open loop 2 of 3.');
    expect([old.version, old.findings[0].kind, old.findings[0].key]).eql([undefined, 'said-before', 'open-loops-2']);
    expect(readInspection({}).findings).eql([]);
  });

  it('a sentence is made in the unit of whoever reads it: an inch is 25.4 mm', async () => {
    const now = inspectMesh(await box(40, 40, 0.2));
    expect(now.version).equal(inspectionVersion);
    const thin = now.findings.find((f) => f.kind === 'thin-walls')!;
    expect(thin.mends[0]).equal('thicken');
    expect(findingSentence(thin)).match(
      /^A wall is only 0\.20 mm thick at this size, over [\d.]+ cm²\. It may vanish or break\.$/,
    );
    expect(findingSentence(thin, 'in')).match(/^A wall is only 0\.008 in thick/);
  });
});

describe('resolving crossings', () => {
  const quiet = quietContext;
  const resolved = (mesh: TriMesh): TriMesh => {
    const result = resolveCrossings(mesh, quiet)!;
    expect(result).not.equal(null);
    const patches = new Patchwork(result.mesh, diagonalOf(mesh));
    patches.replace(result.gone, result.points, result.pieces);
    return patches.taken();
  };

  it('two boxes become one by inclusion and exclusion; a third inside changes nothing', async () => {
    const pair = concatMeshes([await box(10, 10, 10), moved(await box(10, 10, 10), 6, 3, 2)]);
    expect(volumeOf(resolved(pair))).closeTo(2000 - 4 * 7 * 8, 1e-3);
    const three = concatMeshes([pair, moved(await box(1, 1, 1), 2, 2, 2)]);
    expect(volumeOf(resolved(three))).closeTo(2000 - 4 * 7 * 8, 1e-3);
  });

  it('agrees with the solid kernel on the union of turned solids', async () => {
    const { Manifold } = await loadKernel();
    for (const angle of [0, 17, 45, 90]) {
      const a = Manifold.cylinder(30, 8, 8, 40, true);
      const b = Manifold.cylinder(30, 7, 5, 36, true).rotate([90, angle, 0]);
      const union = a.add(b);
      expect(volumeOf(resolved(concatMeshes([fromSolid(a), fromSolid(b)]))) / union.volume()).closeTo(1, 1e-4);
    }
  });
});

describe('holes that touch', () => {
  /** A board of squares, each of two triangles, some of them missing. */
  const board = (n: number, gone: (x: number, y: number) => boolean): TriMesh => {
    const points: number[] = [];
    const faces: number[] = [];
    for (let y = 0; y <= n; y++) for (let x = 0; x <= n; x++) points.push(x, y, 0);
    for (let y = 0; y < n; y++)
      for (let x = 0; x < n; x++) {
        if (gone(x, y)) continue;
        const a = (n + 1) * y + x;
        faces.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1);
      }
    return { positions: Float32Array.from(points), triangles: Uint32Array.from(faces) };
  };

  it('in a corner are two holes, and nothing is cut apart or moved', () => {
    const mesh = board(4, (x, y) => (x === 1 && y === 1) || (x === 2 && y === 2));
    const { loops, pinched } = holesOf(mesh);
    expect(loops.map((l) => l.length).sort((a, b) => a - b)).eql([4, 4, 16]);
    expect(pinched.size).equal(0);
    expect(openLoops(mesh).length).equal(2);
    expect(separateSheets(mesh, 0.01).mesh.positions).eql(mesh.positions);
  });

  it('chessboards of them are as many holes as squares are missing', () => {
    const mesh = board(9, (x, y) => (x + y) % 2 === 1 && x > 0 && y > 0 && x < 8 && y < 8);
    const { loops } = holesOf(mesh);
    expect(loops.filter((l) => l.length === 4).length).equal(24);
  });

  it('sheets that touch in a point stay two', async () => {
    const open = weldExact(clipMesh(await sphere(5, 16), [0, 0, 1], 0).mesh);
    const tip = weldExact(clipMesh(moved(await sphere(5, 16), 10, 0, 0), [0, 0, -1], 0).mesh);
    const welded = weldExact(concatMeshes([open, tip]));
    expect(welded.positions.length).equal(open.positions.length + tip.positions.length - 3);
    expect(separateSheets(welded, 0.01).mesh.positions.length).equal(welded.positions.length + 3);
  });
});

describe('seams divided differently', () => {
  it('meet after their triangles are divided, however many corners the other side has', async () => {
    const cube = await box(8, 8, 8);
    // the top as a plate of its own, its rim in finer steps
    const { Manifold } = await loadKernel();
    const fine = clipMesh(fromSolid(Manifold.cube([8, 8, 8]).refine(4)), [0, 0, 1], 7.9).mesh;
    const top = new Set<number>();
    for (let t = 0; t < 12; t++)
      if ([0, 1, 2].every((k) => cube.positions[3 * cube.triangles[3 * t + k] + 2] === 8)) top.add(t);
    expect(top.size).equal(2);
    const lid: number[] = [];
    for (let t = 0; t < fine.triangles.length / 3; t++)
      if ([0, 1, 2].every((k) => fine.positions[3 * fine.triangles[3 * t + k] + 2] === 8))
        lid.push(...fine.triangles.subarray(3 * t, 3 * t + 3));
    const parts = concatMeshes([
      { positions: cube.positions, triangles: cube.triangles.filter((_, i) => !top.has(Math.floor(i / 3))) },
      { positions: fine.positions, triangles: Uint32Array.from(lid) },
    ]);
    let mesh = weldExact(parts);
    expect(inspectMesh(mesh).openEdges).equal(4 + 16);
    for (let round = 0; round < 3; round++) mesh = zipSeams(mesh, 1e-4).mesh;
    const after = inspectMesh(mesh);
    expect([after.openEdges, after.volumeMm3]).eql([0, 512]);
  });
});

describe('sparse equations', () => {
  const random = randomFrom(9);
  const n = 60;
  const pick = (of: number, from = 0) => from + Math.floor(random() * of);
  for (const [name, groups] of [
    ['all over', Array.from({ length: 150 }, () => Array.from({ length: 4 }, () => pick(n)))],
    ['few, of near ones', Array.from({ length: 30 }, (_, i) => Array.from({ length: 3 }, () => pick(6, (7 * i) % 54)))],
    [
      'two apart and the rest alone',
      [
        [3, 8, 9],
        [40, 41],
        [9, 20],
      ],
    ],
  ] as const)
    it(`are solved as plain elimination solves them: ${name}`, () => {
      const unique = groups.map((g) => [...new Set(g)]);
      const m = new EnvelopeCholesky(n, (visit) => unique.forEach((g) => visit(g, g.length)));
      const dense = Array.from({ length: n }, () => new Float64Array(n));
      const add = (i: number, j: number, x: number) => {
        m.add(i, j, x);
        dense[i][j] += x;
        if (i !== j) dense[j][i] += x;
      };
      for (let i = 0; i < n; i++) add(i, i, 0.5);
      for (const g of unique) {
        const w = g.map(() => random() - 0.5);
        g.forEach((i, a) => g.slice(0, a + 1).forEach((j, b) => add(i, j, w[a] * w[b])));
      }
      const x = Float64Array.from({ length: n }, () => random());
      const b = Float64Array.from(dense, (row) => row.reduce((s, v, j) => s + v * x[j], 0));
      expect(m.factor()).equal(true);
      m.solve(b);
      for (let i = 0; i < n; i++) expect(b[i]).closeTo(x[i], 1e-9);
      m.clear();
      expect(m.factor()).equal(false);
    });
});

describe('grouping by place', () => {
  it('is that of a search through all pairs, few or many to a place', () => {
    const random = randomFrom(17);
    for (const [count, reach] of [
      [300, 1.2],
      [300, 4],
      [300, 60],
      [40, 0.01],
      [1, 1],
    ]) {
      const points = Float32Array.from({ length: 3 * (count + 20) }, () => 20 * random() - 10);
      const list = Uint32Array.from({ length: count }, (_, i) => i + (i % 3 === 0 ? 5 : 2));
      // samples by number, joined wherever two lie within reach
      const home = Array.from(list, (_, i) => i);
      for (let changed = true; changed;) {
        changed = false;
        for (let a = 0; a < count; a++)
          for (let b = 0; b < a; b++) {
            const d = Math.hypot(...[0, 1, 2].map((k) => points[3 * list[a] + k] - points[3 * list[b] + k]));
            if (d <= reach && home[a] !== home[b]) {
              home[a] = home[b] = Math.min(home[a], home[b]);
              changed = true;
            }
          }
      }
      const sizes = new Map<number, number>();
      for (const h of home) sizes.set(h, (sizes.get(h) ?? 0) + 1);
      const groups = byPlace(points, list, reach);
      expect(groups.map((g) => g.length)).eql([...sizes.values()].sort((a, b) => b - a));
      expect(groups.flat().sort((a, b) => a - b)).eql([...list].sort((a, b) => a - b));
    }
  });

  it('joins what is told to belong together, whatever the distance; a crowd at one place takes no time', () => {
    const points = Float32Array.from([0, 0, 0, 100, 0, 0, 50, 0, 0]);
    expect(byPlace(points, [0, 1, 2], 1, [0, 1]).map((g) => g.length)).eql([2, 1]);
    const crowd = Float32Array.from({ length: 300_000 }, (_, i) => Math.sin(i) / 2);
    const began = spentMs();
    expect(
      byPlace(
        crowd,
        Uint32Array.from({ length: 100_000 }, (_, i) => i),
        0.8,
      ).length,
    ).equal(1);
    expect(spentMs() - began).below(5000);
  });
});
