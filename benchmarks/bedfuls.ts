import { loadKernel, fromSolid } from '@jasmorphe/core/solid/kernel';
import { identity3 } from '@jasmorphe/core/mesh/transform';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { bedfulsOf, type LyingPart } from '@jasmorphe/core/planning/bedfuls/bedfulsOf';
import { bedfulAims } from '@jasmorphe/core/planning/bedfuls/aims';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { quietContext } from '@jasmorphe/core/run/context';
import { peakMb, say } from './common.ts';

// how long it takes to put 70 parts on beds of 250 x 210 mm (aim: 10 s), for each aim; beside it the area of all parts as
// so many whole beds, which no packing can undercut
const { Manifold } = await loadKernel();
const printer = parseParams(PrinterProfile, { name: 'bench', bedMm: [250, 210, 220] });
let area = 0;
const parts = Array.from({ length: 70 }, (_, i): LyingPart => {
  const [w, d] = [30 + ((37 * i) % 70), 25 + ((53 * i) % 60)];
  const piece = Manifold.cube([w, d, 30]);
  const solid =
    i % 3 === 0
      ? piece.subtract(Manifold.cube([0.6 * w, 0.6 * d, 40]))
      : i % 3 === 1
        ? Manifold.cylinder(30, w / 2, w / 3, 400)
        : piece;
  area += solid.project().area();
  const hours = (3600 * solid.volume()) / 30_000;
  return { mesh: fromSolid(solid), rotations: [identity3], durationS: [hours], materialG: [50], heightMm: [30] };
});
const least = Math.ceil(area / (244 * 204));
for (const aim of bedfulAims) {
  const start = performance.now();
  const { bedfuls } = bedfulsOf(parts, [printer], aim, quietContext);
  const ms = performance.now() - start;
  say(
    `bedfuls of 70 parts, ${aim}: ${bedfuls.length} (no fewer than ${least}), ${(ms / 1000).toFixed(1)} s, ${(ms / 10_000).toFixed(2)} of 10 s, peak ${peakMb()} MB`,
  );
}
