import { placeMesh, type Mat3 } from '../../mesh/transform.ts';
import { weldExact } from '../../mesh/weld.ts';
import { boundsOf, sizeOf } from '../../mesh/TriMesh.ts';
import { areaOf, volumeOf } from '../../mesh/measures.ts';
import { parseParams } from '../../params/parseParams.ts';
import { bedfulsOf, type PlacedBedful } from '../../planning/bedfuls/bedfulsOf.ts';
import type { LaidPart } from '../../planning/bedfuls/LaidPart.ts';
import { onPrinter, settingsOn } from '../../planning/bedfuls/onPrinter.ts';
import type { PlacedOnBed } from '../../planning/bedfuls/PlacedOnBed.ts';
import { MeshError } from '../../run/MeshError.ts';
import { pathOf, shadowOf } from '../../planning/bedfuls/Shadow.ts';
import { PrinterProfile } from '../../planning/PrinterProfile.ts';
import { figures } from '../../trade/figures.ts';
import { makeOperation } from '../makeOperation.ts';
import { description } from './describe.ts';

/** Parts larger than this are not drawn, mm. */
const mostDrawnMm = 3000;
/** Cells of the drawing, mm. */
const drawnMm = 2;

/** Bedfuls by the numbers of their printers and parts. @throws MeshError `bad-params` where one is not there, or twice */
function numbered(
  placed: readonly PlacedOnBed[],
  parts: readonly LaidPart[],
  printers: readonly PrinterProfile[],
): PlacedBedful[] {
  const seen = new Set<string>();
  const no = (at: number, what: string): number => {
    if (at < 0) throw new MeshError('bad-params', `There is no ${what}.`, 'Nothing was changed.', 'placed');
    return at;
  };
  return placed.map((bedful) => ({
    printer: no(
      printers.findIndex((p) => p.name === bedful.printer),
      `printer called "${bedful.printer}"`,
    ),
    parts: bedful.parts.map(({ tag, at, turnDeg }) => {
      if (seen.has(tag))
        throw new MeshError('bad-params', `${tag} lies on two beds.`, 'Nothing was changed.', 'placed');
      seen.add(tag);
      return {
        part: no(
          parts.findIndex((p) => p.tag === tag),
          `part ${tag}`,
        ),
        at,
        turnDeg,
      };
    }),
  }));
}

/** Puts parts on beds: what goes where, and how long each bed takes. No mesh changes. */
export const bedfuls = makeOperation(
  description,
  async ([, ...meshes], { printers, parts, placed, for: aim, apart, inTurn, turn, failures }, context) => {
    const profiles = printers.map((p) => parseParams(PrinterProfile, p));
    const laid = parts.map(({ rotation, durationS, materialG, heightMm, settings, holdMm, laidFor }, i) => {
      const mesh = weldExact(meshes[i]);
      const piece = { volumeMm3: volumeOf(mesh), areaMm2: areaOf(mesh), heightMm };
      const taken = profiles.map((on) =>
        laidFor ? onPrinter({ durationS, materialG }, piece, laidFor, on) : { durationS, materialG },
      );
      return {
        mesh,
        rotations: profiles.map(() => rotation as unknown as Mat3),
        durationS: taken.map((t) => t.durationS),
        materialG: taken.map((t) => t.materialG),
        heightMm: profiles.map(() => heightMm),
        settings,
        holdMm,
      };
    });
    const { bedfuls: found, left } = bedfulsOf(laid, profiles, aim, context, {
      apartMm: apart,
      placed: numbered(placed, parts, profiles),
      inTurn,
      turn,
      perHour: profiles.map((p) => failures.find((f) => f.printer === p.name)?.perHour),
    });
    /** Its outline from above; none of what is so large that no bed could take it. */
    const drawn = (part: number, printer: number, turnDeg: number): string => {
      const lying = placeMesh(laid[part].mesh, laid[part].rotations[printer]);
      const [x, y] = sizeOf(boundsOf(lying));
      if (Math.max(x, y) > mostDrawnMm) return '';
      return pathOf(shadowOf(lying, (turnDeg * Math.PI) / 180, drawnMm, 0, parts[part].holdMm));
    };
    const settingsThere = (part: number, printer: number): string => {
      const { settings = '', laidFor } = parts[part];
      return laidFor ? settingsOn(settings, laidFor, profiles[printer]) : settings;
    };
    const told = found.map(({ printer, parts: on, clashes, ...bedful }) => ({
      printer: profiles[printer].name,
      bedMm: [profiles[printer].bedMm[0], profiles[printer].bedMm[1]] as [number, number],
      parts: on.map(({ part, at, turnDeg }) => ({
        tag: parts[part].tag,
        clashes: clashes.includes(part),
        at,
        turnDeg,
        durationS: laid[part].durationS[printer],
        materialG: laid[part].materialG[printer],
        path: drawn(part, printer, turnDeg),
      })),
      settings: on.length > 0 ? settingsThere(on[0].part, printer) : '',
      inTurn: bedful.inTurn,
      fillPct: bedful.fillPct,
      durationS: bedful.durationS,
      materialG: bedful.materialG,
      expectedS: bedful.expectedS,
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
