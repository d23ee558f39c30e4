import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Scheme } from './tokens.ts';

export type DisplayUnit = 'mm' | 'in';

/** Something worth telling, such as a failed request. */
export interface Notice {
  text: string;
  hint: string;
  tone: 'note' | 'failure';
}

/** A change that was refused because prints would be of no use: it can be asked for again with the word that it may. */
export interface AskedAgain {
  endpoint: string;
  args: object;
  message: string;
}

export interface UiState {
  unit: DisplayUnit;
  /** in this browser somebody has chosen it, or the workshop's was taken */
  unitChosen: boolean;
  scheme: Scheme;
  keysOpen: boolean;
  jobsOpen: boolean;
  /** can the server be heard? */
  link: 'up' | 'down';
  /** the printer that is thought of at every stop of a project, by its id; where none is, the first there is */
  printerOf: Record<string, string>;
  /** files of the last drop that could not be read, with why */
  refused: { projectId: string; fileName: string; why: string }[];
  /** import jobs whose failure was read */
  forgotten: string[];
  /** files on their way to the server */
  uploads: { projectId: string; fileName: string }[];
  /** files of a known name with new bytes, which may take the place of a piece's own */
  versions: { projectId: string; file: string; sourceHash: string; bodyId: string; name: string }[];
  /** what is to be said next */
  notice: Notice | null;
  /** the change that waits for a word; null while none does */
  atStake: AskedAgain | null;
}

const stored = <T extends string>(key: string, allowed: readonly T[]): T | null => {
  try {
    const value = localStorage.getItem(key);
    return allowed.find((a) => a === value) ?? null;
  } catch {
    return null;
  }
};

const keptPrinters = (): Record<string, string> => {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem('jasmorphe.printers') ?? '{}');
    return typeof kept === 'object' && kept !== null && !Array.isArray(kept) ? { ...kept } : {};
  } catch {
    return {};
  }
};

const initialState: UiState = {
  unit: stored('jasmorphe.unit', ['mm', 'in'] as const) ?? 'mm',
  unitChosen: stored('jasmorphe.unit', ['mm', 'in'] as const) !== null,
  scheme:
    stored('jasmorphe.scheme', ['light', 'dark'] as const) ??
    (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'),
  keysOpen: false,
  jobsOpen: false,
  link: 'up',
  printerOf: keptPrinters(),
  refused: [],
  forgotten: [],
  uploads: [],
  versions: [],
  notice: null,
  atStake: null,
};

/** Choices of the person at the screen. Unit and scheme are kept in the browser. */
export const uiSlice = createSlice({
  name: 'ui',
  initialState,
  reducers: {
    setUnit: (s, a: PayloadAction<DisplayUnit>) => {
      s.unit = a.payload;
      s.unitChosen = true;
    },
    setScheme: (s, a: PayloadAction<Scheme>) => void (s.scheme = a.payload),
    toggleKeys: (s) => void (s.keysOpen = !s.keysOpen),
    toggleJobs: (s) => void (s.jobsOpen = !s.jobsOpen),
    setLink: (s, a: PayloadAction<UiState['link']>) => void (s.link = a.payload),
    setPrinter: (s, a: PayloadAction<{ projectId: string; id: string }>) =>
      void (s.printerOf[a.payload.projectId] = a.payload.id),
    refuse: (s, a: PayloadAction<UiState['refused'][number]>) => void s.refused.push(a.payload),
    forgetRefused: (s, a: PayloadAction<string[]>) => {
      s.refused = [];
      s.forgotten.push(...a.payload);
    },
    setUploads: (s, a: PayloadAction<UiState['uploads']>) => void (s.uploads = a.payload),
    offerVersions: (s, a: PayloadAction<UiState['versions']>) =>
      void (s.versions = [...s.versions.filter((v) => !a.payload.some((n) => n.bodyId === v.bodyId)), ...a.payload]),
    forgetVersion: (s, a: PayloadAction<string>) =>
      void (s.versions = s.versions.filter((v) => v.sourceHash !== a.payload)),
    say: (s, a: PayloadAction<UiState['notice']>) => void (s.notice = a.payload),
    askAgain: (s, a: PayloadAction<AskedAgain | null>) => void (s.atStake = a.payload),
  },
});

export const {
  setUnit,
  setScheme,
  toggleKeys,
  toggleJobs,
  setLink,
  setPrinter,
  refuse,
  forgetRefused,
  setUploads,
  offerVersions,
  forgetVersion,
  say,
  askAgain,
} = uiSlice.actions;
