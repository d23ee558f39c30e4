import type { CrossSection } from 'manifold-3d';
import { rowsToZ } from '../../planning/cuts/planeFrame.ts';
import type { PlaneCut } from '../../planning/cuts/PlaneCut.ts';
import { roomiestPlaces } from '../../planning/cuts/roomiestPlaces.ts';
import { glyphHeight, glyphs } from '../../words/glyphOutlines.ts';
import { place, type Lump } from './contact.ts';
import { prism, type Maker } from './joins/shapes.ts';
import { holding, sitesOf } from './joins/sites.ts';

/** How tags are engraved, mm. */
export interface TagLook {
  /** height of the letters at most */
  heightMm: number;
  depthMm: number;
}

/** Smaller letters do not print, mm: strokes of a fifth of the height and a nozzle of 0.4 mm (common practice). */
const leastMm = 2;
/** Smaller than this a tag stands alone, mm (our own judgement). */
const leastWithMore = 3;
/** Letters on a bent face are bent in steps of so much, mm. */
const bentMm = 1.5;
/** Kept free around a tag, mm. */
const around = 0.6;

/**
 * A word in the plane, its middle at the origin, letters so high; signs that the font lacks are left out.
 *
 * @returns empty for a word of such signs
 */
export function wordOutline({ kernel, keep }: Maker, word: string, heightMm: number): CrossSection {
  const scale = heightMm / glyphHeight;
  const rings: [number, number][][] = [];
  let x = 0;
  for (const sign of word) {
    const glyph = glyphs[sign];
    if (!glyph) continue;
    for (const ring of glyph.rings) {
      const corners: [number, number][] = [];
      for (let i = 0; i < ring.length; i += 2) corners.push([(x + ring[i]) * scale, ring[i + 1] * scale]);
      rings.push(corners);
    }
    x += glyph.wide;
  }
  const flat = keep(new kernel.CrossSection(rings, 'NonZero'));
  // curves are drawn finer than anything prints
  const plain = keep(flat.simplify(0.02));
  return keep(plain.translate([(-x * scale) / 2, -heightMm / 2]));
}

/** A tag, over it an arrow, under it the neighbour that belongs here; the middle of it all at the origin. */
function signFor(maker: Maker, tag: string, neighbour: string | null, heightMm: number): CrossSection {
  const { keep, kernel } = maker;
  const own = wordOutline(maker, tag, heightMm);
  if (neighbour === null) return own;
  const high = 0.45 * heightMm;
  const arrow = keep(
    new kernel.CrossSection([
      [
        [-0.6 * high, 0.75 * heightMm],
        [0.6 * high, 0.75 * heightMm],
        [0, 0.75 * heightMm + high],
      ],
    ]),
  );
  const to = keep(wordOutline(maker, `+${neighbour}`, 0.6 * heightMm).translate([0, -1.1 * heightMm]));
  return keep(kernel.CrossSection.union([own, arrow, to]));
}

/** The way up in the plane of a cut, radians from its first axis; on level faces, the way to the back. */
function upOnCut({ normal }: PlaneCut): number {
  const [a, b] = rowsToZ(normal);
  const level = Math.abs(normal[2]) > 0.95;
  return level ? Math.atan2(b[1], a[1]) : Math.atan2(b[2], a[2]);
}

/** The largest sign that goes on a face, moved there; null where none does. */
function fitted(
  maker: Maker,
  face: CrossSection,
  tag: string,
  neighbour: string,
  turn: number,
  mirrored: boolean,
  most: number,
): CrossSection | null {
  const { keep, kernel } = maker;
  const room = keep(face.offset(-around, 'Round'));
  if (room.isEmpty()) return null;
  const spots = roomiestPlaces(room, 3, 0);
  const at = (flat: CrossSection, { u, v }: { u: number; v: number }): CrossSection => {
    // seen from below, so that it reads the right way round and up stays up
    const faced = mirrored ? keep(flat.mirror([1, 0])) : flat;
    return keep(keep(faced.rotate((turn * 180) / Math.PI - 90)).translate([u, v]));
  };
  for (const [to, least] of [
    [neighbour, leastWithMore],
    [null, leastMm],
  ] as const) {
    // drawn once, and shrunk until it goes in
    const sign = signFor(maker, tag, to, most);
    const { min, max } = sign.bounds();
    for (let scale = 1; scale * most >= Math.min(least, most); scale *= 0.85) {
      const frame = keep(
        new kernel.CrossSection([
          [
            [scale * min[0], scale * min[1]],
            [scale * max[0], scale * min[1]],
            [scale * max[0], scale * max[1]],
            [scale * min[0], scale * max[1]],
          ],
        ]),
      );
      const spot = spots.find((s) => keep(at(frame, s).subtract(room)).isEmpty());
      if (spot) return at(keep(sign.scale([scale, scale])), spot);
    }
  }
  return null;
}

/**
 * Engraves in both faces that two parts share the part's own tag, an arrow that points up (on level faces to the back),
 * and the tag of the neighbour; where that is too much, the tag alone. Clear of joins, never mirrored.
 *
 * @returns how many faces were too small for a tag
 */
export function engraveTags(maker: Maker, lumps: Lump[], cuts: readonly PlaneCut[], look: TagLook): number {
  const { keep, kernel } = maker;
  const tools = lumps.map((): ReturnType<typeof place>[] => []);
  let bare = 0;
  for (const { cut: number, below, above, shared, over } of holding(sitesOf(keep, lumps, cuts))) {
    const cut = cuts[number];
    const turn = upOnCut(cut);
    for (const [own, other, way] of [
      [below, above, -1],
      [above, below, 1],
    ] as const) {
      const sign = fitted(maker, shared, lumps[own].tag, lumps[other].tag, turn, way > 0, look.heightMm);
      if (!sign) {
        bare++;
        continue;
      }
      const flat = prism(maker, sign, -0.05, look.depthMm, way);
      // along a membrane it follows the face
      const laid = over ? keep(keep(flat.refineToLength(bentMm)).warp((v) => void (v[2] += over(v[0], v[1])))) : flat;
      tools[own].push(place(keep, laid, cut, 0, 0));
    }
  }
  lumps.forEach((lump, i) => {
    if (tools[i].length > 0) lump.solid = keep(lump.solid.subtract(keep(kernel.Manifold.union(tools[i]))));
  });
  return bare;
}
