import { boxMesh } from '../../mesh/boxMesh.ts';
import { identity3 } from '../../mesh/transform.ts';
import { parseParams } from '../../params/parseParams.ts';
import { quietContext } from '../../run/context.ts';
import { bedfulsOf, type LyingPart } from '../bedfuls/bedfulsOf.ts';
import { bedfulS } from '../bedfuls/packBeds.ts';
import { roughDurationS, roughMaterialMm3 } from '../estimate.ts';
import { densityOf, PrinterProfile } from '../PrinterProfile.ts';
import { PlanBedful, PlanCutPiece, PlanCuts, PlanPart, PlanProject, type PlanRequest } from './PlanRequest.ts';

/** How what is planned stands to what volume and skin alone say of it. */
interface Ratios {
  /** of the hours but for the start */
  laying: number;
  /** grams of a mm³ */
  grams: number;
}

/** How the bedfuls that would go stand to the volume and skin of their parts; by usual figures where nothing is known of those. */
function ratiosOf(bedfuls: readonly PlanBedful[], profileOf: (printer: string) => PrinterProfile): Ratios {
  let [layingS, roughS, grams, roughMm3] = [0, 0, 0, 0];
  for (const { on, parts, grams: g } of bedfuls) {
    if (parts.length === 0) continue;
    const profile = profileOf(on[0].printer);
    const times = parts.map((p) => roughDurationS(parseParams(PlanPart, p), profile));
    layingS += Math.max(0, on[0].hours * 3600 - profile.startS);
    roughS += bedfulS(times, profile) - profile.startS;
    grams += g;
    roughMm3 += parts.reduce((n, p) => n + roughMaterialMm3(parseParams(PlanPart, p), profile), 0);
  }
  const usual = densityOf(profileOf(bedfuls[0].on[0].printer)) / 1000;
  return {
    laying: layingS > 0 && roughS > 0 ? layingS / roughS : 1,
    grams: grams > 0 && roughMm3 > 0 ? grams / roughMm3 : usual,
  };
}

/** Joints and pieces of a project once some of its pieces are others: as many joints for each as there are now. */
function finishWith(project: PlanProject, given: PlanCuts, nowPieces: number, pieces: number): PlanProject {
  const then = Math.max(nowPieces, project.pieces) - nowPieces + pieces;
  const joints =
    given.joints ??
    Math.round(project.pieces > 1 ? (project.joints * Math.max(0, then - 1)) / (project.pieces - 1) : then - 1);
  const slow = project.joints > 0 ? Math.round((project.slow * joints) / project.joints) : 0;
  return { ...project, joints, slow: Math.min(joints, slow), pieces: then };
}

/**
 * A request with a model cut otherwise: the bedfuls of its present parts go, and its other pieces are put on the beds of
 * the same printers by the boxes around them, soonest done; a piece whose box fits none of them has a bed of its own. Hours
 * and grams go by volume, skin and overhangs, at the ratio in which those of the present parts stand to theirs.
 *
 * @returns null where there is nothing to compare with: one of its bedfuls is on a bed, or none waits
 */
export function cutOtherwise(request: PlanRequest, given: PlanCuts): PlanRequest | null {
  const cuts = parseParams(PlanCuts, given);
  const isOf = (b: PlanBedful): boolean =>
    (b.project ?? '') === cuts.project &&
    (cuts.instead.length === 0 || cuts.instead.includes(b.id || b.name) || cuts.instead.includes(b.name));
  const going = request.bedfuls.filter(isOf).map((b) => parseParams(PlanBedful, b));
  if (going.length === 0 || going.some((b) => b.startedAt)) return null;
  const profileOf = (name: string): PrinterProfile =>
    parseParams(PrinterProfile, request.printers.find((p) => p.name === name)?.profile ?? {});
  const names = [...new Set(going.flatMap((b) => b.on.map((o) => o.printer)))];
  const profiles = names.map(profileOf);
  const ratios = ratiosOf(going, profileOf);
  const density = profiles.map((p) => densityOf(p) / densityOf(profiles[0]));
  const pieces = cuts.pieces.map((p) => parseParams(PlanCutPiece, p));
  const lying = pieces.map((piece): LyingPart => {
    const size = [piece.wideMm, piece.deepMm, piece.heightMm] as const;
    return {
      mesh: boxMesh(size),
      rotations: profiles.map(() => identity3),
      durationS: profiles.map((p) => p.startS + (roughDurationS(piece, p) - p.startS) * ratios.laying),
      materialG: profiles.map((p, i) => roughMaterialMm3(piece, p) * ratios.grams * density[i]),
      heightMm: profiles.map(() => piece.heightMm),
    };
  });
  const { bedfuls, left } = bedfulsOf(lying, profiles, 'soonest', quietContext);
  const alone = left.map((part) => ({
    printer: 0,
    parts: [{ part }],
    durationS: lying[part].durationS[0],
    materialG: lying[part].materialG[0],
  }));
  const [{ project, material, colour }] = going;
  const put = [...bedfuls, ...alone].map(({ printer, parts, durationS, materialG }, i) =>
    parseParams(PlanBedful, {
      name: `${cuts.name} ${i + 1}`.slice(-200),
      project,
      material,
      colour,
      on: [{ printer: names[printer], hours: durationS / 3600 }],
      grams: materialG,
      parts: parts.map(({ part }) => {
        const { wideMm: _w, deepMm: _d, ...plain } = pieces[part];
        return plain;
      }),
    }),
  );
  const said = going.reduce((n, b) => n + b.parts.length, 0);
  const finished = (p: PlanProject): PlanProject => {
    const own = parseParams(PlanProject, p);
    return finishWith(own, cuts, said || own.pieces, pieces.length);
  };
  // what nobody says more of has no joints, however it is cut
  const others = request.projects.some((p) => p.name === project) || project === '' ? [] : [{ name: project }];
  return {
    ...request,
    bedfuls: [...request.bedfuls.filter((b) => !isOf(b)), ...put],
    projects: [...request.projects, ...(others as PlanProject[])].map((p) => (p.name === project ? finished(p) : p)),
  };
}
