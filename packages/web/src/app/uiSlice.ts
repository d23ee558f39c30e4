import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { Scheme } from './tokens.ts';

export type DisplayUnit = 'mm' | 'in';

export interface UiState {
  unit: DisplayUnit;
  scheme: Scheme;
  keysOpen: boolean;
  jobsOpen: boolean;
  /** last thing worth telling, such as a failed request */
  notice: { text: string; hint: string; tone: 'note' | 'failure' } | null;
}

const stored = <T extends string>(key: string, allowed: readonly T[]): T | null => {
  try {
    const value = localStorage.getItem(key);
    return allowed.find((a) => a === value) ?? null;
  } catch {
    return null;
  }
};

const initialState: UiState = {
  unit: stored('jasmorphe.unit', ['mm', 'in'] as const) ?? 'mm',
  scheme:
    stored('jasmorphe.scheme', ['light', 'dark'] as const) ??
    (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'),
  keysOpen: false,
  jobsOpen: false,
  notice: null,
};

/** Choices of the person at the screen. Unit and scheme are kept in the browser. */
export const uiSlice = createSlice({
  name: 'ui',
  initialState,
  reducers: {
    setUnit: (s, a: PayloadAction<DisplayUnit>) => void (s.unit = a.payload),
    setScheme: (s, a: PayloadAction<Scheme>) => void (s.scheme = a.payload),
    toggleKeys: (s) => void (s.keysOpen = !s.keysOpen),
    toggleJobs: (s) => void (s.jobsOpen = !s.jobsOpen),
    say: (s, a: PayloadAction<UiState['notice']>) => void (s.notice = a.payload),
  },
});

export const { setUnit, setScheme, toggleKeys, toggleJobs, say } = uiSlice.actions;
