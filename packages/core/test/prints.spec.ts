import { expect } from 'chai';
import { inForce, refusalOf, standingOf, type PrintEvent } from '@jasmorphe/core/planning/printState';
import { flattestPose, layApart, layOnBed } from '@jasmorphe/core/planning/partPose';
import { boundsOf, sizeOf } from '@jasmorphe/core/mesh/TriMesh';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { box, moved, sphere, turned } from './solids.ts';

const event = (id: string, outcome: PrintEvent['outcome'], more: Partial<PrintEvent> = {}): PrintEvent => ({
  id,
  outcome,
  heightMm: null,
  correctsId: null,
  ...more,
});

describe('state of a print', () => {
  it('is that of the last entry in force; taking back a taking back brings the first into force again', () => {
    const log = [event('a', 'started'), event('b', 'failed', { heightMm: 12.5 })];
    expect(standingOf([])).eql({ state: 'planned', failedAtMm: null, lastId: null, redoId: null });
    expect(standingOf(log)).include({ state: 'failed', failedAtMm: 12.5, lastId: 'b' });
    log.push(event('c', 'withdrawn', { correctsId: 'b' }));
    expect(standingOf(log)).include({ state: 'printing', failedAtMm: null, lastId: 'a', redoId: 'c' });
    log.push(event('d', 'withdrawn', { correctsId: 'c' }));
    // what was brought back is not taken away by one redo more
    expect(standingOf(log)).include({ state: 'failed', lastId: 'b', redoId: null });
    expect(inForce(log).map((e) => e.id)).eql(['a', 'b', 'd']);
  });

  it('undone as often as things were said it is as at first, whatever was said', () => {
    const random = randomFrom(5);
    const outcomes = ['started', 'passed', 'failed', 'again', 'aside'] as const;
    for (let round = 0; round < 200; round++) {
      const log: PrintEvent[] = [];
      let said = 0;
      for (let i = 0; i < 12; i++) {
        const outcome = outcomes[Math.floor(random() * outcomes.length)];
        if (refusalOf(standingOf(log).state, outcome)) continue;
        log.push(event(`${i}`, outcome, { heightMm: outcome === 'failed' ? 3 : null }));
        said++;
      }
      for (let i = 0; i < said; i++) log.push(event(`u${i}`, 'withdrawn', { correctsId: standingOf(log).lastId }));
      expect(standingOf(log)).include({ state: 'planned', lastId: null });
    }
  });

  it('walks to and fro along what was said: as many redos as undos bring it back, until something else is said', () => {
    const random = randomFrom(11);
    const outcomes = ['started', 'passed', 'failed', 'again', 'aside'] as const;
    for (let round = 0; round < 200; round++) {
      const log: PrintEvent[] = [];
      // the states that were passed through, and where we stand among them: an editor's own undo
      let states = ['planned'];
      let at = 0;
      for (let i = 0; i < 40; i++) {
        const { state, lastId, redoId } = standingOf(log);
        expect([state, lastId === null, redoId === null]).eql([states[at], at === 0, at === states.length - 1]);
        const wish = random();
        if (wish < 0.3 && lastId) {
          log.push(event(`${i}`, 'withdrawn', { correctsId: lastId }));
          at--;
        } else if (wish < 0.6 && redoId) {
          log.push(event(`${i}`, 'withdrawn', { correctsId: redoId }));
          at++;
        } else {
          const outcome = outcomes[Math.floor(random() * outcomes.length)];
          if (refusalOf(state, outcome)) continue;
          log.push(event(`${i}`, outcome));
          states = [...states.slice(0, at + 1), standingOf(log).state];
          at++;
        }
      }
    }
  });

  it('refuses what does not follow: nothing is printed twice by a slip', () => {
    expect(refusalOf('printing', 'started')).match(/on the bed already/);
    expect(refusalOf('printed', 'started')).match(/printed already/);
    expect(refusalOf('aside', 'passed')).match(/set aside/);
    expect(refusalOf('failed', 'passed')).equal(null);
    expect(refusalOf('aside', 'again')).equal(null);
  });
});

describe('pose of a part', () => {
  it('is on the largest flat that fits, turned as the bed needs', async () => {
    const slab = turned(await box(60, 40, 10));
    const flat = await flattestPose(slab, [100, 100, 100]);
    expect([flat.fits, Math.round(flat.footMm2)]).eql([true, 2400]);
    expect(flat.heightMm).closeTo(10, 1e-3);
    // too long to lie straight: 60 x 40 in a square of 72 goes in turned, on a bed 45 wide only on its edge
    expect((await flattestPose(slab, [62, 45, 100])).heightMm).closeTo(10, 1e-3);
    const edge = await flattestPose(slab, [62, 15, 100]);
    expect([edge.fits, Math.round(edge.footMm2)]).eql([true, 600]);
    const laid = layOnBed(slab, edge.rotation);
    const { min } = boundsOf(laid);
    for (const x of min) expect(Math.abs(x)).lessThan(1e-4);
    expect(volumeOf(laid)).closeTo(24_000, 1);
    expect(sizeOf(boundsOf(laid))[2]).closeTo(40, 1e-3);
  });

  it('of a dome is on its cut face, not on a facet; a ball has none and takes any pose', async () => {
    const kernel = await loadKernel();
    const dome = fromSolid(kernel.Manifold.sphere(20, 64).trimByPlane([0, 1, 0], 5));
    const { rotation, footMm2, heightMm } = await flattestPose(dome, [100, 100, 100]);
    expect(rotation[2][1]).closeTo(1, 1e-6);
    expect(heightMm).closeTo(15, 0.1);
    // a circle of radius sqrt(400 - 25)
    expect(footMm2 / (Math.PI * 375)).closeTo(1, 0.01);
    expect((await flattestPose(await sphere(20, 24), [30, 30, 30])).fits).equal(false);
  });

  it('parts laid apart do not touch', async () => {
    const list = [await box(30, 20, 5), await box(10, 60, 5), await box(50, 5, 5), await box(20, 20, 20)];
    const boxes = layApart(list.map((m) => moved(m, 0, 0, 0))).map(boundsOf);
    boxes.forEach((a, i) =>
      boxes.slice(0, i).forEach((b) => {
        const apart = [0, 1].some((k) => a.min[k] - b.max[k] >= 4.99 || b.min[k] - a.max[k] >= 4.99);
        expect(apart, `${i}`).equal(true);
      }),
    );
  });
});
