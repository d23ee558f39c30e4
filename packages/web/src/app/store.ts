import { configureStore, createListenerMiddleware, type Middleware } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { benchSlice } from '../bench/benchSlice.ts';
import { api, wordsOf } from './api.ts';
import { jobEnded } from './jobEnded.ts';
import { settlePreviews } from './previewApi.ts';
import { askAgain, say, setPrinter, setScheme, setUnit, uiSlice, type UiState } from './uiSlice.ts';

/** Keeps the display choices in the browser. */
const keepChoices: Middleware =
  ({ getState }) =>
  (next) =>
  (action) => {
    const result = next(action);
    try {
      if (setUnit.match(action)) localStorage.setItem('jasmorphe.unit', action.payload);
      if (setScheme.match(action)) localStorage.setItem('jasmorphe.scheme', action.payload);
      if (setPrinter.match(action)) {
        // of the last hundred projects
        const { ui } = getState() as { ui: UiState };
        const last = Object.entries(ui.printerOf).slice(-100);
        localStorage.setItem('jasmorphe.printers', JSON.stringify(Object.fromEntries(last)));
      }
    } catch {
      // without storage the choice lasts for this visit
    }
    return result;
  };

/** Mutations whose refusals are shown where they were asked for. */
const quiet = ['dropKit'];

interface MutationEnded {
  type?: string;
  payload?: unknown;
  meta?: { arg?: { endpointName?: string; originalArgs?: object } };
}

/**
 * Says every refused change out loud, once, wherever it was asked for. One that waits for a word about prints is asked about
 * instead.
 */
const sayRefusals: Middleware =
  ({ dispatch }) =>
  (next) =>
  (action) => {
    const { type, payload, meta } = action as MutationEnded;
    const endpoint = meta?.arg?.endpointName ?? '';
    if (type === 'api/executeMutation/rejected' && !quiet.includes(endpoint)) {
      const { code, message, hint } = wordsOf(payload);
      if (code === 'prints-at-stake') dispatch(askAgain({ endpoint, args: meta?.arg?.originalArgs ?? {}, message }));
      else dispatch(say({ text: message, hint, tone: 'failure' }));
    }
    return next(action);
  };

const followJobs = createListenerMiddleware();
followJobs.startListening({
  actionCreator: jobEnded,
  effect: ({ payload }, { dispatch, getState }) =>
    settlePreviews(dispatch as AppDispatch, getState as () => RootState, payload),
});

export const store = configureStore({
  reducer: { ui: uiSlice.reducer, bench: benchSlice.reducer, [api.reducerPath]: api.reducer },
  middleware: (defaults) => defaults().concat(followJobs.middleware, api.middleware, keepChoices, sayRefusals),
});

export type AppDispatch = typeof store.dispatch;
export type RootState = ReturnType<typeof store.getState>;
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
