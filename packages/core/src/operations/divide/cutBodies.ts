import type { TriMesh } from '../../mesh/TriMesh.ts';
import { xyz } from '../../mesh/TriMesh.ts';
import { axisOf } from '../../planning/cuts/checkCuts.ts';
import { crumbRule } from '../../planning/cuts/planCuts.ts';
import { lengthOf } from '../../planning/cuts/creaseLoops.ts';
import { cutSolid, sectionAt, sectionIn, sidesOf } from '../../planning/cuts/cutSolid.ts';
import { exactBodies } from '../../planning/cuts/planDivision.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import type { Keep } from '../../planning/cuts/bodies.ts';
import type { RunContext } from '../../run/context.ts';
import { MeshError } from '../../run/MeshError.ts';
import { cutSegments, measureCut } from '../../section/cut.ts';
import type { Kernel, Solid } from '../../solid/kernel.ts';
import type { DivideReport } from './describe.ts';

/** What a cut comes to: area of its face, length of the seam on the skin. */
interface FaceOfCut {
  areaMm2: number;
  seamMm: number;
}

/**
 * Cuts a solid, and measures the faces of cuts that do not go through all of it as they are made.
 *
 * @param crumbs whether what is no part worth printing stays where it was
 * @throws MeshError `cannot` for a cut along a crease that parts nothing
 */
export function cutBodies(
  { kernel, keep }: { kernel: Kernel; keep: Keep },
  solid: Solid,
  cuts: readonly PlaneCut[],
  crumbs: boolean,
  work: RunContext,
): { bodies: ReturnType<typeof cutSolid>; faces: FaceOfCut[] } {
  const faces = cuts.map((): FaceOfCut => ({ areaMm2: 0, seamMm: 0 }));
  const bodies = cutSolid(keep, exactBodies(kernel, keep), solid, cuts, crumbs ? crumbRule : undefined, {
    cut(number) {
      work.checkCancelled();
      work.progress((0.5 * number) / cuts.length, `Cut ${number + 1} of ${cuts.length}`);
    },
    body(body, number, made) {
      const { through, within, loop } = cuts[number];
      if (loop) {
        faces[number].seamMm = lengthOf(loop);
        // the face is on both sides, the skin on one
        faces[number].areaMm2 += (made.reduce((n, s) => n + s.surfaceArea(), 0) - body.surfaceArea()) / 2;
      }
      if (loop || (!through && !within)) return;
      const whole = sectionAt(keep, body, cuts[number]);
      const section = within ? sectionIn(keep, whole, cuts[number], within) : whole;
      faces[number].areaMm2 += section.area();
      for (const ring of section.toPolygons())
        ring.forEach(([x, y], i) => {
          const [u, v] = ring[(i + 1) % ring.length];
          faces[number].seamMm += Math.hypot(u - x, v - y);
        });
    },
  });
  for (const [i, cut] of cuts.entries()) {
    if (!cut.loop) continue;
    if (!bodies.some((b) => sidesOf(b).some((s) => Math.abs(s) === i + 1)))
      throw new MeshError(
        'cannot',
        `Cut ${i + 1} along a crease parts nothing: the crease does not close around a piece, or folds over itself.`,
        'Cut it with a plane there instead.',
        'cuts',
      );
  }
  return { bodies, faces };
}

/** Cuts as a report tells of them; those through all of the mesh are measured on it. */
export const cutsOfReport = (
  mesh: TriMesh,
  cuts: readonly PlaneCut[],
  faces: readonly FaceOfCut[],
): DivideReport['cuts'] =>
  cuts.map(({ normal, offset, through, within, loop }, i) => {
    const measured = (): FaceOfCut => {
      const { areaMm2, lengthMm } = measureCut(cutSegments(mesh, normal, offset), normal);
      return { areaMm2, seamMm: lengthMm };
    };
    return {
      axis: axisOf(normal),
      normal: xyz(normal),
      offset,
      through: through ? xyz(through) : null,
      loop: loop ? loop.map(xyz) : null,
      within: within ? { min: xyz(within.min), max: xyz(within.max) } : null,
      ...(through || within || loop ? faces[i] : measured()),
    };
  });
