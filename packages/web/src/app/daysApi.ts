import type { BedfulView } from '@jasmorphe/contracts/dayViews';
import type { EndBedful } from '@jasmorphe/contracts/dayRequests';
import { api } from './api.ts';
import { asks, says } from './asking.ts';

/** Where a bedful belongs: what is said of it changes that model and its log. */
export type BedfulOf = Pick<BedfulView, 'id' | 'modelId'>;

const touched = ({ modelId }: { modelId: string }) =>
  ['Days', 'Log', 'Shelf', 'Workshop', { type: 'Body', id: modelId }] as const;

/** Bedfuls that were decided, and the days on which they are printed. */
export const daysApi = api.injectEndpoints({
  endpoints: (b) => ({
    days: b.query({ ...asks('GET /days'), providesTags: ['Days', 'Workshop'] }),
    otherwise: b.query({ ...asks('GET /days/otherwise'), providesTags: ['Days', 'Workshop'] }),
    hoursByLog: b.query({ ...asks('GET /days/hours'), providesTags: ['Days', 'Log', 'Workshop'] }),
    rates: b.query({ ...asks('GET /days/rates'), providesTags: ['Days', 'Log', 'Workshop'] }),
    bedfuls: b.query({
      ...asks('GET /bodies/{id}/bedfuls', (id: string) => ({ path: { id } })),
      providesTags: ['Days', 'Workshop'],
    }),
    projectBeds: b.query({
      ...asks('GET /projects/{id}/bedfuls', (id: string) => ({ path: { id } })),
      providesTags: ['Days', 'Workshop', 'Kit'],
    }),
    keepBedfuls: b.mutation({
      ...asks('POST /bodies/{id}/bedfuls', ({ modelId, stepId }: { modelId: string; stepId: string }) => ({
        path: { id: modelId },
        body: { stepId },
      })),
      invalidatesTags: ['Days'],
    }),
    undoBedfuls: b.mutation({
      ...asks('POST /bodies/{id}/bedfuls/undo', (modelId: string) => ({ path: { id: modelId } })),
      invalidatesTags: ['Days'],
    }),
    removeBedful: b.mutation({
      ...asks('DELETE /bedfuls/{id}', ({ id }: BedfulOf) => ({ path: { id } })),
      invalidatesTags: ['Days'],
    }),
    wantBedful: b.mutation({
      ...asks('PATCH /bedfuls/{id}', ({ id, wantedAt }: BedfulOf & { wantedAt: string | null }) => ({
        path: { id },
        body: { wantedAt },
      })),
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
    moveBedful: b.mutation({
      ...asks(
        'POST /bedfuls/{id}/move',
        ({ id, modelId: _, ...body }: BedfulOf & { printerId: string; wantedAt?: string }) => ({ path: { id }, body }),
      ),
      invalidatesTags: ['Days'],
    }),
    startBedful: b.mutation({
      ...says('POST /bedfuls/{id}/start', ({ id }: BedfulOf) => ({ path: { id }, body: {} })),
      invalidatesTags: (_r, _e, of) => [...touched(of)],
    }),
    endBedful: b.mutation({
      ...says('POST /bedfuls/{id}/end', ({ id, modelId: _, ...body }: BedfulOf & Partial<EndBedful>) => ({
        path: { id },
        body,
      })),
      invalidatesTags: (_r, _e, of) => [...touched(of)],
    }),
    undoBedful: b.mutation({
      ...says('POST /bedfuls/{id}/undo', ({ id }: BedfulOf) => ({ path: { id } })),
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
