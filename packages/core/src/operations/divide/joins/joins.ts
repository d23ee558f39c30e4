import { whereIn } from '../../../section/rings.ts';
import type { JoinPlace } from '../../../params/checks.ts';
import { fromPlane, toPlane, type CutNode } from '../../../planning/cuts/cutSolid.ts';
import { heightOver, type PlaneCut } from '../../../planning/cuts/PlaneCut.ts';
import type { RunContext } from '../../../run/context.ts';
import { isPlacedByHand } from '../../../trade/joinKinds.ts';
import { xyz, type Vec3 } from '../../../mesh/TriMesh.ts';
import type { Lump } from '../contact.ts';
import { decideAt, type Decided, type JoinWishes } from './decide.ts';
import type { JoinLeftOut, LoosePart, Mixable, PlacedJoin } from './Join.ts';
import type { NotedJoin } from './JoinMethod.ts';
import { JoinWork, type JoinOptions, type On } from './JoinWork.ts';
import { joinMethods } from './kinds/index.ts';
import { countedThings } from './loose.ts';
import { wrongFits, type FittedFace, type Fitting } from './mixing.ts';
import { pinSides } from './pinSides.ts';
import type { Point } from './places.ts';
import { withoutFilms, type Maker } from './shapes.ts';
import type { Site } from './sites.ts';

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

/** A join that was cut, and the part that carries it. */
interface Made {
  join: Decided;
  on: On;
}

/** A join that is dragged along a membrane may lie so far off it, mm. */
const offMembrane = 15;

/** Joins placed by hand, by the face that they lie on; those that lie on none are told. */
function byHand({ sites, wishes, cuts }: JoinWork, leftOut: JoinLeftOut[]): Map<Site, JoinPlace[]> {
  const out = new Map<Site, JoinPlace[]>();
  for (const own of wishes.places) {
    let best: Site | null = null;
    let nearest = 1;
    for (const site of sites) {
      const cut = cuts[site.cut];
      const [u, v] = toPlane(cut, own.at);
      const high = Math.abs(heightOver(cut, own.at) - (site.over?.(u, v) ?? 0));
      // along a membrane it is drawn in a plane, and may come off it
      if (high >= (site.over ? nearest + offMembrane : nearest)) continue;
      if (!whereIn(site.shared.toPolygons(), u, v).inside) continue;
      best = site;
      nearest = Math.min(nearest, high);
    }
    if (best) out.set(best, [...(out.get(best) ?? []), own]);
    else leftOut.push({ at: xyz(own.at), why: 'noFace' });
  }
  return out;
}

/** Joins on a face where none were placed by hand: along a membrane, where not every kind goes, pins instead. */
function onFace(work: JoinWork, site: Site): Decided[] {
  const { wishes } = work;
  if (wishes.locked.has(site.cut)) return [];
  const { kind } = wishes;
  const own = site.over && !joinMethods[kind].overMembranes ? { ...wishes, kind: 'pin' as const } : wishes;
  return joinMethods[own.kind].decide(work, site, own);
}

/** Joins that the maker placed on a face; those for which there is no room are told. */
function placed(work: JoinWork, site: Site, own: readonly JoinPlace[], leftOut: JoinLeftOut[]): Decided[] {
  const { wishes: all } = work;
  const wanted = own.filter((p) => p.kind !== 'none');
  const out: Decided[] = [];
  for (const p of wanted) {
    const asked = p.kind ?? all.kind;
    const kind = asked !== 'none' && isPlacedByHand(asked) ? asked : 'pin';
    const { straight, reach } = joinMethods[kind];
    // a second one of the same size would let the part go in turned
    const widest = out.length === 0 ? all.widest : out[0].across - 2 * all.clearance - 0.1;
    const wishes: JoinWishes = { ...all, kind, widest: p.mm ?? Math.max(2, widest) };
    const at = toPlane(work.cutOf(site), p.at);
    const decided =
      straight && decideAt(site, work.flesh(site, reach(wishes)), wishes, straight, at, p.mm, wanted.length === 1);
    if (decided) out.push(decided);
    else leftOut.push({ at: xyz(p.at), why: 'noRoom' });
  }
  return out;
}

/** Decides on all faces. */
function decideAll(work: JoinWork, leftOut: JoinLeftOut[], context: RunContext): Decided[] {
  const { sites, lumps, wishes } = work;
  const hand = byHand(work, leftOut);
  const { decideTogether } = joinMethods[wishes.kind];
  const out: Decided[] = [];
  const groups = new Map<CutNode | null, Site[]>();
  sites.forEach((site, i) => {
    context.checkCancelled();
    context.progress((0.6 * i) / sites.length, `Joins of ${lumps[site.above].tag} and ${lumps[site.below].tag}`);
    const own = hand.get(site);
    if (own && wishes.locked.has(site.cut))
      leftOut.push(...own.map((p) => ({ at: xyz(p.at), why: 'noRoom' as const })));
    else if (own) out.push(...placed(work, site, own, leftOut));
    else if (!wishes.automatic) return;
    else if (decideTogether && !site.over) groups.set(site.group, [...(groups.get(site.group) ?? []), site]);
    else out.push(...onFace(work, site));
  });
  for (const of of groups.values()) {
    context.checkCancelled();
    // what slides in cannot be pinned as well
    if (!out.some((d) => d.site.group === of[0].group)) out.push(...decideTogether!(work, of));
  }
  return out.map(seated);
}

/** Parts that would fit no bed with pins at all their places. */
function tightParts(work: JoinWork, decided: readonly Decided[]): Set<number> {
  const beyond = work.outstanding.map((points) => [...points]);
  for (const join of decided) {
    const { site, turn, length, depth, at } = join;
    const half: Point = [(length / 2) * Math.cos(turn), (length / 2) * Math.sin(turn)];
    const [from, to]: Point[] = [
      [at[0] - half[0], at[1] - half[1]],
      [at[0] + half[0], at[1] + half[1]],
    ];
    beyond[site.below].push(...work.standingOut(join, from, to, depth));
    beyond[site.above].push(...work.standingOut(join, from, to, -depth));
  }
  return new Set(beyond.flatMap((more, i) => (more.length > 0 && !work.fitsWith(i, more) ? [i] : [])));
}

/** Which part carries each join, so that each part keeps a face to lie on and fits its bed; null where it goes on neither. */
function carriersOf(work: JoinWork, decided: readonly Decided[]): (join: Decided) => On | null {
  const free = decided.filter((d) => joinMethods[d.kind].carried === 'either');
  const tight = tightParts(work, free);
  const sites = [...new Set(free.map((d) => d.site))];
  const above = new Map<Site, boolean>();
  pinSides(sites.map(({ cut, below, above: top, areaMm2 }) => ({ cut, below, above: top, areaMm2 }))).forEach((up, i) =>
    above.set(sites[i], up),
  );
  return ({ kind, site, sides }) => {
    const { carried } = joinMethods[kind];
    if (carried === 'loose') return 'both';
    if (carried === 'by room') return sides === 'down' ? 'above' : 'below';
    const a = tight.has(site.below);
    const b = tight.has(site.above);
    if (sides === 'up') return a ? null : 'below';
    if (sides === 'down') return b ? null : 'above';
    if (a && b) return 'both';
    return a || (above.get(site) && !b) ? 'above' : 'below';
  };
}

/** What is said of a join with both parts. */
function noteOf(work: JoinWork, { join, on }: Made): NotedJoin {
  const method = joinMethods[join.kind];
  const kind = on === 'both' ? (method.asLoose ?? join.kind) : join.kind;
  return {
    kind,
    at: xyz(placeOf(work.cutOf(join.site), join)),
    diameterMm: join.across,
    depthMm: join.depth,
    wallMm: join.wallMm,
    ...joinMethods[kind].noted(join, work.wishes.clearance),
    boss: join.boss,
    own: join.own,
  };
}

/** Takes what was cut out of the parts, and adds what stands out of them. */
function changeParts({ lumps, maker, bodies }: JoinWork, context: RunContext): void {
  const { keep, kernel } = maker;
  lumps.forEach((lump, i) => {
    context.checkCancelled();
    const { out, added } = bodies[i];
    const plain = lump.solid;
    if (out.length > 0) lump.solid = keep(lump.solid.subtract(keep(kernel.Manifold.union(out))));
    if (added.length > 0) lump.solid = keep(kernel.Manifold.union([lump.solid, ...added]));
    if (out.length + added.length > 0) lump.solid = withoutFilms(maker, lump.solid, plain);
  });
}

/** Which parts could be put together wrongly for all their pins. */
function mixableOf({ sites, lumps, maker, wishes }: JoinWork, made: readonly Made[]): Mixable[] {
  const faces: FittedFace[] = [];
  for (const site of sites) {
    const own = made.filter(({ join }) => join.site === site);
    // poles of magnets keep them from going together wrongly, if there are two
    if (own.length === 0 || (own.length > 1 && own.every(({ join }) => joinMethods[join.kind].tellsFaces))) continue;
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

/** Where the middle of a join lies, on its face. */
const placeOf = (cut: PlaneCut, join: Decided): Vec3 =>
  fromPlane({ ...cut, offset: cut.offset + join.lift }, ...(joinMethods[join.kind].middle?.(join) ?? join.at));

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
export async function addJoins(
  maker: Maker,
  lumps: Lump[],
  cuts: readonly PlaneCut[],
  options: JoinOptions,
  context: RunContext,
): Promise<JoinsMade> {
  const work = new JoinWork(maker, lumps, cuts, options);
  await work.begin();
  const leftOut: JoinLeftOut[] = [];
  const decided = decideAll(work, leftOut, context);
  const carrierOf = carriersOf(work, decided);
  const made: Made[] = [];
  decided.forEach((join, i) => {
    context.checkCancelled();
    context.progress(0.6 + (0.3 * i) / decided.length, 'Making joins');
    const on = carrierOf(join);
    if (on !== null && joinMethods[join.kind].cut(work, join, on)) made.push({ join, on });
    else if (join.own) leftOut.push({ at: xyz(placeOf(work.cutOf(join.site), join)), why: 'noRoom' });
  });
  const joins: PlacedJoin[][] = lumps.map(() => []);
  const withJoin = new Set<Site>();
  const note = (site: Site, join: NotedJoin, on: On): void => {
    withJoin.add(site);
    const role = (side: 'below' | 'above'): 'pin' | 'hole' => (on === side ? 'pin' : 'hole');
    joins[site.below].push({ ...join, cut: site.cut + 1, role: role('below'), to: lumps[site.above].tag });
    joins[site.above].push({ ...join, cut: site.cut + 1, role: role('above'), to: lumps[site.below].tag });
  };
  for (const one of made) note(one.join.site, noteOf(work, one), one.on);
  if (options.automatic)
    for (const { site, join } of joinMethods[options.kind].afterwards?.(work) ?? []) note(site, join, 'both');
  context.progress(0.92, 'Making joins');
  changeParts(work, context);
  const slides = new Map<CutNode | null, Vec3>();
  for (const { join } of made) {
    const way = joinMethods[join.kind].slidesOn?.(join, work.cutOf(join.site));
    if (way) slides.set(join.site.group, way);
  }
  return {
    joins,
    leftOut,
    loose: countedThings(made.flatMap(({ join, on }) => joinMethods[join.kind].things(join, on, options.clearance))),
    mixable: mixableOf(work, made),
    slides,
    faces: work.sites.length,
    bare: work.sites.filter((s) => !withJoin.has(s)).length,
  };
}
