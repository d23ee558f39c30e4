import { checkCuts, checkPlannable } from '../../planning/cuts/checkCuts.ts';
import { xyz } from '../../mesh/TriMesh.ts';
import type { PlanFigures } from '../../planning/cuts/planCuts.ts';
import { aimOf, judgeDivision, planDivision } from '../../planning/cuts/planDivision.ts';
import { roomsOf } from '../../planning/room.ts';
import { makeOperation } from '../makeOperation.ts';
import { description, type CutsReport } from './describe.ts';

/** Plans cuts without making them, or judges those that are given. */
export const cuts = makeOperation(description, async ([mesh], params, context) => {
  const { bed, margin, beds, plan, cuts: own } = params;
  const rooms = roomsOf(bed, margin, beds);
  const aim = aimOf(rooms, plan, params);
  const named = (shares: PlanFigures['shares']): CutsReport['printers'] =>
    rooms.length > 1 ? shares.map(({ parts, durationS }, i) => ({ name: rooms[i].name, parts, durationS })) : [];
  let report: CutsReport;
  if (own) {
    checkCuts(mesh, own);
    const {
      figures: { shares, ...figures },
      picture,
      misfits,
    } = await judgeDivision(mesh, own, aim, context);
    const told = misfits.map((m) => ({ at: xyz(m.at), overMm: m.overMm }));
    report = {
      plan: 'own',
      cuts: own,
      looked: 1,
      grid: false,
      misfits: told,
      picture,
      printers: named(shares),
      ...figures,
    };
  } else {
    checkPlannable(mesh, aim.rooms);
    const {
      figures: { shares, ...figures },
      ...division
    } = await planDivision(mesh, aim, context);
    report = { plan, ...division, misfits: [], printers: named(shares), ...figures };
  }
  return { outputs: [], report };
});
