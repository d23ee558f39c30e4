import { expect } from 'chai';
import fc from 'fast-check';
import { girthAt } from '@jasmorphe/core/measuring/girth';
import { quietContext } from '@jasmorphe/core/run/context';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { isSound } from '@jasmorphe/core/inspect/Inspection';
import { boxMesh } from '@jasmorphe/core/mesh/boxMesh';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { applyMat3, normalize } from '@jasmorphe/core/mesh/transform';
import { boundsOf, sizeOf, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { operations } from '@jasmorphe/core/operations/runs';
import { makeReference, publishedMeasures } from '@jasmorphe/core/reference/makeReference';
import { referenceKinds } from '@jasmorphe/core/reference/ReferenceBody';
import { fromSolid, withSolids, type Kernel } from '@jasmorphe/core/solid/kernel';
import { bodyMeasures, percentiles } from '@jasmorphe/core/trade/anthropometry';
import { clearanceOf, regionsOfBox } from '@jasmorphe/core/worn/clearance';
import { DistanceGrid } from '@jasmorphe/core/worn/DistanceGrid';
import { WornBody } from '@jasmorphe/core/worn/WornBody';
import {
  fromPairs,
  placed,
  rotationOf,
  seenFromBody,
  turnsOf,
  unplaced,
  type Placement,
} from '@jasmorphe/core/worn/Placement';
import { seatIn } from '@jasmorphe/core/worn/seat';
import { fieldOfView, openingsFrom } from '@jasmorphe/core/worn/sight';
import { codeOf, run, sphere } from './solids.ts';

type Built = ReturnType<Kernel['Manifold']['sphere']>;
const made = (make: (kernel: Kernel) => Built): Promise<TriMesh> =>
  withSolids((kernel, keep) => fromSolid(keep(make(kernel))));
const hollowBall = (outer: number, inner: number, n: number) =>
  made((k) => k.Manifold.sphere(outer, n).subtract(k.Manifold.sphere(inner, n)));
const roomIn = (piece: TriMesh, body: TriMesh, placement: Placement, lining = 0, wanted = 0) =>
  clearanceOf(piece, new WornBody(body, true), placement, regionsOfBox(body), lining, wanted, quietContext);

describe('reference bodies', () => {
  it('are closed, free of crossings, and of the measures given', () => {
    for (const [i, kind] of referenceKinds.entries())
      for (const of of [(['women', 'men'] as const)[i % 2]]) {
        const { mesh, landmarks } = makeReference(kind, publishedMeasures(kind, of, 5));
        const facts = inspectMesh(mesh, { brief: true });
        expect(isSound(facts), `${kind} ${of}`).equal(true);
        expect(facts.shells).equal(1);
        for (const p of Object.values(landmarks)) expect(p.every(Number.isFinite)).equal(true);
      }
  }).timeout(180_000);

  it('a head has the girth, length, breadth and height of every published percentile', () => {
    for (const of of ['women', 'men'] as const)
      for (const percentile of percentiles) {
        const m = publishedMeasures('head', of, percentile);
        const { mesh } = makeReference('head', m);
        // a percentile of each measure is no head of that percentile; all the same such a head can be made
        const tape = girthAt(mesh, [m.breadth / 2, 0, 0.66 * m.height], [0, 0, 1]);
        expect(tape.tapeMm).closeTo(m.girth, 0.01);
        const across = tape.tape.filter((_, i) => i % 3 === 0);
        const along = tape.tape.filter((_, i) => i % 3 === 1);
        expect(Math.max(...across) - Math.min(...across)).closeTo(m.breadth, 0.01);
        expect(Math.max(...along) - Math.min(...along)).closeTo(m.length, 0.01);
        expect(boundsOf(mesh).max[2]).closeTo(m.height, 0.01);
      }
  });

  it('published percentiles hang together: medians lie between, and tails as far out as a normal spread puts them', () => {
    // for a normal distribution the 5th and 95th percentile lie as far below the median as above it; the survey's own do to about a tenth of a span
    for (const [name, measure] of Object.entries(bodyMeasures))
      for (const [low, mid, high] of [measure.women, measure.men]) {
        expect(low < mid && mid < high, name).equal(true);
        expect(Math.abs((low + high) / 2 - mid) / (high - low), name).below(0.1);
      }
  });

  it('figures stand as tall as asked and weigh what people weigh', () => {
    const { mesh } = makeReference('standing', { stature: 1755 });
    expect(sizeOf(boundsOf(mesh))[2]).closeTo(1755, 0.01);
    // about 985 kg/m3 (common practice for a living body) and a body mass index of 18.5 to 30 (World Health Organization)
    const mass = (inspectMesh(mesh, { brief: true, skipSelfIntersections: true }).volumeMm3! / 1e9) * 985;
    expect(mass / 1.755 ** 2).within(18.5, 30);
    const seated = makeReference('seated', { sittingHeight: 914, kneeHollow: 434 }).mesh;
    expect(sizeOf(boundsOf(seated))[2]).closeTo(914 + 434, 0.01);
    expect(sizeOf(boundsOf(makeReference('hand', { length: 180 }).mesh))[2]).closeTo(180, 0.01);
  });

  it('measures that are none, or do not go together, are answered in a sentence', async () => {
    for (const measures of [
      { girth: 900 },
      { girth: 450 },
      { girth: -5 },
      { girth: NaN },
      { hat: 58 },
      { height: 1e9 },
    ])
      expect(await codeOf(() => makeReference('head', measures as never)), JSON.stringify(measures)).equal(
        'bad-params',
      );
  });
});

describe('placing a body in a piece', () => {
  it('is undone by the way back, and its turns can be read off it', () => {
    const random = randomFrom(4);
    for (let i = 0; i < 40; i++) {
      const p: Placement = {
        moveMm: [100 * random(), -30, 9],
        turnDeg: [360 * random() - 180, 170 * random() - 85, 360 * random() - 180],
      };
      const v: Vec3 = [random(), 20 * random(), -7];
      const back = seenFromBody(p, placed(p, v));
      for (let k = 0; k < 3; k++) expect(back[k]).closeTo(v[k], 1e-9);
      const again = rotationOf({ moveMm: [0, 0, 0], turnDeg: turnsOf(rotationOf(p)) });
      for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) expect(again[r][c]).closeTo(rotationOf(p)[r][c], 1e-9);
    }
  });

  it('pairs of landmarks bring back the placement they were made with', () => {
    const random = randomFrom(8);
    for (let i = 0; i < 30; i++) {
      const p: Placement = { moveMm: [5, 6, 7], turnDeg: [50 * random(), 50 * random(), 300 * random() - 150] };
      const pairs = Array.from({ length: 3 + (i % 3) }, () => {
        const body: Vec3 = [100 * random(), 100 * random(), 100 * random()];
        return { body, piece: placed(p, body) };
      });
      const found = fromPairs(pairs);
      expect(found.residualMm).below(1e-4);
      const v: Vec3 = [3, 4, 5];
      const want = placed(p, v);
      applyMat3(found.rows, v).forEach((x, k) => expect(x + found.moveMm[k]).closeTo(want[k], 1e-3));
    }
    // one pair only moves
    expect(fromPairs([{ body: [1, 1, 1], piece: [4, 5, 6] }]).moveMm).eql([3, 4, 5]);
  });
});

describe('clearance', () => {
  it('between concentric spheres is the difference of their radii, and the factor follows from it', async () => {
    const body = await sphere(90, 160);
    const piece = await hollowBall(104, 100, 200);
    const c = roomIn(piece, body, unplaced, 3, 2);
    // facets of both stand off their spheres by up to r (1 - cos(pi / n)), 0.02 and 0.01 mm
    expect(c.leastMm).closeTo(10 - 3, 0.05);
    expect(c.typicalMm).closeTo(10 - 3, 0.1);
    expect(c.contacts).eql([]);
    expect(c.suggestedFactor).closeTo((90 + 3 + 2) / 100, 5e-4);
    expect(c.insideAreaMm2 / (4 * Math.PI * 100 ** 2)).closeTo(1, 0.002);
  });

  it('off centre the narrowest place is nearer by as much, and the region says where', async () => {
    const body = await sphere(90, 160);
    const piece = await hollowBall(104, 100, 200);
    const c = roomIn(piece, body, { moveMm: [0, -4, 0], turnDeg: [10, 20, 30] });
    expect(c.leastMm).closeTo(6, 0.05);
    // turning a sphere changes nothing but which side is which: here only the move is seen in the figures
    const straight = roomIn(piece, body, { moveMm: [0, -4, 0], turnDeg: [0, 0, 0] });
    const of = (name: string) => straight.regions.find((r) => r.name === name)!;
    expect(of('front').leastMm).closeTo(6, 0.05);
    expect(of('back').leastMm).above(10);
  });

  it('finds where the body presses and where it comes through', async () => {
    const body = await sphere(90, 160);
    const piece = await hollowBall(104, 100, 200);
    // 13 mm to the left: past the inside by 3 at the deepest, not through the 4 mm wall
    const pressed = roomIn(piece, body, { moveMm: [13, 0, 0], turnDeg: [0, 0, 0] }, 1);
    expect(pressed.contacts.map((p) => p.kind)).eql(['touch']);
    expect(pressed.contacts[0].deepestMm).closeTo(3 + 1, 0.1);
    expect(pressed.contacts[0].region).equal('left side');
    expect(pressed.contacts[0].at.x).closeTo(100, 0.5);
    const through = roomIn(piece, body, { moveMm: [17, 0, 0], turnDeg: [0, 0, 0] });
    expect(through.contacts[0].kind).equal('through');
    expect(through.contacts[0].deepestMm).closeTo(3, 0.1);
    // cap of the outer sphere that lies in the body: its half angle by the cosine rule
    const cosine = (104 ** 2 + 17 ** 2 - 90 ** 2) / (2 * 104 * 17);
    expect(through.contacts[0].areaMm2 / (2 * Math.PI * 104 ** 2 * (1 - cosine))).closeTo(1, 0.06);
  });

  it('a body larger than the piece, and one that is nowhere near, are answered and nothing breaks', async () => {
    const piece = await hollowBall(104, 100, 120);
    const large = roomIn(piece, await sphere(130, 120), unplaced, 0, 2);
    expect(large.leastMm).closeTo(-30, 0.2);
    expect(large.touchingPct).closeTo(100, 0.1);
    expect(large.suggestedFactor).closeTo(1.32, 2e-3);
    expect(
      await codeOf(async () => roomIn(piece, await sphere(20, 40), { moveMm: [5000, 0, 0], turnDeg: [0, 0, 0] })),
    ).equal('cannot');
  });

  it('coarse pieces are measured between their corners too: a ball in a box', async () => {
    const room = await made((k) =>
      k.Manifold.cube([220, 220, 220], true).subtract(k.Manifold.cube([190, 190, 190], true)),
    );
    const c = roomIn(room, await sphere(90, 160), unplaced);
    expect(c.leastMm).closeTo(5, 0.1);
    expect(
      roomIn(room, await sphere(90, 160), { moveMm: [8, 0, 0], turnDeg: [0, 0, 0] }).contacts[0].deepestMm,
    ).closeTo(3, 0.1);
  });

  it('a factor that is named leaves the room asked for, though other skin faces the body at that size', async () => {
    // a hand through a ring with a bar and a ball in it: the skin that it will be in is not the one that faces it now
    const ring = await made((k) =>
      k.Manifold.cylinder(20, 40, 40, 60, true)
        .subtract(k.Manifold.cylinder(22, 30, 30, 60, true))
        .add(k.Manifold.cube([80, 6, 6], true))
        .add(k.Manifold.sphere(10, 20)),
    );
    const { mesh, regions } = makeReference('hand', publishedMeasures('hand', 'women', 50));
    // a hand of few triangles is as good here, and each of some hundred thousand corners is held against it
    const light = await run(operations.simplify, mesh, { tolerance: 0.1 });
    const body = new WornBody(light.outputs[0], light.report.sound);
    expect(body.isSteady, 'it is sound as the hand is').equal(true);
    for (const moveMm of [
      [-1, -7.8, -68.4],
      [6.9, -7.3, -80.3],
    ] as [number, number, number][]) {
      const placement: Placement = { moveMm, turnDeg: [0, 0, 0] };
      const c = clearanceOf(ring, body, placement, regions, 0, 2, quietContext);
      expect(c.leastMm).below(-10);
      const about = [c.about.x, c.about.y, c.about.z];
      const scaled: TriMesh = {
        positions: ring.positions.map((x, k) => about[k % 3] + c.suggestedFactor! * (x - about[k % 3])),
        triangles: ring.triangles,
      };
      const after = clearanceOf(scaled, body, placement, regions, 0, 2, quietContext);
      // skin is divided elsewhere when it is scaled first, so a tenth of a millimetre is left for that
      expect(after.leastMm).within(2 - 0.15, 2 + 0.6);
    }
  });

  it('works against a scan that is open and turned inside out in places, by winding number', async () => {
    const ball = await sphere(90, 100);
    // without its cap below, as a scan of a head ends at the neck
    const keep = ball.triangles.filter((_, i) => {
      const t = 3 * Math.floor(i / 3);
      return ball.positions[3 * ball.triangles[t] + 2] > -60;
    });
    const piece = await hollowBall(104, 100, 120);
    const body = new WornBody({ positions: ball.positions, triangles: keep }, false);
    const c = clearanceOf(
      piece,
      body,
      { moveMm: [0, 0, 12], turnDeg: [0, 0, 0] },
      regionsOfBox(ball),
      0,
      0,
      quietContext,
    );
    expect(c.leastMm).closeTo(-2, 0.1);
  });

  it('the operation takes a kind of body, sizes the piece, and refuses what makes no sense', async () => {
    const shell = await hollowBall(170, 160, 48);
    const params = { kind: 'head', move: [0, 0, -120], lining: 8 };
    const whole = (await run(operations.clearance, shell, params)).report;
    expect(whole.body).equal('head');
    expect(whole.regions.map((r) => r.name)).include.members(['crown', 'back', 'nose']);
    // no hole anywhere: nothing is seen and nothing breathed
    expect(whole.sight!.both.freePct).equal(0);
    expect(whole.openings).eql([]);
    const smaller = (await run(operations.clearance, shell, { ...params, factor: 0.9, move: [0, 0, -120] })).report;
    expect(smaller.typicalMm).below(whole.typicalMm - 10);
    for (const bad of [
      {},
      { kind: 'tail' },
      { kind: 'head', lining: -1 },
      { kind: 'head', factor: 0 },
      { kind: 'head', scan: 'x' },
      { kind: 'head', move: [1, 2] },
    ])
      expect(await codeOf(() => run(operations.clearance, shell, bad)), JSON.stringify(bad)).equal('bad-params');
  });
});

/** A ball around the origin with a round hole straight ahead (-y) whose rim is seen at half the angle given. */
const pierced = (outer: number, inner: number, halfDeg: number): Promise<TriMesh> =>
  made((k) => {
    const r = inner * Math.sin((halfDeg * Math.PI) / 180);
    return k.Manifold.sphere(outer, 240)
      .subtract(k.Manifold.sphere(inner, 240))
      .subtract(k.Manifold.cylinder(3 * outer, r, r, 180).rotate([90, 0, 0]));
  });

const nothing: TriMesh = { positions: new Float32Array(0), triangles: new Uint32Array(0) };

describe('sight and breath', () => {
  it('a round hole is seen at the angle it has', async () => {
    const piece = await pierced(101, 100, 30);
    const { left, both } = fieldOfView(piece, nothing, { left: [0, 0, 0], right: [0, 0, 0] }, quietContext);
    // the straight bore ends on the outer sphere at asin(50 / 101)
    const half = (Math.asin(50 / 101) * 180) / Math.PI;
    for (const v of [left.leftDeg, left.rightDeg, left.upDeg, left.downDeg]) expect(v).closeTo(half, 1);
    // share of the half-space: 1 - cos of the half angle
    expect(both.freePct / 100).closeTo(1 - Math.cos((half * Math.PI) / 180), 0.01);
  });

  it('an opening has the area of its flat, however it lies to the mouth', async () => {
    for (const halfDeg of [12, 30, 50]) {
      const [hole] = openingsFrom(await pierced(101, 100, halfDeg), [0, 0, 0], quietContext);
      const r = 100 * Math.sin((halfDeg * Math.PI) / 180);
      expect(hole.areaMm2 / (Math.PI * r * r), `${halfDeg} degrees`).closeTo(1, 0.08);
      expect(hole.ahead).equal(true);
    }
    const off = openingsFrom(
      await pierced(101, 100, 30),
      normalize([20, -10, 30]).map((v) => 30 * v) as unknown as Vec3,
      quietContext,
    );
    expect(off.length).equal(1);
    expect(off[0].areaMm2 / (Math.PI * 50 * 50)).closeTo(1, 0.08);
  });

  it('a bare head sees about what eyes see, and less through a closed ball', () => {
    const head = makeReference('head');
    const eyes = { left: head.landmarks['left eye'], right: head.landmarks['right eye'] };
    const off = (p: Vec3): Vec3 => [p[0], p[1] - 1.5, p[2]];
    const { bare, both } = fieldOfView(
      nothing,
      head.mesh,
      { left: off(eyes.left), right: off(eyes.right) },
      quietContext,
    );
    expect(both.freePct).equal(bare.freePct);
    // 90 degrees to each side are looked at; brow and cheeks may take some of up and down (60 and 75 in the literature)
    expect(bare.leftDeg).least(80);
    expect(bare.upDeg).within(40, 90);
    expect(bare.downDeg).within(40, 90);
  });
});

describe('a distance that is blended', () => {
  it('is never taken for larger than it is, wherever it is asked for', () => {
    // of no place farther than half a diagonal from a lattice is more known: at its points the blend is out by that
    const cell = 1;
    const block: TriMesh = boxMesh([24, 24, 24]);
    const off = (c: number) => Math.abs(c - Math.floor(c) - 0.5);
    const toLattice = (x: number, y: number, z: number) => Math.hypot(off(x), off(y), off(z));
    const grid = new DistanceGrid(block, toLattice);
    expect(grid.at(3.5, 7.5, 20.5)).closeTo(Math.sqrt(3 / 4) * cell, 1e-6);
    expect(grid.least(3.5, 7.5, 20.5)).most(1e-6);
    const place = fc.double({ min: -4.5, max: 28.5, noNaN: true });
    fc.assert(
      fc.property(place, place, place, (x, y, z) => {
        expect(grid.least(x, y, z)).most(toLattice(x, y, z) + 1e-6);
      }),
    );
    // beyond the grid it is five cells away from the mesh at least, and no more is said
    expect(grid.least(-40, 3, 3)).equal(5 * cell);
  });
});

describe('seating', () => {
  it('settles a ball in the middle of a hollow one, wherever it starts', async () => {
    const body = await sphere(90, 60);
    const shell = await hollowBall(104, 100, 60);
    const piece: TriMesh = { ...shell, positions: shell.positions.map((x, i) => x + [300, -20, 7][i % 3]) };
    const move = seatIn(piece, new WornBody(body, true), [0, 0, 0], 8, quietContext);
    // anywhere within 2 mm of the middle it keeps 8 mm
    expect(Math.hypot(move[0] - 300, move[1] + 20, move[2] - 7)).below(3);
  });

  it('puts a head into a mask open below and behind, not into its beak', async () => {
    const mask = await made((k) =>
      k.Manifold.sphere(1, 48)
        .scale([100, 125, 140])
        .add(k.Manifold.cylinder(260, 40, 3, 32).rotate([90, 0, 0]).translate([0, -90, 0]))
        .subtract(k.Manifold.sphere(1, 48).scale([96, 121, 136]))
        .subtract(k.Manifold.cube([400, 400, 200], true).translate([0, 0, -180])),
    );
    const { report } = await run(operations.clearance, mask, { kind: 'head', seat: true, want: 3 });
    expect(report.leastMm).above(-12);
    expect(report.move.y).within(-30, 40);
    expect(report.typicalMm).within(0, 30);
  }).timeout(180_000);

  it('finds as much room as there is known to be: a head in an egg', async () => {
    const head = makeReference('head');
    const { min, max } = boundsOf(head.mesh);
    const centre = [0, 1, 2].map((k) => (min[k] + max[k]) / 2);
    const egg = (k: Kernel, more: number) =>
      k.Manifold.sphere(1, 60).scale([0, 1, 2].map((i) => 0.65 * (max[i] - min[i]) + more) as unknown as Vec3);
    const shell = await made((k) => egg(k, 4).subtract(egg(k, 0)));
    const body = new WornBody(head.mesh, true);
    const leastAt = (moveMm: Vec3) =>
      clearanceOf(shell, body, { moveMm, turnDeg: [0, 0, 0] }, head.regions, 0, 2, quietContext).leastMm;
    const known = leastAt(centre.map((c) => -c) as unknown as Vec3);
    expect(known).above(4);
    expect(leastAt(seatIn(shell, body, [0, 0, 0], known, quietContext))).above(known - 1);
  }).timeout(180_000);
});
