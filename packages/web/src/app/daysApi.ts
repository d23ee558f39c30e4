import type {
  BedfulsView,
  BedfulView,
  DaysOtherwise,
  DaysView,
  HoursByLog,
  ProjectBedsView,
  RateOfPrinter,
} from '@jasmorphe/contracts/dayViews';
import type { EndBedful } from '@jasmorphe/contracts/dayRequests';
import { api } from './api.ts';
import { sayingOnce } from './asking.ts';

/** Where a bedful belongs: what is said of it changes that model and its log. */
export type BedfulOf = Pick<BedfulView, 'id' | 'modelId'>;

const touched = ({ modelId }: { modelId: string }) =>
  ['Days', 'Log', 'Shelf', 'Workshop', { type: 'Body', id: modelId }] as const;

/** Bedfuls that were decided, and the days on which they are printed. */
export const daysApi = api.injectEndpoints({
  endpoints: (b) => ({
    days: b.query<DaysView, void>({ query: () => 'days', providesTags: ['Days', 'Workshop'] }),
    otherwise: b.query<DaysOtherwise, void>({ query: () => 'days/otherwise', providesTags: ['Days', 'Workshop'] }),
    hoursByLog: b.query<HoursByLog[], void>({ query: () => 'days/hours', providesTags: ['Days', 'Log', 'Workshop'] }),
    rates: b.query<RateOfPrinter[], void>({ query: () => 'days/rates', providesTags: ['Days', 'Log', 'Workshop'] }),
    bedfuls: b.query<BedfulsView, string>({
      query: (bodyId) => `bodies/${bodyId}/bedfuls`,
      providesTags: ['Days', 'Workshop'],
    }),
    projectBeds: b.query<ProjectBedsView, string>({
      query: (projectId) => `projects/${projectId}/bedfuls`,
      providesTags: ['Days', 'Workshop', 'Kit'],
    }),
    keepBedfuls: b.mutation<BedfulsView, { modelId: string; stepId: string }>({
      query: ({ modelId, stepId }) => ({ url: `bodies/${modelId}/bedfuls`, method: 'POST', body: { stepId } }),
      invalidatesTags: ['Days'],
    }),
    undoBedfuls: b.mutation<BedfulsView, string>({
      query: (modelId) => ({ url: `bodies/${modelId}/bedfuls/undo`, method: 'POST' }),
      invalidatesTags: ['Days'],
    }),
    removeBedful: b.mutation<void, BedfulOf>({
      query: ({ id }) => ({ url: `bedfuls/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Days'],
    }),
    wantBedful: b.mutation<BedfulView, BedfulOf & { wantedAt: string | null }>({
      query: ({ id, wantedAt }) => ({ url: `bedfuls/${id}`, method: 'PATCH', body: { wantedAt } }),
      // the next press of a key goes on from here, before the plan has followed
      async onQueryStarted({ id, wantedAt }, { dispatch, queryFulfilled }) {
        const patch = dispatch(
          daysApi.util.updateQueryData('days', undefined, (draft) => {
            const bedful = draft.bedfuls.find((b) => b.id === id);
            if (bedful) bedful.wantedAt = wantedAt;
          }),
        );
        await queryFulfilled.catch(() => patch.undo());
      },
      invalidatesTags: ['Days'],
    }),
    moveBedful: b.mutation<BedfulView, BedfulOf & { printerId: string; wantedAt?: string }>({
      query: ({ id, modelId: _, ...body }) => ({ url: `bedfuls/${id}/move`, method: 'POST', body }),
      invalidatesTags: ['Days'],
    }),
    startBedful: b.mutation<BedfulView, BedfulOf>({
      query: ({ id }) => sayingOnce({ url: `bedfuls/${id}/start`, method: 'POST', body: {} }),
      invalidatesTags: (_r, _e, of) => [...touched(of)],
    }),
    endBedful: b.mutation<BedfulView, BedfulOf & Partial<EndBedful>>({
      query: ({ id, modelId: _, ...body }) => sayingOnce({ url: `bedfuls/${id}/end`, method: 'POST', body }),
      invalidatesTags: (_r, _e, of) => [...touched(of)],
    }),
    undoBedful: b.mutation<BedfulView, BedfulOf>({
      query: ({ id }) => sayingOnce({ url: `bedfuls/${id}/undo`, method: 'POST' }),
      invalidatesTags: (_r, _e, of) => [...touched(of)],
    }),
  }),
});

export const {
  useDaysQuery,
  useOtherwiseQuery,
  useHoursByLogQuery,
  useRatesQuery,
  useBedfulsQuery,
  useProjectBedsQuery,
  useKeepBedfulsMutation,
  useUndoBedfulsMutation,
  useRemoveBedfulMutation,
  useWantBedfulMutation,
  useMoveBedfulMutation,
  useStartBedfulMutation,
  useEndBedfulMutation,
  useUndoBedfulMutation,
} = daysApi;
