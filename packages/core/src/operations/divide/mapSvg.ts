import { placeTags } from '../../planning/tagPlaces.ts';
import type { DivideReport } from './describe.ts';

/** Room at the sides for tags, and over and under, in units of the drawing. */
const side = 90;
const over = 50;
const under = 70;
/** How much larger than it is kept the map is drawn. */
const scale = 3;

/** The part map laid out: each part with its outline as a path, its middle, and where its tag goes. */
export interface MapLayout {
  width: number;
  height: number;
  parts: { tag: string; path: string; middle: { x: number; y: number }; place: readonly [number, number] | null }[];
}

/** Lays the part map out: the parts apart, their tags at the sides with leaders that do not cross. */
export function mapLayout({ wide, high, parts: all }: NonNullable<DivideReport['map']>): MapLayout {
  // of crumbs that were divided off once nothing was drawn
  const parts = all.filter((p) => p.rings.some((ring) => ring.length > 0));
  const width = scale * wide + 2 * side;
  const height = scale * high + over + under;
  const middles = parts.map(({ rings }) => {
    const xs = rings.flatMap((r) => r.filter((_, i) => i % 2 === 0));
    const ys = rings.flatMap((r) => r.filter((_, i) => i % 2 === 1));
    const middle = (v: number[]): number => (Math.min(...v) + Math.max(...v)) / 2;
    return { x: side + scale * middle(xs), y: over + scale * middle(ys) };
  });
  // the last drawn lies nearest
  const places = placeTags(
    middles.map((m, i) => ({ ...m, depth: -i })),
    width,
    height,
  );
  const outline = (ring: number[]): string =>
    `M${ring.map((v, i) => (i % 2 === 0 ? side : over) + scale * v).join(' ')}Z`;
  return {
    width,
    height,
    parts: parts.map(({ tag, rings }, i) => ({
      tag,
      path: rings.map(outline).join(''),
      middle: middles[i],
      place: places[i] ?? null,
    })),
  };
}

/** The part map as a drawing. @returns SVG */
export function mapSvg(map: NonNullable<DivideReport['map']>): string {
  const { width, height, parts } = mapLayout(map);
  const drawn = parts.map(
    ({ path }, i) => `<path fill="hsl(${(38 + 137.508 * i) % 360} 20% 78%)" fill-rule="evenodd" d="${path}"/>`,
  );
  const tags = parts.flatMap(({ tag, place, middle }) => {
    if (!place) return [];
    const [x, y] = place;
    return [
      `<line x1="${x}" y1="${y}" x2="${middle.x}" y2="${middle.y}"/>`,
      `<text x="${x}" y="${y + 4}" text-anchor="middle">${tag}</text>`,
    ];
  });
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" font-family="sans-serif" font-size="12">`,
    '<style>path{stroke:#444;stroke-width:.8}line{stroke:#888;stroke-width:.6}text{paint-order:stroke;stroke:#fff;stroke-width:4}</style>',
    ...drawn,
    ...tags,
    '</svg>',
    '',
  ].join('\n');
}
