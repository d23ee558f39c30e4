import { expect } from 'chai';
import { alongLoop } from '@jasmorphe/core/planning/cuts/loopPlane';
import { comesOff, wayOff } from '@jasmorphe/core/operations/divide/comesOff';
import { creaseLoops } from '@jasmorphe/core/planning/cuts/creaseLoops';
import { dot } from '@jasmorphe/core/mesh/transform';
import type { TriMesh, Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { weldExact } from '@jasmorphe/core/mesh/weld';
import { operations } from '@jasmorphe/core/operations/runs';
import { fromSolid, loadKernel, withSolids, type Kernel, type Solid } from '@jasmorphe/core/solid/kernel';
import { box, moved, run } from './solids.ts';

const up: Vec3 = [0, 0, 1];
const made = (make: (k: Kernel, keep: <T extends { delete(): void }>(x: T) => T) => Solid): Promise<TriMesh> =>
  withSolids((kernel, keep) => Promise.resolve(fromSolid(make(kernel, keep as never))));

describe('core: parts that come off', function () {
  this.timeout(60_000);
  before(() => loadKernel());

  it('a block comes off the block under it upward and sideways, not through it', async () => {
    const [low, high] = [await box(40, 30, 20), moved(await box(20, 30, 20), 5, 0, 20)];
    expect(comesOff([high], [low], up)).equal(true);
    expect(comesOff([high], [low], [1, 0, 0])).equal(true);
    expect(comesOff([high], [low], [0, 0, -1])).equal(false);
    expect(comesOff([low], [high], [0, 0, -1])).equal(true);
    // beside each other nothing is in the way
    expect(comesOff([moved(high, 100, 0, 0)], [low], [0, 0, -1])).equal(true);
  });

  it('a bar under the lips of a channel slides along it alone', async () => {
    // a channel 60 x 100 x 30 with a groove 40 wide under lips 20 apart
    const channel = await made(({ Manifold }, keep) =>
      keep(
        keep(Manifold.cube([60, 100, 30])).subtract(
          keep(
            keep(Manifold.cube([40, 102, 10]).translate([10, -1, 10])).add(
              keep(Manifold.cube([20, 102, 11]).translate([20, -1, 19.5])),
            ),
          ),
        ),
      ),
    );
    const bar = moved(await box(39, 98, 9), 10.5, 1, 10.5);
    expect(comesOff([bar], [channel], up)).equal(false);
    expect(comesOff([bar], [channel], [0, 1, 0])).equal(true);
    expect(comesOff([bar], [channel], [1, 0, 0])).equal(false);
    // nothing within 70 degrees of upward
    expect(wayOff([bar], [channel], up)).equal(null);
    expect(wayOff([bar], [channel], [0, 1, 0])).eql([0, 1, 0]);
  });

  it('a plug with draft in a leaning hole comes off along the lean, within its draft', async () => {
    const lean = 35;
    const draft = 18;
    // wider at its mouth by tan 18 degrees a side, and long enough to come out of the block all round
    const plugAt = (k: Kernel, grow: number) =>
      k.Manifold.cylinder(100, 10 + grow, 10 + grow + 100 * Math.tan((draft * Math.PI) / 180), 48)
        .translate([0, 0, -25])
        .rotate([0, lean, 0]);
    const block = await made((k, keep) =>
      keep(
        keep(k.Manifold.cube([200, 200, 40], true)).subtract(keep(keep(plugAt(k, 0.05)).trimByPlane([0, 0, 1], -15))),
      ),
    );
    const axis: Vec3 = [Math.sin((lean * Math.PI) / 180), 0, Math.cos((lean * Math.PI) / 180)];
    const held = await made((k, keep) => keep(keep(plugAt(k, 0)).trimByPlane([0, 0, 1], -14)));
    expect(comesOff([held], [block], axis)).equal(true);
    expect(comesOff([held], [block], up), 'lean over draft').equal(false);
    const way = wayOff([held], [block], up)!;
    expect(Math.acos(dot(way, axis)) * (180 / Math.PI)).most(draft + 1);
  });

  it('a crease around a neck under a bulb is cut, pinned and put on along its normal; the report says so', async () => {
    const kernel = await loadKernel();
    const mesh = fromSolid(
      kernel.Manifold.sphere(30, 64)
        .translate([0, 0, 40])
        .add(kernel.Manifold.cylinder(40, 25, 14, 64)),
    );
    const loops = creaseLoops(weldExact(mesh)).map((l) => alongLoop(l.points));
    const neck = loops.find((l) => l.offset > 5 && l.offset < 35)!;
    const { report } = await run(operations.divide, mesh, {
      bed: [100, 100, 100],
      cuts: [neck],
      join: 'dovetail',
      labels: true,
    });
    expect(report.parts.length).equal(2);
    expect(report.interlocked).eql([]);
    // a rail has no flat to lie in along a crease: pins instead
    expect(report.parts[0].joins.map((j) => j.kind)).eql(['pin', 'pin']);
    expect(report.proof!.sound).equal(true);
    expect(report.order[0].glueMm2).closeTo(report.cuts[0].areaMm2, 0.02 * report.cuts[0].areaMm2);
  });
});
