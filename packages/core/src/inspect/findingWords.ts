import { areaText, fixed, speakers, type ShownUnit, type Speaker, whole } from '../words/numbers.ts';
import { stopText, stopTroubleText } from '../trade/stopKinds.ts';
import type { Finding, FindingKind, FindingValues } from './Finding.ts';

/** How the figures of findings are said: with the unit, and without where it is said once for two. */
export interface FindingSpeaker extends Speaker {
  bare: (mm: number) => string;
  /** an area that may be a few mm² */
  small: (mm2: number) => string;
}

/** Three digits or so, whatever the size. */
const figure = (value: number): string =>
  value >= 100
    ? value.toFixed(0)
    : value >= 10
      ? value.toFixed(1)
      : value >= 0.01
        ? value.toFixed(2)
        : value.toPrecision(1);

const speaker = (unit: ShownUnit): FindingSpeaker => {
  const bare = (mm: number) => figure(unit === 'in' ? mm / 25.4 : mm);
  return {
    ...speakers[unit],
    bare,
    length: (mm) => `${bare(mm)} ${unit}`,
    area: (mm2) => (unit === 'in' ? `${figure(mm2 / 25.4 ** 2)} in²` : `${figure(mm2 / 100)} cm²`),
    small: (mm2) =>
      unit === 'in'
        ? `${figure(mm2 / 25.4 ** 2)} in²`
        : mm2 < 0.1
          ? 'under 0.1 mm²'
          : mm2 < 50
            ? `${fixed(mm2, 1)} mm²`
            : areaText(mm2),
  };
};
const findingSpeakers = { mm: speaker('mm'), in: speaker('in') };

/** A part by its tag, where it has one. */
const of = (tag: string): string => tag || 'It';

const counted = (n: number, one: string, many: string): string => `${whole(n)} ${n === 1 ? one : many}`;
const listed = (tags: readonly string[]): string => `${tags.slice(0, 6).join(', ')}${tags.length > 6 ? ' …' : ''}`;

/** What is said of each kind. */
const sentences: { [K in FindingKind]: (v: FindingValues[K], say: FindingSpeaker) => string } = {
  'open-loops': (v, { length }) =>
    'more' in v
      ? `${counted(v.more, 'more open loop', 'more open loops')}, none over ${length(v.lengthMm)} round.`
      : `Open loop ${v.place} of ${v.of}, ${length(v.lengthMm)} round, ${v.bentMm === 0 ? 'flat' : `bent by ${length(v.bentMm)}`}. Without closing it there is no inside.`,
  half: (v, { bare }) =>
    `All open edges lie in the plane ${v.axis} = ${bare(v.atMm)}, with the model on one side of it: half of a mirrored model? Then mirror it, or set the open loops aside.`,
  ground: (v, { bare, length }) =>
    `A patch of ground, ${bare(v.longMm)} × ${length(v.wideMm)}, flat within ${length(v.flatMm)}. Crop it off before mending.`,
  buried: (v, { length }) =>
    `A skin ${length(v.spanMm)} across lies buried inside the body. It would print as a wall where nothing should be.`,
  'inside-out': (v, { length }) =>
    v.spanMm === null
      ? 'The skin faces inward: the body is inside out.'
      : `A shell ${length(v.spanMm)} across faces inward and lies in no other: it is inside out.`,
  crumbs: (v, { length }) =>
    `${counted(v.crumbs, 'crumb', 'crumbs')}, each under ${length(v.underMm)} across. Mending drops them unless told to keep them.`,
  shells: (v) => `${v.shells} separate shells. Where they overlap they must become one skin.`,
  crossings: (v, { length }) => {
    if ('more' in v)
      return `${v.atLeast ? 'Over ' : ''}${counted(v.more, 'more pair', 'more pairs')} of triangles cross or touch, at ${counted(v.places, 'smaller place', 'smaller places')}.`;
    const who =
      v.shells === 1
        ? 'The skin crosses itself'
        : v.shells === 2
          ? `Two shells, ${v.sizesMm.map(length).join(' and ')}, overlap`
          : `${v.shells} shells overlap`;
    return `${who}: ${v.triangles} triangles cross${v.lengthMm > 0 ? `, along ${length(v.lengthMm)}` : ' or lie on one another'}. Walls would print inside the body.`;
  },
  'non-manifold-edges': (v) => `${counted(v.edges, 'edge joins', 'edges join')} more than two sheets of skin.`,
  'inconsistent-edges': (v) => `Along ${counted(v.edges, 'edge', 'edges')} one side faces out and the other in.`,
  'non-manifold-vertices': (v) => `At ${counted(v.points, 'point', 'points')} two sheets touch in a single point.`,
  duplicates: (v) => `${counted(v.triangles, 'triangle lies', 'triangles lie')} on another with the same corners.`,
  degenerate: (v) => `${counted(v.triangles, 'triangle has', 'triangles have')} no area.`,
  facets: (v, { length }) =>
    `Facets will show at this size: flats stand up to ${length(v.riseMm)} off a smooth curve, at ${counted(v.edges, 'edge', 'edges')}.`,
  'near-skins': (v, { length, area }) =>
    `Two skins lie within ${length(v.leastMm)} of each other over ${area(v.areaMm2)}. Move them apart or unite them.`,
  'thin-walls': (v, { length, area }) =>
    `A wall is only ${length(v.leastMm)} thick at this size, over ${area(v.areaMm2)}. It may vanish or break.`,
  'thin-gaps': (v, { length, area }) =>
    `A gap is only ${length(v.leastMm)} wide at this size, over ${area(v.areaMm2)}. It will close in printing.`,
  'file-note': (v) => v.text,
  'said-before': (v) => v.text,
  'unit-guess': (v) => `The file states no unit. ${v.unit} was taken: ${v.reason}.`,
  undrained: (v) =>
    `${counted(v.cavities, 'cavity has', 'cavities have')} fewer than two drains. Nothing for filament; a resin print could be torn off the plate.`,
  'too-large': (v, { length }) =>
    `${v.tag || 'A part'} does not fit the bed in any pose${v.overMm ? `: ${length(v.overMm)} too long` : ''}.`,
  'join-left-out': (v) =>
    v.why === 'noFace'
      ? 'A join was placed where no two parts meet; it was left out.'
      : 'A join was placed where a hole for it would come through the skin or into another; it was left out.',
  'faces-bare': (v) =>
    `${v.of === 1 ? 'The cut face has no' : v.bare === v.of ? `None of the ${v.of} cut faces has` : `${v.bare} of ${v.of} cut faces ${v.bare === 1 ? 'has' : 'have'} no`} room for ${v.join}: too little flesh there. Glue alone holds; try a smaller join, or bands in a shell.`,
  'could-mix': (v) =>
    `${counted(v.pairs.length, 'face fits', 'faces fit')} where another belongs, pins and outline: ${listed(v.pairs)}. Go by the tags.`,
  interlocked: (v) =>
    `${listed(v.tags)} ${v.tags.length === 1 ? 'comes' : 'come'} off in no straight way that was tried. Cut there with a plane, or once more.`,
  slivers: (v, { length }) =>
    `${counted(v.tags.length, 'part is a sliver', 'parts are slivers')} under ${length(v.underMm).replace('.0 ', ' ')}: ${listed(v.tags)}.`,
  'too-fast': (v, { length }) =>
    `Layers ${v.fromLayer + 1} to ${v.toLayer + 1}, from ${length(v.fromMm)} to ${length(v.toMm)}, are laid in as little as ${fixed(v.leastS, 1)} s: too fast to set. Print slower there, or two at once.`,
  'stands-out': (v, { length }) =>
    `${v.tag ? `${v.tag}: what` : 'What'} is put in stands out by ${length(v.byMm)} when the roof begins: the head would hit it.`,
  'no-stop': (v) =>
    `${v.tag ? `${v.tag}: a` : 'A'} stop (${stopText({ ...v, words: '' })}) comes to nothing: ${stopTroubleText(v.trouble)}.`,
  'stops-lapsed': (v) => `${v.tag} lies otherwise, or was cut anew, since its stops were kept. Keep them anew.`,
  'no-strut': (v) =>
    `${counted(v.places, 'tip is', 'tips are')} reached by no straight strut. Let struts stand on the part, or lay it otherwise.`,
  'off-bed': (v) => `${of(v.tag)} reaches beyond the bed as it lies. Lay it on another side.`,
  topples: (v, { length, small }) => {
    const { tipDeg, heldDeg = tipDeg, footMm2, heightMm } = v;
    const foot =
      footMm2 === undefined || heightMm === undefined
        ? ''
        : `, ${length(heightMm)} high on a foot of ${small(footMm2)},`;
    if (heldDeg < 0)
      return `${of(v.tag)}${foot} falls over by itself as it lies. Lay it on another side, or give it a raft.`;
    const against = 'a brim of about 8 mm, slower, and a lift of the nozzle while it travels keep it up';
    return tipDeg < 0
      ? `${of(v.tag)}${foot} is held up by its support alone, and is easily knocked over: ${against}.`
      : `${of(v.tag)}${foot} falls over when it leans by ${fixed(tipDeg, 0)}°${heldDeg > tipDeg + 0.5 ? ' without its support' : ''}: ${against}.`;
  },
  cup: (v, { length, volume }) =>
    `${v.tag ? `${v.tag}: a` : 'A'} hollow of ${volume(v.volumeMm3, true)} is shut off against the film from ${length(v.fromMm)} up: it pulls at every layer and holds resin. Give it a hole low down, or lay it on another side.`,
  'starts-in-air': (v, { small }) =>
    `${v.tag && `${v.tag}: `}${counted(v.places, 'place starts', 'places start')} in mid-air, the largest ${small(v.largestMm2)}: each wants a support.`,
  'print-stopped': (v, { length }) => `${v.tag} stopped at ${length(v.heightMm)}. Decide what can be saved.`,
  'rest-waits': (v) => `${v.tag}, the rest of a part that stopped, waits to be printed.`,
  'to-mend': (v) => `${v.name}: ${counted(v.count, 'finding', 'findings')} to mend.`,
  'thin-place': (v, { length, area }) =>
    `A wall of ${length(v.leastMm)} over ${area(v.areaMm2)} is thinner than ${length(v.underMm)}.`,
  'place-denied': (v) =>
    `${v.place}: whole it ${v.way === 'stand' ? 'does not stand there' : v.way === 'pass' ? 'does not pass' : 'does not go in'}; ${(100 * v.largestFactor).toFixed(0)} % of this size would.${v.parts ? ` Dismantled, ${v.parts.fit} of ${v.parts.of} parts do.` : ''}`,
  contact: (v, { length, area }) =>
    v.through
      ? `The body comes through the skin at the ${v.region}, by ${length(v.deepestMm)}, over ${area(v.areaMm2)}.`
      : `It presses at the ${v.region}: ${length(v.deepestMm)} too little room over ${area(v.areaMm2)}, lining included.`,
};

/** A finding as a sentence or two, lengths in the unit of whoever reads it. */
export function findingSentence({ kind, values }: Pick<Finding, 'kind' | 'values'>, unit: 'mm' | 'in' = 'mm'): string {
  // its kind tells what figures it has; of one that only another version knows there are no words
  const say = sentences[kind] as ((v: typeof values, say: FindingSpeaker) => string) | undefined;
  return say?.(values, findingSpeakers[unit]) ?? '';
}

const certainty: Record<Finding['sure'], string> = {
  counted: 'counted, exactly',
  sampled: 'seen at points spread over the skin',
  likely: 'likely, by its shape',
};

/** How kinds were found, where that is not by looking at the skin. */
const methods: { [K in FindingKind]?: string } = {
  'file-note': 'read in the file',
  'unit-guess': 'from the largest side, common practice',
  undrained: 'common practice',
  'too-large': '3 000 poses, then a climb from the best',
  slivers: 'longest side of each part',
  'join-left-out': 'sections through the flesh around it',
  'faces-bare': 'sections through the flesh beside each face',
  'could-mix': 'every face tried on every other',
  interlocked: 'some thousand lines along each of up to 60 ways',
  'too-fast': 'lines of each layer at the speeds of the printer; layers set within 8 s (from memory)',
  'stands-out': 'from the ground of the hollow to the last layer under its roof',
  'no-stop': 'by the layers of the printer',
  'stops-lapsed': 'how it lies now against how it lay then',
  'no-strut': 'upright and leaning by up to 40°, twelve ways round',
  'off-bed': 'turned about the vertical in every way',
  topples: 'from the middle of the flesh to the side of what stands on the bed',
  cup: 'holes of the layers, followed upwards',
  'starts-in-air': 'layers at the heights of the printer',
  'print-stopped': 'print log',
  'rest-waits': 'print log',
  'to-mend': 'findings of the skin',
  'thin-place': 'rays along inward normals from 40 000 points of the skin',
  'place-denied': 'standing turned about the vertical, passing and lying in any pose',
  contact: 'signed distance from the body to the skin that faces it',
};

/** How a finding was come by. */
export const findingMethod = ({ kind, sure }: Pick<Finding, 'kind' | 'sure'>): string =>
  methods[kind] ?? certainty[sure];
