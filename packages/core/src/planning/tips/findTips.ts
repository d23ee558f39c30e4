import { newHit, treeOf } from '../../mesh/Bvh.ts';
import { boundsOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { sliceContext, type RunContext } from '../../run/context.ts';
import { insideRegion, regionsOverlap, type Region } from '../../section/regions.ts';
import { sweepLayers } from '../../section/layers.ts';
import { figures } from '../../trade/figures.ts';
import type { TipSize } from '../../trade/tipSizes.ts';
import type { CleanBox } from '../cuts/CleanBox.ts';
import { columnsOf, cellFor, isFleshUnder, mostCells } from '../pose/columns.ts';
import { layerAt } from '../layers/layerBounds.ts';
import { posedSkin, riseOf } from '../pose/PosedSkin.ts';
import { rulesOf, underneath, type Roof } from '../pose/underneath.ts';
import type { PrinterProfile } from '../PrinterProfile.ts';

/** Why a support must touch there: something starts in mid-air, an overhang ends free, or it goes on for too far. */
const tipReasons = ['island', 'edge', 'overhang'] as const;
export type TipReason = (typeof tipReasons)[number];

/** A place where support must touch, on the part as it lies. */
export interface Tip {
  at: Vec3;
  /** way out of the skin there, length 1 */
  normal: Vec3;
  /** layer of the part in which it is laid, from 0; what it is lifted by is not counted */
  layer: number;
  size: TipSize;
  reason: TipReason;
  /** area that starts there, or that it holds, mm² */
  areaMm2: number;
  /** straight below is the part itself, not the bed */
  overPart: boolean;
}

export interface TipAim {
  profile: PrinterProfile;
  /** boxes in which nothing may stand, in the part's own place, and the way back to that */
  bare: readonly CleanBox[];
  back: (at: Vec3) => Vec3;
  /** how far the part is held above the bed, mm */
  liftMm: number;
}

/** Resin is looked at in so many layers at most. */
const mostLayers = 4000;
/** So far above an island it is seen how large it gets, mm. */
const seenAboveMm = 2;
/** An island is held by a stout tip where it gets larger than this within that height, and by a fine one where it stays smaller (our own judgement), mm². */
const stoutMm2 = 150;
const fineMm2 = 12;
/** Flesh over an overhang that is thinner than this is held by fine tips, mm. */
const thinMm = 2.5;
/** Cells beside one. */
const around = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;
/** Most places that are listed. */
const mostTips = 4000;

/** Points, found by their cells. */
class Near {
  private readonly cells = new Map<string, Vec3[]>();

  constructor(private readonly reach: number) {}

  private key = (x: number, y: number, z: number): string => `${x},${y},${z}`;
  private place = (c: number): number => Math.floor(c / this.reach);

  add(at: Vec3): void {
    const key = this.key(this.place(at[0]), this.place(at[1]), this.place(at[2]));
    const there = this.cells.get(key);
    if (there) there.push(at);
    else this.cells.set(key, [at]);
  }

  /** Is there one within reach? */
  has([x, y, z]: Vec3): boolean {
    const [cx, cy, cz] = [this.place(x), this.place(y), this.place(z)];
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (let k = -1; k <= 1; k++)
          for (const p of this.cells.get(this.key(cx + i, cy + j, cz + k)) ?? [])
            if (Math.hypot(p[0] - x, p[1] - y, p[2] - z) <= this.reach) return true;
    return false;
  }
}

/** Something that starts in mid-air: where, and how large it is and gets. */
interface Start {
  region: Region;
  layer: number;
  /** middle of its layer, where it was cut */
  z: number;
  grownMm2: number;
}

/** Points spread over a region, at most `apart` from one another; one at least. */
function pointsIn(region: Region, apart: number): [number, number][] {
  const [x0, y0, x1, y1] = region.box;
  const nx = Math.max(1, Math.ceil((x1 - x0) / apart));
  const ny = Math.max(1, Math.ceil((y1 - y0) / apart));
  const out: [number, number][] = [];
  for (let i = 0; i < nx; i++)
    for (let j = 0; j < ny; j++) {
      const x = x0 + ((i + 0.5) * (x1 - x0)) / nx;
      const y = y0 + ((j + 0.5) * (y1 - y0)) / ny;
      if (insideRegion(region, x, y)) out.push([x, y]);
    }
  // a crescent may have none of them
  if (out.length === 0) out.push([region.outer.points[0], region.outer.points[1]]);
  return out;
}

/** All that starts in mid-air, from the layers; with a lift what stands lowest does too. */
function startsOf(
  mesh: TriMesh,
  profile: Pick<PrinterProfile, 'firstLayerMm' | 'layerMm'>,
  liftMm: number,
  context: RunContext,
): Start[] {
  const out: Start[] = [];
  const ahead = Math.max(1, Math.round(seenAboveMm / profile.layerMm));
  const each: Parameters<typeof sweepLayers>[4] = ({ z }, regions, i, starts) => {
    for (const start of out) {
      if (i > start.layer + ahead) continue;
      const above = regions.find((r) => regionsOverlap(r, start.region));
      if (above) start.grownMm2 = Math.max(start.grownMm2, above.areaMm2);
    }
    if (i === 0 && liftMm === 0) return;
    for (const region of starts) out.push({ region, layer: i, z, grownMm2: region.areaMm2 });
  };
  sweepLayers(mesh, profile.layerMm, [0, 0, 1], context, each, profile.firstLayerMm, liftMm);
  return out;
}

/**
 * Where support must touch a part as it lies, so that nothing starts in mid-air and no overhang goes on for farther than
 * strands or a cured skin hold: first whatever starts there, then free edges of overhangs, then their area, from below;
 * each place is held by a tip within reach (a maximal sample by dart throwing in the order of need: Cook 1986).
 *
 * @param mesh as it lies, z up
 */
export function findTips(mesh: TriMesh, { profile, bare, back, liftMm }: TipAim, context: RunContext): Tip[] {
  const bounds = boundsOf(mesh);
  const [floor, top] = [bounds.min[2], bounds.max[2]];
  const resin = profile.kind === 'resin';
  const apart = (resin ? figures.tipApartMm : figures.strandTipApartMm).value;
  // resin is looked at in thicker layers where there are very many
  const layerMm = resin ? Math.max(profile.layerMm, (top - floor) / mostLayers) : profile.layerMm;
  const looked = layerMm > profile.layerMm ? { layerMm, firstLayerMm: layerMm } : profile;
  const skin = posedSkin(mesh, []);
  const rise = riseOf(skin, [0, 0, 1]);
  const tree = treeOf(mesh);
  const hit = newHit();
  const near = new Near(apart);
  const tips: Tip[] = [];
  const add = (at: Vec3, size: TipSize, reason: TipReason, areaMm2: number): void => {
    // what was cut out of a layer begins straight below: beside that a tip would miss it
    const below = reason === 'island' ? tree.firstHit(at, [0, 0, -1], 1e-6) : Infinity;
    // on the rim of a region the ray may pass it, to whatever lies farther down
    const own = below < 2 * layerMm && skin.normals[3 * tree.lastHit + 2] < 0;
    const found = tree.nearest(at[0], at[1], own ? at[2] - below : at[2], Infinity, hit);
    const [x, y, z] = found.point;
    const spot: Vec3 = [x, y, z];
    const t = found.triangle;
    const normal: Vec3 = [skin.normals[3 * t], skin.normals[3 * t + 1], skin.normals[3 * t + 2]];
    const drop = tree.firstHit(spot, [0, 0, -1], 1e-3, t);
    near.add(spot);
    tips.push({
      at: spot,
      normal,
      layer: layerAt(spot[2] - floor, profile),
      size,
      reason,
      areaMm2,
      overPart: drop < Infinity,
    });
  };

  const starts = startsOf(mesh, looked, liftMm, sliceContext(context, 0, 0.6));
  for (const { region, z, grownMm2 } of starts) {
    if (tips.length >= mostTips) break;
    const size = grownMm2 > stoutMm2 ? 'stout' : grownMm2 < fineMm2 ? 'fine' : 'middling';
    const points = pointsIn(region, apart);
    const alone = points.filter(([x, y]) => !near.has([x, y, z]));
    // whatever is near, each has one of its own: nothing else holds it
    for (const [x, y] of alone.length > 0 ? alone : points.slice(0, 1))
      add([x, y, z], size, 'island', region.areaMm2 / points.length);
  }

  const cellMm = Math.max(apart / 8, cellFor(bounds, mostCells / 2));
  const columns = columnsOf(mesh, bounds, cellMm, context);
  const roofs: Roof[] = [];
  const all = new Map<number, number[]>();
  underneath(
    skin,
    rise,
    columns,
    { floor: floor - liftMm, top },
    {
      ...rulesOf(profile, bare, 1),
      each(roof) {
        roofs.push(roof);
        const there = all.get(roof.cell);
        if (there) there.push(roof.z);
        else all.set(roof.cell, [roof.z]);
      },
    },
    back,
  );
  context.checkCancelled();
  context.progress(0.8, 'Looking along overhangs');
  const { nx, ny, start, z: crossings, triangle, rises } = columns;
  /** What is beside a cell of overhang to its four sides: more of it, nothing, or flesh that reaches lower and carries it. */
  const beside = ({ cell, z }: Roof): ('roof' | 'open' | 'flesh')[] => {
    const [cx, cy] = [cell % nx, Math.floor(cell / nx)];
    return around.map(([dx, dy]) => {
      const [x, y] = [cx + dx, cy + dy];
      if (x < 0 || y < 0 || x >= nx || y >= ny) return 'open';
      const c = x + y * nx;
      if (all.get(c)?.some((h) => Math.abs(h - z) < 2 * cellMm)) return 'roof';
      if (isFleshUnder(columns, c, z - 0.02 * cellMm)) return 'flesh';
      // a roof that rises steeply beside it is no free end
      return crossings.subarray(start[c], start[c + 1]).some((h) => h >= z && h < z + cellMm) ? 'roof' : 'open';
    });
  };
  /** Flesh over a cell of overhang, mm. */
  const fleshOver = ({ cell, z }: Roof): number => {
    for (let k = start[cell]; k < start[cell + 1]; k++)
      if (crossings[k] > z + 1e-4 && rises[triangle[k]]) return crossings[k] - z;
    return Infinity;
  };
  const holds = apart * apart;
  roofs.sort((a, b) => a.z - b.z || a.cell - b.cell);
  // beside flesh that carries it an overhang holds by itself for half as far as between two tips
  const carried = new Near(apart / 2);
  const edges: Roof[] = [];
  for (const roof of roofs) {
    const sides = beside(roof);
    if (sides.includes('flesh')) carried.add([roof.x, roof.y, roof.z]);
    if (sides.includes('open')) edges.push(roof);
  }
  for (const [list, reason] of [
    [edges, 'edge'],
    [roofs, 'overhang'],
  ] as const)
    for (const roof of list) {
      if (tips.length >= mostTips) break;
      const at: Vec3 = [roof.x, roof.y, roof.z];
      if (near.has(at) || carried.has(at)) continue;
      add(at, fleshOver(roof) < thinMm ? 'fine' : 'middling', reason, holds);
    }
  context.progress(1, 'Looking along overhangs');
  return tips.sort((a, b) => a.layer - b.layer || a.at[0] - b.at[0] || a.at[1] - b.at[1]);
}
