import type { Xyz } from '../../mesh/TriMesh.ts';
import { insideContour, insideRegion, regionsOverlap, type Region } from '../../section/regions.ts';

/**
 * A hollow that is shut off while it is laid: on the bed, or on flesh under it, with flesh all round and the film over
 * it. It pulls on the film at every layer, and holds resin.
 */
export interface Cup {
  /** of the hollow up to where it is closed or let out */
  volumeMm3: number;
  /** a point at its upper end */
  at: Xyz;
  /** height above the bed at which it begins */
  fromMm: number;
}

/** Hollows smaller than this are pores, mm³ (our own judgement). */
const leastMm3 = 200;
/** Points a side at which a hole is looked through to what lies below. */
const looks = 9;

interface Hollow {
  parent: number;
  volumeMm3: number;
  fromMm: number;
  end: Xyz;
  /** has a way out further down */
  open: boolean;
}

/**
 * Finds cups from layers that are told one after another, from the bed up. A hole of a layer goes on in the holes of
 * the next that it overlaps; it has a way out where it lies over what is outside of the layer below.
 */
export class CupFinder {
  private readonly hollows: Hollow[] = [];
  private holes: { region: Region; id: number }[] = [];
  private below: readonly Region[] | null = null;

  constructor(private readonly layerMm: number) {}

  /** @param z height of the layer above the bed */
  layer(regions: readonly Region[], z: number): void {
    const holes: { region: Region; id: number }[] = [];
    for (const { holes: inner } of regions)
      for (const hole of inner) {
        const region = hollowIn(hole, regions);
        if (!(region.areaMm2 > 0)) continue;
        const under = this.holes.filter((h) => regionsOverlap(h.region, region));
        const id = under.length > 0 ? under[0].id : this.begin(z);
        for (const h of under) this.join(id, h.id);
        const own = this.hollows[id];
        own.open ||= this.below !== null && isOverTheOpen(region, this.below);
        own.volumeMm3 += region.areaMm2 * this.layerMm;
        own.end = { x: hole.points[0], y: hole.points[1], z };
        holes.push({ region, id });
      }
    this.holes = holes;
    this.below = regions;
  }

  private begin(z: number): number {
    const id = this.hollows.length;
    this.hollows.push({
      parent: id,
      volumeMm3: 0,
      fromMm: z - this.layerMm / 2,
      end: { x: 0, y: 0, z },
      open: false,
    });
    return id;
  }

  private find(id: number): number {
    let i = id;
    while (this.hollows[i].parent !== i) i = this.hollows[i].parent = this.hollows[this.hollows[i].parent].parent;
    return i;
  }

  private join(a: number, b: number): void {
    const [ra, rb] = [this.find(a), this.find(b)];
    this.hollows[Math.max(ra, rb)].parent = Math.min(ra, rb);
  }

  /** Cups, the largest first. */
  found(): Cup[] {
    const whole = new Map<number, Hollow>();
    this.hollows.forEach((hollow, id) => {
      const sum = whole.get(this.find(id));
      if (!sum) {
        whole.set(this.find(id), { ...hollow });
        return;
      }
      sum.volumeMm3 += hollow.volumeMm3;
      sum.open ||= hollow.open;
      sum.fromMm = Math.min(sum.fromMm, hollow.fromMm);
      if (hollow.end.z > sum.end.z) sum.end = hollow.end;
    });
    return [...whole.values()]
      .filter((h) => !h.open && h.volumeMm3 >= leastMm3)
      .map(({ volumeMm3, end, fromMm }) => ({ volumeMm3, at: end, fromMm }))
      .sort((a, b) => b.volumeMm3 - a.volumeMm3);
  }
}

/** What is hollow within a hole: without the flesh that stands in it. */
function hollowIn(hole: Region['outer'], regions: readonly Region[]): Region {
  const [x0, y0, x1, y1] = hole.box;
  const outer = { ...hole, areaMm2: -hole.areaMm2 };
  const within = regions.filter(
    ({ box, outer: o }) =>
      box[0] > x0 && box[1] > y0 && box[2] < x1 && box[3] < y1 && insideContour(outer, o.points[0], o.points[1]),
  );
  return {
    outer,
    holes: within.map((r) => r.outer),
    areaMm2: within.reduce((a, r) => a - r.outer.areaMm2, outer.areaMm2),
    box: hole.box,
  };
}

/** Does any of a hollow lie over what is outside of the layer below? */
function isOverTheOpen(region: Region, below: readonly Region[]): boolean {
  const [x0, y0, x1, y1] = region.box;
  for (let i = 0; i < looks; i++)
    for (let j = 0; j < looks; j++) {
      const x = x0 + ((i + 0.5) * (x1 - x0)) / looks;
      const y = y0 + ((j + 0.5) * (y1 - y0)) / looks;
      if (insideRegion(region, x, y) && !below.some((r) => insideContour(r.outer, x, y))) return true;
    }
  return false;
}
