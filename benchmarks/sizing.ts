import { treeOf } from '@jasmorphe/core/mesh/Bvh';
import { quietContext } from '@jasmorphe/core/run/context';
import { thicknessMap } from '@jasmorphe/core/mesh/thickness';
import { triangleCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { makeReference } from '@jasmorphe/core/reference/makeReference';
import { fitPoints } from '@jasmorphe/core/planning/bedFit';
import { fromSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { clearanceOf, regionsOfBox } from '@jasmorphe/core/worn/clearance';
import { insideSkin } from '@jasmorphe/core/worn/insideSkin';
import { WornBody } from '@jasmorphe/core/worn/WornBody';
import { seatIn } from '@jasmorphe/core/worn/seat';
import { fastest, knobbly, peakMb, say } from './common.ts';

// Aims: the clearance map of a piece of 500 000 triangles against a body of 50 000 within 3 s; a thickness map of 500 000
// triangles within 6 s. Trees are built once a mesh and counted apart.

const tell = (what: string, ms: number, aim: number): void =>
  say(`${what}: ${ms.toFixed(0)} ms; ${(ms / aim).toFixed(2)} of ${aim / 1000} s; peak ${peakMb()} MB`);
const ball = (r: number, n: number): Promise<TriMesh> =>
  withSolids((kernel, keep) => fromSolid(keep(kernel.Manifold.sphere(r, n))));
const hollow: TriMesh = await withSolids((kernel, keep) =>
  fromSolid(keep(kernel.Manifold.sphere(104, 708).subtract(keep(kernel.Manifold.sphere(100, 708))))),
);
const body = await ball(90, 316);
console.log(
  `piece of ${triangleCount(hollow)} triangles, body of ${triangleCount(body)}: two concentric balls, 10 mm apart`,
);
let started = performance.now();
treeOf(hollow);
const worn = new WornBody(body, true);
tell('their trees', performance.now() - started, 1000);
const placement = { moveMm: [1, 2, 3], turnDeg: [10, 0, 0] } as const;
tell('clearance map', await fastest(3, () => insideSkin(hollow, worn, placement, quietContext)), 3000);
tell(
  'clearance with figures, contacts and the factor that fits',
  await fastest(2, () => clearanceOf(hollow, worn, placement, regionsOfBox(body), 3, 2, quietContext)),
  3000,
);
const head = makeReference('head');
started = performance.now();
seatIn(hollow, new WornBody(head.mesh, true), [0, 0, 0], 8, quietContext);
tell('a head settling into it', performance.now() - started, 10_000);

const scan = knobbly(500_000);
treeOf(scan);
tell(
  `thickness map of ${triangleCount(scan)} triangles`,
  await fastest(3, () => thicknessMap(scan, quietContext)),
  6000,
);
tell(
  'largest that fits a bed, 500 hull corners',
  await fastest(2, () => fitPoints(knobbly(1000).positions, [250, 210, 220])),
  2000,
);
