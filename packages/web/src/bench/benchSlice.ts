import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export type BenchView = 'fit' | 'front' | 'right' | 'top' | 'corner';

export type CompareMode = 'before' | 'after' | 'swipe' | 'map' | 'lost';

/** Two states of the skin to look at against each other. */
export interface Comparison {
  before: string;
  after: string;
  mode: CompareMode;
}

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
  comparison: Comparison | null;
  /** how far from the left the new skin begins in a swipe, share of the width */
  swipe: number;
  /** a place picked on the model, mm; only while something asks for one */
  point: [number, number, number] | null;
  asksForPoint: boolean;
  /** counts up with every wish to look from somewhere */
  view: { name: BenchView; n: number };
}

const initialState: BenchState = {
  section: null,
  explode: 0,
  companion: false,
  finding: null,
  partId: null,
  comparison: null,
  swipe: 0.5,
  point: null,
  asksForPoint: false,
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
    compare: (s, a: PayloadAction<Comparison | null>) => void (s.comparison = a.payload),
    setSwipe: (s, a: PayloadAction<number>) => void (s.swipe = Math.min(1, Math.max(0, a.payload))),
    askForPoint: (s, a: PayloadAction<boolean>) => {
      s.asksForPoint = a.payload;
      if (!a.payload) s.point = null;
    },
    pickPoint: (s, a: PayloadAction<BenchState['point']>) => void (s.point = a.payload),
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
  compare,
  setSwipe,
  askForPoint,
  pickPoint,
  look,
  clearBench,
} = benchSlice.actions;
