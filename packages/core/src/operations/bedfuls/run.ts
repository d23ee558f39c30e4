import { placeMesh, type Mat3 } from '../../mesh/transform.ts';
import { weldExact } from '../../mesh/weld.ts';
import { parseParams } from '../../params/parseParams.ts';
import { bedfulsOf } from '../../planning/bedfuls/bedfulsOf.ts';
import { expectedS } from '../../planning/bedfuls/packBeds.ts';
import { pathOf, shadowOf } from '../../planning/bedfuls/Shadow.ts';
import { PrinterProfile } from '../../planning/PrinterProfile.ts';
import { figures } from '../../trade/figures.ts';
import { makeOperation } from '../makeOperation.ts';
import { description } from './describe.ts';

/** Cells of the drawing, mm. */
const drawnMm = 2;

/** Puts parts on beds: what goes where, and how long each bed takes. No mesh changes. */
export const bedfuls = makeOperation(
  description,
  async ([, ...meshes], { printers, parts, for: aim, apart }, context) => {
    const profiles = printers.map((p) => parseParams(PrinterProfile, p));
    const laid = parts.map(({ rotation, durationS, materialG, heightMm }, i) => ({
      mesh: weldExact(meshes[i]),
      rotations: profiles.map(() => rotation as unknown as Mat3),
      durationS: profiles.map(() => durationS),
      materialG: profiles.map(() => materialG),
      heightMm: profiles.map(() => heightMm),
    }));
    const { bedfuls: found, left } = bedfulsOf(laid, profiles, aim, context, apart);
    const told = found.map(({ printer, parts: placed, fillPct, durationS, materialG }) => ({
      printer: profiles[printer].name,
      bedMm: [profiles[printer].bedMm[0], profiles[printer].bedMm[1]] as [number, number],
      parts: placed.map(({ part, at, turnDeg }) => ({
        tag: parts[part].tag,
        at,
        turnDeg,
        path: pathOf(
          shadowOf(placeMesh(laid[part].mesh, laid[part].rotations[printer]), (turnDeg * Math.PI) / 180, drawnMm, 0),
        ),
      })),
      fillPct,
      durationS,
      materialG,
      expectedS: expectedS(durationS),
    }));
    const doneS = Math.max(
      0,
      ...profiles.map((p) =>
        told.filter((b) => b.printer === p.name).reduce((n, b) => n + b.durationS + figures.changeBedS.value, 0),
      ),
    );
    return { outputs: [], report: { bedfuls: told, left: left.map((i) => parts[i].tag), doneS } };
  },
);
