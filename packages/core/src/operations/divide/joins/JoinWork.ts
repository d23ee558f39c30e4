import { treeOf } from '../../../mesh/Bvh.ts';
import { vec3 } from '../../../mesh/transform.ts';
import type { TriMesh, Vec3 } from '../../../mesh/TriMesh.ts';
import type { JoinPlace } from '../../../params/checks.ts';
import { fromPlane } from '../../../planning/cuts/cutSolid.ts';
import type { PlaneCut } from '../../../planning/cuts/PlaneCut.ts';
import { fromSolid, hullPoints, type Solid } from '../../../solid/kernel.ts';
import { boxesMeet, type Lump } from '../contact.ts';
import type { Decided, JoinWishes } from './decide.ts';
import type { Point } from './places.ts';
import type { Maker } from './shapes.ts';
import { fleshAt, holding, sitesOf, type Flesh, type Site } from './sites.ts';
import { onCut } from './slide.ts';

export interface JoinOptions extends JoinWishes {
  /** on every face where none is placed by hand, or nowhere else */
  automatic: boolean;
  /** placed by hand */
  places: readonly JoinPlace[];
  /** numbers of cuts over which parts go together in another way than across: nothing is pinned there */
  locked: ReadonlySet<number>;
  /** the whole model */
  mesh: TriMesh;
  /** is there a bed for a hull of these corners? Quick, and rather no than yes */
  fits: (points: Float32Array) => boolean;
}

/** Which part carries what is printed on; both have holes for what is loose. */
export type On = 'below' | 'above' | 'both';

/** Numbers of the part that carries a join and of the one that it goes into, and on which side of the cut that one lies. */
export const ends = ({ site: { below, above } }: Decided, on: On): { pinned: number; holed: number; way: 1 | -1 } =>
  on === 'above' ? { pinned: above, holed: below, way: -1 } : { pinned: below, holed: above, way: 1 };

/** Parts that are being joined: what is known of them, and what is taken out of them and added to them so far. */
export class JoinWork {
  readonly sites: Site[];
  /** distances between the first two joins of faces: none is taken twice, so that neighbours do not fit */
  readonly used: number[] = [];
  /** of each part: what is taken out and added in the end, and the flesh that joins need by now */
  readonly bodies: { out: Solid[]; added: Solid[]; taken: Solid[] }[];
  /** corners of what stands out of each part, beyond itself */
  readonly outstanding: number[][];
  /** corners of the hull of each part */
  private readonly hulls: Float32Array[] = [];
  private readonly meshes: TriMesh[] = [];

  constructor(
    readonly maker: Maker,
    readonly lumps: Lump[],
    readonly cuts: readonly PlaneCut[],
    readonly wishes: JoinOptions,
  ) {
    this.sites = holding(sitesOf(maker.keep, lumps, cuts));
    this.bodies = lumps.map(() => ({ out: [], added: [], taken: [] }));
    this.outstanding = lumps.map(() => []);
  }

  /** Looks at the hulls of the parts; before anything else is asked. */
  async begin(): Promise<void> {
    for (const { solid } of this.lumps) this.hulls.push(await hullPoints(fromSolid(solid)));
  }

  cutOf({ cut }: Site): PlaneCut {
    return this.cuts[cut];
  }

  /** The flesh on both sides of a face. @param reach how deep it is looked at, mm */
  flesh(site: Site, reach: number): Flesh {
    return fleshAt(this.maker.keep, site, this.lumps, this.cutOf(site), reach);
  }

  /** How far a part goes on from a place of a cut, mm; negative where more of it follows. */
  endsAt(part: number, cut: PlaneCut, way: 1 | -1, at: Point): number {
    const mesh = this.meshes[part] ?? (this.meshes[part] = fromSolid(this.lumps[part].solid));
    const tree = treeOf(mesh);
    const ray = vec3((k) => way * cut.normal[k]);
    const origin = fromPlane(cut, ...at);
    const start = 0.05;
    const from = (d: number): Vec3 => vec3((k) => origin[k] + d * ray[k]);
    const end = start + tree.firstHit(from(start), ray, 0);
    return tree.firstHit(from(end + start), ray, 0) === Infinity ? end : -end;
  }

  /** Corners of the box of what stands out of a face from one place of it to another, mm. */
  standingOut({ site, across }: Decided, from: Point, to: Point, out: number): number[] {
    const cut = this.cutOf(site);
    const points: number[] = [];
    for (const end of [from, to]) {
      const middle = fromPlane(cut, ...end);
      for (let i = 0; i < 8; i++)
        for (let k = 0; k < 3; k++)
          points.push(
            middle[k] + out * cut.normal[k] + (((i >> k) & 1) * 2 - 1) * (1 - Math.abs(cut.normal[k])) * (across / 2),
          );
    }
    return points;
  }

  /** Does a part fit its bed with these corners added to it? */
  fitsWith(part: number, more: readonly number[]): boolean {
    const plain = this.hulls[part];
    const points = new Float32Array(plain.length + more.length);
    points.set(plain);
    points.set(more, plain.length);
    return this.wishes.fits(points);
  }

  /** Would the flesh that a hole needs be that of another hole? */
  isTaken(part: number, needed: Solid): boolean {
    return this.bodies[part].taken.some(
      (t) => boxesMeet(needed, t) && this.maker.keep(needed.intersect(t)).volume() > 1e-6,
    );
  }

  /** A body around the middle of a join, at its place. */
  onCut(join: Decided, solid: Solid): Solid {
    return onCut(this.maker.keep, join, this.cutOf(join.site), solid);
  }

  /** Takes a body out of a part, whose room nothing else may have. */
  take(part: number, tool: Solid): void {
    this.bodies[part].out.push(tool);
    this.bodies[part].taken.push(tool);
  }
}
