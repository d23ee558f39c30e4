import type { BodyView } from '@jasmorphe/contracts/views';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import { figures } from '@jasmorphe/core/trade/figures';
import type { BenchState } from '../bench/benchSlice.ts';

export const toolIds = ['crop', 'mirror', 'foot', 'refine', 'simplify', 'thicken', 'scan'] as const;
export type ToolId = (typeof toolIds)[number];

/** A figure of a tool that the maker may change. */
export interface ToolField {
  id: string;
  label: string;
  hint: string;
  kind: 'length' | 'whole' | 'degrees' | 'place';
  /** shown and sent until it is changed; none is left out */
  value: number | null;
}

/** One answer of a tool: what it is called and what it sends. Without params it cannot be worked out yet. */
export interface ToolOption {
  name: string;
  params: Record<string, unknown> | null;
  /** what is missing */
  wants?: string;
}

/** What else can be done with a skin beside mending it, as a question with its answers side by side. */
export interface Tool {
  id: ToolId & OperationName;
  summary: string;
  question: string;
  lead: string;
  /** a place on the model may be picked */
  asksForPoint?: boolean;
  fields: (body: BodyView) => ToolField[];
  options: (body: BodyView, values: Record<string, number | null>, bench: BenchState) => ToolOption[];
  /** the answer to begin with */
  advised: (body: BodyView) => number;
}

const diagonal = (body: BodyView): number => Math.hypot(...Object.values(body.mesh.facts.size));
const round = (x: number): number => Number(x.toPrecision(2));
const has = (body: BodyView, code: string): boolean =>
  body.mesh.facts.findings.some((f) => f.code.replace(/-\d+$/, '') === code);

const crop: Tool = {
  id: 'crop',
  summary: 'Take off the ground, strays, or all outside a box',
  question: 'What does not belong to the model?',
  lead: 'Cut edges stay open for Mend to close.',
  asksForPoint: true,
  fields: (body) => {
    const { min, max } = body.mesh.facts;
    return (['x', 'y', 'z'] as const).flatMap((k) => [
      { id: `min${k}`, label: `Box from ${k}`, hint: 'Lower side of the box', kind: 'place' as const, value: min[k] },
      { id: `max${k}`, label: `Box to ${k}`, hint: 'Upper side of the box', kind: 'place' as const, value: max[k] },
    ]);
  },
  options: (body, v, bench) => {
    const { min, max } = body.mesh.facts;
    const s = bench.section;
    const axis = s ? (['x', 'y', 'z'] as const)[s.axis] : 'x';
    // the bench keeps the far side along x and z, the near one along y
    const sign = s?.axis === 1 ? 1 : -1;
    const at = s ? min[axis] + s.share * (max[axis] - min[axis]) : 0;
    const moved = (['x', 'y', 'z'] as const).some((k) => v[`min${k}`] !== min[k] || v[`max${k}`] !== max[k]);
    return [
      { name: 'Ground', params: { ground: true, keep: 'largest' } },
      { name: 'Strays', params: { keep: 'largest' } },
      bench.points.length > 0
        ? { name: 'Picked', params: { keep: 'picked', at: bench.points[0] } }
        : { name: 'Picked', params: null, wants: 'Click the piece to keep on the bench.' },
      moved
        ? {
            name: 'Box',
            params: { min: [v.minx, v.miny, v.minz], max: [v.maxx, v.maxy, v.maxz] },
          }
        : s
          ? {
              name: 'Section',
              params: { normal: [0, 1, 2].map((k) => (k === s.axis ? sign : 0)), offset: sign * at },
            }
          : {
              name: 'Box',
              params: null,
              wants: 'Change a side of the box below, or turn the section on to cut there.',
            },
    ];
  },
  advised: (body) => (has(body, 'ground') ? 0 : 1),
};

const mirror: Tool = {
  id: 'mirror',
  summary: 'Make a whole of half a model, its seam welded',
  question: 'Across which seam shall the half be mirrored?',
  lead: 'The seam is found from the open edges, or lies where you say.',
  fields: () => [
    { id: 'at', label: 'Seam at', hint: 'Along the axis; found if left empty', kind: 'place', value: null },
    { id: 'weld', label: 'Weld within', hint: 'Points this near are set on the seam', kind: 'length', value: null },
  ],
  options: (_, v) => [
    { name: 'As found', params: { ...(v.weld ? { weld: v.weld } : {}) } },
    ...(['x', 'y', 'z'] as const).map((axis) => ({
      name: axis,
      params: { axis, ...(v.at === null ? {} : { at: v.at }), ...(v.weld ? { weld: v.weld } : {}) },
    })),
  ],
  advised: () => 0,
};

const foot: Tool = {
  id: 'foot',
  summary: 'Cut the bottom flat to stand on',
  question: 'How much shall come off the bottom?',
  lead: 'The lowest cut that gives most of the contact to be had low down is proposed.',
  fields: () => [{ id: 'height', label: 'Cut off', hint: 'Your own height', kind: 'length', value: null }],
  options: (body, v) => [
    { name: 'Proposed', params: {} },
    { name: '1 %', params: { height: round(body.mesh.facts.size.z * 0.01) } },
    { name: '5 %', params: { height: round(body.mesh.facts.size.z * 0.05) } },
    v.height
      ? { name: 'Yours', params: { height: v.height } }
      : { name: 'Yours', params: null, wants: 'Type a height below.' },
  ],
  advised: () => 0,
};

const refine: Tool = {
  id: 'refine',
  summary: 'Round off the facets of a coarse sculpt, creases kept',
  question: 'How far may facets stand off the curve?',
  lead: 'Old corners stay where they are; flats and creases stay flat and sharp.',
  fields: () => [
    {
      id: 'crease',
      label: 'Creases from',
      hint: 'Edges folded more sharply stay sharp',
      kind: 'degrees',
      value: figures.creaseDeg.value,
    },
    { id: 'tolerance', label: 'Tolerance', hint: 'Your own', kind: 'length', value: null },
  ],
  options: (_, v) => {
    const t = v.tolerance ?? figures.facetMm.value;
    return [t * 2, t, t / 2].map((x) => ({
      name: `${round(x)} mm`,
      params: { tolerance: round(x), ...(v.crease ? { crease: v.crease } : {}) },
    }));
  },
  advised: () => 1,
};
const simplify: Tool = {
  id: 'simplify',
  summary: 'Take triangles out of a heavy scan where they tell nothing',
  question: 'How far may the skin move?',
  lead: 'Fewer triangles make every later step quicker. What moves is measured both ways.',
  fields: () => [{ id: 'tolerance', label: 'Tolerance', hint: 'Your own', kind: 'length', value: null }],
  options: (body, v) => {
    const t = v.tolerance ?? diagonal(body) / 5000;
    return [t / 3, t, t * 3].map((x) => ({ name: `${round(x)} mm`, params: { tolerance: round(x) } }));
  },
  advised: () => 1,
};

const scan: Tool = {
  id: 'scan',
  summary: 'Make a dirty scan of a clean model, to practise mending on',
  question: 'How bad shall the scan be?',
  lead: 'Noise, holes where a camera does not see, crumbs, ground, triangles turned round. Undo brings the model back.',
  fields: () => [{ id: 'seed', label: 'Seed', hint: 'Another seed, another scan', kind: 'whole', value: 1 }],
  options: (_, v) =>
    [
      { name: 'Careful', severity: 0.15 },
      { name: 'Usual', severity: 0.5 },
      { name: 'Hopeless', severity: 1 },
    ].map((o) => ({ name: o.name, params: { severity: o.severity, seed: v.seed ?? 1 } })),
  advised: () => 1,
};

const thicken: Tool = {
  id: 'thicken',
  summary: 'Grow walls that are too thin, and only those',
  question: 'Where shall thin walls grow?',
  lead: 'Walls thicker than the least keep every triangle. A wall with one open and one sheltered side can grow on either.',
  fields: () => [
    {
      id: 'min',
      label: 'Least wall',
      hint: figures.thinWallMm.reason,
      kind: 'length',
      value: figures.thinWallMm.value,
    },
  ],
  options: (_, v) =>
    [
      { name: 'Both sides', side: 'both' },
      { name: 'Outward', side: 'outward' },
      { name: 'Inward', side: 'inward' },
    ].map((o) => ({ name: o.name, params: { side: o.side, ...(v.min === null ? {} : { min: v.min }) } })),
  advised: () => 0,
};

export const tools: Record<ToolId, Tool> = { crop, mirror, foot, refine, simplify, thicken, scan };
