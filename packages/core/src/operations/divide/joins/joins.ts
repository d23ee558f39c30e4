import type { RunContext } from '../../../run/context.ts';
import { treeOf } from '../../../mesh/Bvh.ts';
import { vec3 } from '../../../mesh/transform.ts';
import { xyz, type TriMesh, type Vec3 } from '../../../mesh/TriMesh.ts';
import { fromPlane, toPlane, type CutNode } from '../../../planning/cuts/cutSolid.ts';
import { rowsToZ, toZ } from '../../../planning/cuts/planeFrame.ts';
import { heightOver, type PlaneCut } from '../../../planning/cuts/PlaneCut.ts';
import { whereIn, lieOf } from '../../../section/rings.ts';
import { fromSolid, hullPoints, type Solid } from '../../../solid/kernel.ts';
import { boxesMeet, place, type Lump } from '../contact.ts';
import { wordOutline } from '../tags.ts';
import { boltReach, boltTools, decideBolts, type BoltSide, type DecidedBolt } from './bolts.ts';
import { decideBosses } from './bosses.ts';
import {
  decideAt,
  decidePins,
  decideSlide,
  decideTongue,
  reachOf,
  skinMm,
  type Decided,
  type JoinWishes,
} from './decide.ts';
import type { JoinPlace } from '../../../params/checks.ts';
import type { JoinLeftOut, LoosePart, Mixable, PlacedJoin } from './Join.ts';
import { isLoose, isPrintedOn } from '../../../trade/joinKinds.ts';
import { dowelLength, looseOf, sizeOf } from './loose.ts';
import { wrongFits, type FittedFace, type Fitting } from './mixing.ts';
import type { Point } from './places.ts';
import { pinSides } from './pinSides.ts';
import { footMm, onCut, slideBodies } from './slide.ts';
import {
  grown,
  prism,
  roundOutline,
  shellsOf,
  squareOutline,
  tongueOutline,
  withoutFilms,
  type Maker,
  type Outline,
} from './shapes.ts';
import { fleshAt, holding, sitesOf, type Flesh, type Site } from './sites.ts';

/** What became of the joins. */
export interface JoinsMade {
  /** of each part */
  joins: PlacedJoin[][];
  leftOut: JoinLeftOut[];
  loose: LoosePart[];
  mixable: Mixable[];
  /** ways in which what lies above a cut slides on, where it does */
  slides: Map<CutNode | null, Vec3>;
  /** faces that parts share, and those of them without a join */
  faces: number;
  bare: number;
}

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

/** How deep a groove for glue is, how wide, and how far from the outline, mm (common practice). */
const groove = { depth: 1, width: 1.5, inset: 2 };
/** How deep the letter of a pole is, mm. */
const poleMm = 0.4;
/** Outlines of grooves are drawn no finer, mm. */
const grooveMm = 0.05;
/** A join that is dragged along a membrane may lie so far off it, mm. */
const offMembrane = 15;
/** What is printed on grows out of this much of its part, mm. */
const rootMm = 0.5;
/** Where only thinner pins fit, bosses are tried, mm (our own judgement). */
const leastStout = 3;
const outlineOf = ({ kind, across, length, keyed }: Decided): Outline => {
  if (kind === 'key' || kind === 'square') return squareOutline(across, keyed);
  if (kind === 'tongue') return tongueOutline(across, length);
  return roundOutline(across, keyed && kind !== 'magnet');
};

const membersOf = (lumps: readonly Lump[], group: CutNode | null, way: 1 | -1): number[] =>
  lumps.flatMap((lump, i) => {
    for (let n = lump.node; n.parent; n = n.parent) if (n.parent === group) return Math.sign(n.side) === way ? [i] : [];
    return [];
  });

/** Which part carries what is printed on; both have holes for what is loose. */
type On = 'below' | 'above' | 'both';

/** Decides and makes the joins of a division. */
class JoinMaker {
  private readonly sites: Site[];
  private readonly leftOut: JoinLeftOut[] = [];
  private readonly used: number[] = [];
  /** corners of the hull of each part */
  private readonly hulls: Float32Array[] = [];
  private readonly meshes: TriMesh[] = [];
  /** corners of the rails that stand out of each part */
  private readonly rails: number[][];
  /** may the next magnet of a face show its north pole below? */
  private readonly poles = new Map<Site, boolean>();
  private readonly bodies: { out: Solid[]; added: Solid[]; taken: Solid[] }[];

  constructor(
    private readonly maker: Maker,
    private readonly lumps: Lump[],
    private readonly cuts: readonly PlaneCut[],
    private readonly wishes: JoinOptions,
  ) {
    this.sites = holding(sitesOf(maker.keep, lumps, cuts));
    this.bodies = lumps.map(() => ({ out: [], added: [], taken: [] }));
    this.rails = lumps.map(() => []);
  }

  /** Joins placed by hand, by face. */
  private byHand(): Map<Site, JoinPlace[]> {
    const out = new Map<Site, JoinPlace[]>();
    for (const own of this.wishes.places) {
      let best: Site | null = null;
      let nearest = 1;
      for (const site of this.sites) {
        const cut = this.cuts[site.cut];
        const [u, v] = toPlane(cut, own.at);
        const high = Math.abs(heightOver(cut, own.at) - (site.over?.(u, v) ?? 0));
        // along a membrane it is drawn in a plane, and may come off it
        if (high >= (site.over ? nearest + offMembrane : nearest)) continue;
        if (!whereIn(site.shared.toPolygons(), u, v).inside) continue;
        best = site;
        nearest = Math.min(nearest, high);
      }
      if (best) out.set(best, [...(out.get(best) ?? []), own]);
      else this.leftOut.push({ at: xyz(own.at), why: 'noFace' });
    }
    return out;
  }

  private flesh(site: Site, wishes: JoinWishes): Flesh {
    return fleshAt(
      this.maker.keep,
      site,
      this.lumps,
      this.cuts[site.cut],
      wishes.kind === 'bolt' ? boltReach : reachOf(wishes),
    );
  }

  /** The direction in which most faces of a group can have a slide, and those slides. */
  private slides(sites: readonly Site[]): Decided[] {
    const shared = sites.map((s) => s.shared);
    const { angle } = lieOf(sites.reduce((a, b) => (b.areaMm2 > a.areaMm2 ? b : a)).shared.toPolygons());
    const fleshes = sites.map((s) => this.flesh(s, this.wishes));
    let best: Decided[] = [];
    for (let k = 0; k < 8; k++) {
      const found: Decided[] = [];
      sites.forEach((site, i) => {
        const others = shared.filter((s) => s !== site.shared);
        const slide = decideSlide(site, fleshes[i], this.wishes, angle + (k * Math.PI) / 4, others, (one) =>
          this.slideFits(one, found),
        );
        if (slide) found.push(slide);
      });
      if (found.length > best.length) best = found;
    }
    for (const slide of best) {
      const { part, points } = this.railOf(slide);
      this.rails[part].push(...points);
    }
    return best;
  }

  /** How far a part goes on from a place of a cut, mm; negative where more of it follows. */
  private endsAt(part: number, cut: PlaneCut, way: 1 | -1, at: Point): number {
    const mesh = this.meshes[part] ?? (this.meshes[part] = fromSolid(this.lumps[part].solid));
    const tree = treeOf(mesh);
    const ray = vec3((k) => way * cut.normal[k]);
    const origin = fromPlane(cut, ...at);
    const start = 0.05;
    const from = (d: number): Vec3 => vec3((k) => origin[k] + d * ray[k]);
    const end = start + tree.firstHit(from(start), ray, 0);
    return tree.firstHit(from(end + start), ray, 0) === Infinity ? end : -end;
  }

  private bolts(site: Site): Decided[] {
    const cut = this.cuts[site.cut];
    const turn = toZ(cut.normal);
    const { keep } = this.maker;
    const side = (own: number, way: 1 | -1): BoltSide => ({
      endsAt: (at) => this.endsAt(own, cut, way, at),
      own: keep(this.lumps[own].solid.transform(turn)),
      others: membersOf(this.lumps, site.group, way)
        .filter((i) => i !== own)
        .map((i) => keep(this.lumps[i].solid.transform(turn))),
    });
    return decideBolts(
      this.maker,
      site,
      this.flesh(site, { ...this.wishes, kind: 'bolt' }),
      cut.offset,
      { up: side(site.above, 1), down: side(site.below, -1) },
      this.wishes,
    );
  }

  private bosses(site: Site): Decided[] {
    const made = decideBosses(this.maker, site, this.lumps, this.cuts, this.wishes.mesh, this.wishes);
    for (const boss of made) {
      for (const [part, flesh] of [
        [site.above, boss.up],
        [site.below, boss.down],
      ] as const)
        this.lumps[part].solid = this.maker.keep(this.lumps[part].solid.add(flesh));
    }
    return made.map((b) => b.join);
  }

  /** What goes on a face: along a membrane, which no rail and no screw's head lies flat on, pins instead. */
  private wishesOn(site: Site): JoinWishes {
    const { kind } = this.wishes;
    return site.over && kind !== 'groove' && !isLoose(kind) && !isPrintedOn(kind)
      ? { ...this.wishes, kind: 'pin' }
      : this.wishes;
  }

  /** Joins on a face where none were placed by hand. */
  private onFace(site: Site): Decided[] {
    if (this.wishes.locked.has(site.cut)) return [];
    const wishes = this.wishesOn(site);
    const { kind } = wishes;
    if (kind === 'bolt') return this.bolts(site);
    if (kind === 'groove') return [];
    const flesh = this.flesh(site, wishes);
    const found = kind === 'tongue' ? decideTongue(site, flesh, wishes) : decidePins(site, flesh, wishes, this.used);
    const enough = Math.min(leastStout, this.wishes.widest);
    if (kind === 'tongue' || site.over || found.some((d) => d.across >= enough)) return found;
    const bosses = this.bosses(site);
    return bosses.length > 0 ? bosses : found;
  }

  private placed(site: Site, own: readonly JoinPlace[]): Decided[] {
    const cut = this.cuts[site.cut];
    const wanted = own.filter((p) => p.kind !== 'none');
    const out: Decided[] = [];
    for (const p of wanted) {
      const asked = p.kind ?? this.wishes.kind;
      const kind = asked !== 'none' && (isLoose(asked) || isPrintedOn(asked)) ? asked : 'pin';
      // a second one of the same size would let the part go in turned
      const widest = out.length === 0 ? this.wishes.widest : out[0].across - 2 * this.wishes.clearance - 0.1;
      const wishes: JoinWishes = { ...this.wishes, kind, widest: p.mm ?? Math.max(2, widest) };
      const decided = decideAt(site, this.flesh(site, wishes), wishes, toPlane(cut, p.at), p.mm, wanted.length === 1);
      if (decided) out.push(decided);
      else this.leftOut.push({ at: xyz(p.at), why: 'noRoom' });
    }
    return out;
  }

  /** Decides on all faces. */
  decide(context: RunContext): Decided[] {
    const hand = this.byHand();
    const out: Decided[] = [];
    const rest: Site[] = [];
    this.sites.forEach((site, i) => {
      context.checkCancelled();
      context.progress(
        (0.6 * i) / this.sites.length,
        `Joins of ${this.lumps[site.above].tag} and ${this.lumps[site.below].tag}`,
      );
      const own = hand.get(site);
      if (own && this.wishes.locked.has(site.cut))
        this.leftOut.push(...own.map((p) => ({ at: xyz(p.at), why: 'noRoom' as const })));
      else if (own) out.push(...this.placed(site, own));
      else if (!this.wishes.automatic) return;
      else if (this.wishes.kind === 'dovetail' && !site.over) rest.push(site);
      else out.push(...this.onFace(site));
    });
    const groups = new Map<CutNode | null, Site[]>();
    for (const site of rest) groups.set(site.group, [...(groups.get(site.group) ?? []), site]);
    for (const sites of groups.values()) {
      context.checkCancelled();
      // what slides in cannot be pinned as well
      if (!out.some((d) => d.site.group === sites[0].group)) out.push(...this.slides(sites));
    }
    return out.map(seated);
  }

  /** Corners of the box of what stands out of a face from one place of it to another, mm. */
  private standingOut({ site, across }: Decided, from: Point, to: Point, out: number): number[] {
    const cut = this.cuts[site.cut];
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

  /** Does a part fit with these points added to it? */
  private fitsWith(part: number, more: readonly number[]): boolean {
    const plain = this.hulls[part];
    const points = new Float32Array(plain.length + more.length);
    points.set(plain);
    points.set(more, plain.length);
    return this.wishes.fits(points);
  }

  /** The part that carries a rail, and corners of the box of what stands out of it. */
  private railOf(slide: Decided): { part: number; points: number[] } {
    const { site, at, turn, length, depth, sides } = slide;
    const end: Point = [at[0] + length * Math.cos(turn), at[1] + length * Math.sin(turn)];
    const [part, out] = sides === 'up' ? [site.below, depth] : [site.above, -depth];
    return { part, points: this.standingOut(slide, at, end, out) };
  }

  /** Does the part that carries a slide still fit, with all rails that it has, and with those beside? */
  private slideFits(slide: Decided, beside: readonly Decided[]): boolean {
    const { part, points } = this.railOf(slide);
    const more = beside.map((s) => this.railOf(s)).filter((r) => r.part === part);
    return this.fitsWith(part, [...this.rails[part], ...points, ...more.flatMap((r) => r.points)]);
  }

  /** Parts that would fit no bed with pins at all their places. */
  private tight(decided: readonly Decided[]): Set<number> {
    const ends = this.rails.map((points) => [...points]);
    for (const join of decided) {
      const { site, turn, length, depth, at } = join;
      const half: Point = [(length / 2) * Math.cos(turn), (length / 2) * Math.sin(turn)];
      const [from, to]: Point[] = [
        [at[0] - half[0], at[1] - half[1]],
        [at[0] + half[0], at[1] + half[1]],
      ];
      ends[site.below].push(...this.standingOut(join, from, to, depth));
      ends[site.above].push(...this.standingOut(join, from, to, -depth));
    }
    return new Set(ends.flatMap((more, i) => (more.length > 0 && !this.fitsWith(i, more) ? [i] : [])));
  }

  /** Which faces have their pins on the part above, so that each part keeps a face to lie on and fits its bed. */
  private sides(decided: readonly Decided[]): (join: Decided) => On | null {
    const printed = decided.filter((d) => isPrintedOn(d.kind) || d.kind === 'tongue');
    const tight = this.tight(printed);
    const sites = [...new Set(printed.map((d) => d.site))];
    const above = new Map<Site, boolean>();
    pinSides(sites.map(({ cut, below, above: top, areaMm2 }) => ({ cut, below, above: top, areaMm2 }))).forEach(
      (up, i) => above.set(sites[i], up),
    );
    return ({ kind, site, sides }) => {
      if (isLoose(kind)) return 'both';
      if (kind === 'bolt') return sides === 'down' ? 'above' : 'below';
      if (kind === 'dovetail') return sides === 'down' ? 'above' : 'below';
      const a = tight.has(site.below);
      const b = tight.has(site.above);
      if (sides === 'up') return a ? null : 'below';
      if (sides === 'down') return b ? null : 'above';
      if (a && b) return 'both';
      return a || (above.get(site) && !b) ? 'above' : 'below';
    };
  }

  /** Would the flesh that a hole needs be that of another hole? */
  private isTaken(part: number, needed: Solid): boolean {
    return this.bodies[part].taken.some(
      (t) => boxesMeet(needed, t) && this.maker.keep(needed.intersect(t)).volume() > 1e-6,
    );
  }

  private onCut(join: Decided, solid: Solid): Solid {
    return onCut(this.maker.keep, join, this.cuts[join.site.cut], solid);
  }

  /** Makes the bodies of one join; false where there is something in the way. */
  private make(join: Decided, on: On): boolean {
    const { maker, wishes } = this;
    const { clearance } = wishes;
    const { below, above } = join.site;
    const [pinned, holed] = on === 'above' ? [above, below] : [below, above];
    const way = on === 'above' ? -1 : 1;
    if (join.kind === 'bolt') {
      const { nut, head } = boltTools(maker, join as DecidedBolt, clearance);
      const parts: [number, Solid][] =
        join.sides === 'down'
          ? [
              [below, this.onCut(join, nut)],
              [above, this.onCut(join, head)],
            ]
          : [
              [above, this.onCut(join, nut)],
              [below, this.onCut(join, head)],
            ];
      if (parts.some(([part, tool]) => this.isTaken(part, tool))) return false;
      for (const [part, tool] of parts) this.take(part, tool);
      return true;
    }
    if (join.kind === 'dovetail') return this.makeSlide(join, pinned, holed, way);
    const outline = outlineOf(join);
    const hole = grown(maker, outline, clearance);
    const wide = grown(maker, outline, clearance + skinMm);
    const needed = (w: 1 | -1): Solid => this.onCut(join, prism(maker, wide, 1e-2, join.depth + clearance + skinMm, w));
    if (this.isTaken(holed, needed(way))) return false;
    if (on === 'both' && this.isTaken(pinned, needed(-way as 1 | -1))) return false;
    // what is printed on stands on flesh that nothing else is taken out of
    const foot =
      on === 'both' ? null : this.onCut(join, prism(maker, grown(maker, outline, 0), 1e-2, footMm, -way as 1 | -1));
    if (foot && this.isTaken(pinned, foot)) return false;
    if (foot) this.bodies[pinned].taken.push(foot);
    const open = -1e-2 - join.slack;
    this.take(holed, this.onCut(join, prism(maker, hole, open, join.depth + clearance, way)));
    if (join.kind === 'magnet') this.markPoles(join);
    if (on === 'both')
      this.take(pinned, this.onCut(join, prism(maker, hole, open, join.depth + clearance, -way as 1 | -1)));
    else {
      const pin = this.onCut(join, prism(maker, grown(maker, outline, 0), -rootMm - join.slack, join.depth, way, true));
      this.bodies[pinned].added.push(pin);
    }
    return true;
  }

  /** Letters in the floors of a magnet's pockets: which pole faces the cut. Joins of a face take turns, so that a part goes on one way. */
  private markPoles(join: Decided): void {
    const { maker } = this;
    const north = this.poles.get(join.site) ?? true;
    this.poles.set(join.site, !north);
    const floor = join.depth + this.wishes.clearance;
    for (const [part, way] of [
      [join.site.below, -1],
      [join.site.above, 1],
    ] as const) {
      const letter = wordOutline(maker, north === way < 0 ? 'N' : 'S', 0.5 * join.across);
      const sign = way > 0 ? maker.keep(letter.mirror([1, 0])) : letter;
      this.take(part, this.onCut(join, prism(maker, sign, floor - 0.01, floor + poleMm, way)));
    }
  }

  private take(part: number, tool: Solid): void {
    this.bodies[part].out.push(tool);
    this.bodies[part].taken.push(tool);
  }

  private makeSlide(join: Decided, pinned: number, holed: number, way: 1 | -1): boolean {
    const { maker, wishes, bodies } = this;
    const { keep, kernel } = maker;
    const cut = this.cuts[join.site.cut];
    const [rail, flesh] = [this.lumps[pinned].solid, this.lumps[holed].solid];
    const { slot, needed, foot, rails } = slideBodies(maker, join, cut, { rail, flesh, way }, wishes.clearance);
    const taken = keep(slot.intersect(flesh));
    if (rails.length === 0 || this.isTaken(holed, needed) || this.isTaken(holed, taken) || this.isTaken(pinned, foot))
      return false;
    // a slot through thin flesh would cut some of it off
    const left = keep(flesh.subtract(keep(kernel.Manifold.union([taken, ...bodies[holed].out]))));
    if (shellsOf(maker, left).length > shellsOf(maker, flesh).length) return false;
    bodies[holed].out.push(slot);
    bodies[holed].taken.push(taken);
    bodies[pinned].taken.push(foot);
    bodies[pinned].added.push(...rails);
    return true;
  }

  /** Grooves for glue along the outlines of all faces. */
  private grooves(): Site[] {
    const { maker } = this;
    const { keep } = maker;
    const made: Site[] = [];
    for (const site of this.sites) {
      if (site.over) continue;
      // corners that no nozzle draws would only make slivers
      const plain = keep(site.shared.simplify(grooveMm));
      const outer = keep(keep(plain.offset(-groove.inset, 'Round')).simplify(grooveMm));
      const inner = keep(keep(outer.offset(-groove.width, 'Round')).simplify(grooveMm));
      const rings = keep(outer.subtract(inner))
        .decompose()
        .map(keep)
        .filter((r) => r.area() > groove.width ** 2);
      if (inner.isEmpty() || rings.length === 0) continue;
      const ring = rings.reduce((a, b) => keep(a.add(b)));
      const cut = this.cuts[site.cut];
      for (const [part, way] of [
        [site.above, 1],
        [site.below, -1],
      ] as const)
        this.take(part, place(keep, prism(maker, ring, -1e-2, groove.depth, way), cut, 0, 0));
      made.push(site);
    }
    return made;
  }

  /** Decides, makes, and tells what there is. */
  async all(context: RunContext): Promise<JoinsMade> {
    const { lumps, cuts, maker, wishes } = this;
    const { keep } = maker;
    for (const { solid } of lumps) this.hulls.push(await hullPoints(fromSolid(solid)));
    const decided = this.decide(context);
    const sideOf = this.sides(decided);
    const joins: PlacedJoin[][] = lumps.map(() => []);
    const made: { join: Decided; on: On }[] = [];
    decided.forEach((join, i) => {
      context.checkCancelled();
      context.progress(0.6 + (0.3 * i) / decided.length, 'Making joins');
      const on = sideOf(join);
      if (on === null || !this.make(join, on)) {
        if (join.own) this.leftOut.push({ at: xyz(placeOf(cuts[join.site.cut], join)), why: 'noRoom' });
        return;
      }
      made.push({ join, on });
    });
    const note = (site: Site, join: Omit<PlacedJoin, 'role' | 'to' | 'cut'>, on: On): void => {
      const role = (side: 'below' | 'above'): 'pin' | 'hole' => (on === side ? 'pin' : 'hole');
      joins[site.below].push({ ...join, cut: site.cut + 1, role: role('below'), to: lumps[site.above].tag });
      joins[site.above].push({ ...join, cut: site.cut + 1, role: role('above'), to: lumps[site.below].tag });
    };
    for (const { join, on } of made) {
      const kind =
        on === 'both' && join.kind === 'pin' ? 'dowel' : on === 'both' && join.kind === 'key' ? 'square' : join.kind;
      const lengthMm = kind === 'dowel' || kind === 'square' ? dowelLength(join.depth, wishes.clearance) : join.length;
      note(
        join.site,
        {
          kind,
          at: xyz(placeOf(cuts[join.site.cut], join)),
          diameterMm: join.across,
          depthMm: join.depth,
          lengthMm,
          wallMm: join.wallMm,
          size: sizeOf(kind, join, lengthMm),
          boss: join.boss,
          own: join.own,
        },
        on,
      );
    }
    const withJoin = new Set(made.map(({ join }) => join.site));
    if (wishes.kind === 'groove' && wishes.automatic)
      for (const site of this.grooves()) {
        withJoin.add(site);
        const { x, y } = lieOf(site.shared.toPolygons());
        note(
          site,
          {
            kind: 'groove',
            at: xyz(fromPlane(cuts[site.cut], x, y)),
            diameterMm: groove.width,
            depthMm: groove.depth,
            lengthMm: 0,
            wallMm: groove.inset,
            size: '',
            boss: false,
            own: false,
          },
          'both',
        );
      }
    context.progress(0.92, 'Making joins');
    lumps.forEach((lump, i) => {
      context.checkCancelled();
      const { out, added } = this.bodies[i];
      const plain = lump.solid;
      if (out.length > 0) lump.solid = keep(lump.solid.subtract(keep(maker.kernel.Manifold.union(out))));
      if (added.length > 0) lump.solid = keep(maker.kernel.Manifold.union([lump.solid, ...added]));
      if (out.length + added.length > 0) lump.solid = withoutFilms(maker, lump.solid, plain);
    });
    return {
      joins,
      leftOut: this.leftOut,
      loose: looseOf(made, wishes.clearance),
      mixable: this.mixable(made),
      slides: this.slideWays(made),
      faces: this.sites.length,
      bare: this.sites.filter((s) => !withJoin.has(s)).length,
    };
  }

  /** What carries the rails comes from the side of the mouths, the other part from the far side. */
  private slideWays(made: readonly { join: Decided }[]): Map<CutNode | null, Vec3> {
    const ways = new Map<CutNode | null, Vec3>();
    for (const { join } of made) {
      if (join.kind !== 'dovetail') continue;
      const [a, b] = rowsToZ(this.cuts[join.site.cut].normal);
      const s = join.sides === 'up' ? 1 : -1;
      ways.set(
        join.site.group,
        vec3((k) => s * (Math.cos(join.turn) * a[k] + Math.sin(join.turn) * b[k])),
      );
    }
    return ways;
  }

  /** Which parts could be put together wrongly for all their pins. */
  private mixable(made: readonly { join: Decided; on: On }[]): Mixable[] {
    const { lumps, maker, wishes } = this;
    const faces: FittedFace[] = [];
    for (const site of this.sites) {
      // poles of magnets keep them from going together wrongly, if there are two
      const own = made.filter(({ join }) => join.site === site && join.kind !== 'groove');
      if (own.length === 0 || (own.length > 1 && own.every(({ join }) => join.kind === 'magnet'))) continue;
      const fittings = own.map(({ join }): Fitting => ({
        at: join.at,
        across: join.across,
        length: join.length,
        turn: join.keyed ? join.turn : null,
      }));
      const loose = own[0].on === 'both';
      for (const side of ['below', 'above'] as const) {
        const carries = loose || own[0].on === side;
        faces.push({
          part: site[side],
          other: site[side === 'below' ? 'above' : 'below'],
          cut: site.cut,
          above: side === 'above',
          outline: site.shared,
          areaMm2: site.areaMm2,
          pins: carries ? fittings : [],
          holes: carries && !loose ? [] : fittings,
        });
      }
    }
    return wrongFits(maker.keep, faces, wishes.clearance).map(({ face, other, turnDeg }) => ({
      part: lumps[face.part].tag,
      other: lumps[other.part].tag,
      cut: face.cut + 1,
      otherCut: other.cut + 1,
      turnDeg,
    }));
  }
}

/** The middle of what is drawn out along a face from its place. */
const middleOf = ({ kind, turn, length, at: [x, y] }: Decided): Point =>
  kind === 'dovetail' ? [x + (length / 2) * Math.cos(turn), y + (length / 2) * Math.sin(turn)] : [x, y];

/** Where the middle of a join lies, on its face. */
const placeOf = (cut: PlaneCut, join: Decided): Vec3 =>
  fromPlane({ ...cut, offset: cut.offset + join.lift }, ...middleOf(join));

/** A join as high as its face lies there. */
function seated(join: Decided): Decided {
  const { over } = join.site;
  if (!over) return join;
  const [u, v] = join.at;
  const lift = over(u, v);
  const r = join.across / 2;
  let slack = 0;
  for (let k = 0; k < 12; k++) {
    const angle = (k * Math.PI) / 6;
    slack = Math.max(slack, Math.abs(over(u + r * Math.cos(angle), v + r * Math.sin(angle)) - lift));
  }
  return { ...join, lift, slack };
}

/**
 * Joins all faces that two parts share, as wished, and replaces the parts in `lumps`. A part that would not fit its bed
 * with anything sticking out carries no pins: the other side does, or where that is as tight, both have holes for a dowel.
 *
 * @returns what was made; a face too narrow for a join simply gets none
 */
export const addJoins = (
  maker: Maker,
  lumps: Lump[],
  cuts: readonly PlaneCut[],
  options: JoinOptions,
  context: RunContext,
): Promise<JoinsMade> => new JoinMaker(maker, lumps, cuts, options).all(context);
