import type { Finding } from '@jasmorphe/core/inspect/Finding';
import type { CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type BenchView = 'fit' | 'front' | 'right' | 'top' | 'corner';

export type CompareMode = 'before' | 'after' | 'swipe' | 'map' | 'lost';

/** Two states of the skin to look at against each other. */
export interface Comparison {
  before: string;
  after: string;
  mode: CompareMode;
}

/** A body to size by, as it stands on the bench. */
export interface PlacedBody {
  /** of the reference it shows */
  id: string;
  hash: string;
  move: [number, number, number];
  turn: [number, number, number];
  /** what the handles do; none are shown when null */
  handles: 'move' | 'turn' | null;
}

/** A cut in hand: its plane on the bench, with handles. */
export interface HeldPlane {
  normal: [number, number, number];
  offset: number;
  /** a point of it, about which it leans */
  at: [number, number, number];
  handles: 'move' | 'turn';
}

/** A join that can be dragged along its face. */
export interface Peg {
  key: string;
  /** the part on which it is shown */
  partId: string;
  at: [number, number, number];
  normal: [number, number, number];
  acrossMm: number;
  own: boolean;
}

/** Parts that are put on others, as they are shown on the bench: only these, the first held off along their way. */
export interface ShownJoint {
  put: string[];
  on: string[];
  /** way in which they are moved on, length 1 */
  direction: [number, number, number];
}

/** A figure of the skin to show in colours. */
export type SkinMap =
  | { kind: 'thickness'; factor: number; leastMm: number }
  | { kind: 'clearance'; factor: number; liningMm: number };

/** Support tips of a part that are stepped through. */
export interface ShownTips {
  partId: string;
  list: { key: string; at: [number, number, number]; done: boolean }[];
  /** which is looked at */
  at: number;
  /** height of one layer, mm, and so many layers over the tip the part is cut off on the bench */
  layerMm: number;
  above: number;
}

/** A brush with which skin is painted, or wiped clean of paint. */
export interface Brush {
  radiusMm: number;
  wipes: boolean;
}

/** Dabs that are kept at most; as many as a plan takes. */
export const mostDabs = 400;

/** Dabs closer than this share of the brush are one. */
const dabsApart = 0.5;

export interface BenchState {
  /** cut plane: share of the way along the axis; null when off */
  section: { axis: 0 | 1 | 2; share: number } | null;
  /** 0 together, 1 fully apart */
  explode: number;
  /** a hand, or a figure for large things, stands beside the model */
  companion: boolean;
  /** number of the finding picked, from 1 */
  finding: number | null;
  partId: string | null;
  /** at Lay out and Print: the part in hand alone, as it lies on the bed */
  laid: boolean;
  /** how a part would lie that is looked at: rows of its rotation, and how far skin may lean out */
  lie: { partId: string; rows: number[][]; overhangDeg: number } | null;
  comparison: Comparison | null;
  /** how far from the left the new skin begins in a swipe, share of the width */
  swipe: number;
  /** places picked on the model, mm; a click beyond as many as are asked for begins anew */
  points: [number, number, number][];
  /** how many places are asked for; 0 when clicks pick nothing */
  asks: number;
  /** whether clicks pick on the model or on the body that is held against it */
  asksOn: 'model' | 'body';
  /** what one place of the model is asked for; empty where that is plain */
  purpose: '' | 'clean' | 'box' | 'face' | 'stop' | 'bare';
  /** what was measured, as lines of two ends x, y, z a segment */
  marks: number[][];
  body: PlacedBody | null;
  joint: ShownJoint | null;
  plane: HeldPlane | null;
  pegs: Peg[];
  /** a join that was dragged, until whoever decides has taken note */
  pegMoved: Pick<Peg, 'key' | 'at'> | null;
  map: SkinMap | null;
  tips: ShownTips | null;
  /** a part on the bed is shown up to that height alone, mm */
  upTo: { partId: string; mm: number } | null;
  brush: Brush | null;
  /** skin that is painted, as it is shown */
  painted: { at: [number, number, number]; radiusMm: number }[];
  /** counts up with every stroke that is done, for whoever keeps what was painted */
  strokes: number;
  /** what studies on screen have brought up */
  studied: Finding[];
  /** counts up with every wish to look from somewhere */
  view: { name: BenchView; n: number };
}

const initialState: BenchState = {
  section: null,
  explode: 0,
  companion: false,
  finding: null,
  partId: null,
  laid: true,
  lie: null,
  comparison: null,
  swipe: 0.5,
  points: [],
  asks: 0,
  asksOn: 'model',
  purpose: '',
  marks: [],
  body: null,
  joint: null,
  plane: null,
  pegs: [],
  pegMoved: null,
  map: null,
  tips: null,
  upTo: null,
  brush: null,
  painted: [],
  strokes: 0,
  studied: [],
  view: { name: 'corner', n: 0 },
};

/** What the bench shows beyond the model itself. */
export const benchSlice = createSlice({
  name: 'bench',
  initialState,
  reducers: {
    toggleSection: (s) => void (s.section = s.section ? null : { axis: 1, share: 0.5 }),
    setSection: (s, a: PayloadAction<BenchState['section']>) => void (s.section = a.payload),
    setExplode: (s, a: PayloadAction<number>) => void (s.explode = Math.min(1, Math.max(0, a.payload))),
    toggleCompanion: (s) => void (s.companion = !s.companion),
    pickFinding: (s, a: PayloadAction<number | null>) => void (s.finding = a.payload),
    pickPart: (s, a: PayloadAction<string | null>) => void (s.partId = a.payload),
    showLie: (s, a: PayloadAction<BenchState['lie']>) => void (s.lie = a.payload),
    toggleLaid: (s) => void (s.laid = !s.laid),
    compare: (s, a: PayloadAction<Comparison | null>) => void (s.comparison = a.payload),
    setSwipe: (s, a: PayloadAction<number>) => void (s.swipe = Math.min(1, Math.max(0, a.payload))),
    askForPoints: (s, a: PayloadAction<number>) => {
      s.asks = a.payload;
      s.asksOn = 'model';
      s.purpose = '';
      s.points = [];
    },
    askForPlace: (s, a: PayloadAction<BenchState['purpose']>) => {
      s.asks = 1;
      s.asksOn = 'model';
      s.purpose = a.payload;
      s.points = [];
    },
    askOnBody: (s) => {
      s.asks = 1;
      s.asksOn = 'body';
      s.points = [];
    },
    pickPoint: (s, a: PayloadAction<[number, number, number]>) => {
      if (s.points.length >= s.asks) s.points = [];
      s.points.push(a.payload);
    },
    dropPoints: (s) => void (s.points = []),
    setMarks: (s, a: PayloadAction<number[][]>) => void (s.marks = a.payload),
    showBody: (s, a: PayloadAction<PlacedBody | null>) => void (s.body = a.payload),
    moveBody: (s, a: PayloadAction<Pick<PlacedBody, 'move' | 'turn'>>) => {
      if (s.body) Object.assign(s.body, a.payload);
    },
    showJoint: (s, a: PayloadAction<ShownJoint | null>) => void (s.joint = a.payload),
    holdPlane: (s, a: PayloadAction<HeldPlane | null>) => void (s.plane = a.payload),
    movePlane: (s, a: PayloadAction<Pick<HeldPlane, 'normal' | 'offset' | 'at'>>) => {
      if (s.plane) Object.assign(s.plane, a.payload);
    },
    showPegs: (s, a: PayloadAction<Peg[]>) => void (s.pegs = a.payload),
    movePeg: (s, a: PayloadAction<BenchState['pegMoved']>) => {
      s.pegMoved = a.payload;
      const peg = s.pegs.find((p) => p.key === a.payload?.key);
      if (peg && a.payload) peg.at = a.payload.at;
    },
    holdBrush: (s, a: PayloadAction<Brush | null>) => void (s.brush = a.payload),
    showPainted: (s, a: PayloadAction<readonly CleanSpot[]>) =>
      void (s.painted = a.payload.map(({ at: [x, y, z], radiusMm }) => ({ at: [x, y, z], radiusMm }))),
    dab: (s, a: PayloadAction<[number, number, number]>) => {
      if (!s.brush) return;
      const { radiusMm, wipes } = s.brush;
      const [x, y, z] = a.payload;
      const far = ({ at }: CleanSpot): number => Math.hypot(at[0] - x, at[1] - y, at[2] - z);
      if (wipes) s.painted = s.painted.filter((spot) => far(spot) > radiusMm);
      else if (
        s.painted.length < mostDabs &&
        !s.painted.some((spot) => far(spot) < dabsApart * radiusMm && spot.radiusMm >= radiusMm)
      )
        s.painted.push({ at: a.payload, radiusMm });
    },
    endStroke: (s) => void s.strokes++,
    showUpTo: (s, a: PayloadAction<BenchState['upTo']>) => void (s.upTo = a.payload),
    /** shows tips of a part; whoever stands at one of that part stays where he is */
    showTips: (s, a: PayloadAction<Omit<ShownTips, 'at' | 'above'> | null>) => {
      const { at, above } = s.tips && s.tips.partId === a.payload?.partId ? s.tips : { at: 0, above: 1 };
      s.tips = a.payload && { ...a.payload, at: Math.min(at, Math.max(0, a.payload.list.length - 1)), above };
    },
    stepTips: (s, a: PayloadAction<number>) => {
      const n = s.tips?.list.length ?? 0;
      if (s.tips && n > 0) {
        s.tips.at = (((s.tips.at + a.payload) % n) + n) % n;
        s.tips.above = 1;
      }
    },
    stepLayers: (s, a: PayloadAction<number>) => {
      if (s.tips) s.tips.above += a.payload;
    },
    showMap: (s, a: PayloadAction<SkinMap | null>) => void (s.map = a.payload),
    tellStudied: (s, a: PayloadAction<Finding[]>) => void (s.studied = a.payload),
    look: (s, a: PayloadAction<BenchView>) => void (s.view = { name: a.payload, n: s.view.n + 1 }),
    clearBench: () => initialState,
  },
});

export const {
  toggleSection,
  setSection,
  setExplode,
  toggleCompanion,
  pickFinding,
  pickPart,
  toggleLaid,
  showLie,
  compare,
  setSwipe,
  askForPoints,
  askForPlace,
  askOnBody,
  pickPoint,
  dropPoints,
  setMarks,
  showBody,
  moveBody,
  showJoint,
  holdPlane,
  movePlane,
  showPegs,
  movePeg,
  showMap,
  showTips,
  showUpTo,
  stepTips,
  stepLayers,
  holdBrush,
  showPainted,
  dab,
  endStroke,
  tellStudied,
  look,
  clearBench,
} = benchSlice.actions;
