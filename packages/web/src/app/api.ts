import { createApi } from '@reduxjs/toolkit/query/react';
import type { BodyView, ErrorBody, PartView, PlaceView, PrinterView } from '@jasmorphe/contracts/views';
import type { ChangeReference, CreateLogEntry, CreateReference } from '@jasmorphe/contracts/requests';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import type { LicenceId } from '@jasmorphe/core/trade/licences';
import type { SourceView } from '@jasmorphe/contracts/kitViews';
import { jobEnded } from './jobEnded.ts';
import { listenToServer } from './serverEvents.ts';
import { asks, baseQuery, onceOf, requestOf, saves, says, type Saved } from './asking.ts';
import { setLink } from './uiSlice.ts';

export interface NewStep {
  operation: OperationName;
  params: object;
}

/** A change that may make prints of no use: it is refused until that is said. */
export interface Losing {
  lose?: boolean;
}

/** A question of what an operation would give. */
export interface Asked extends NewStep {
  /** on the mesh after so many steps of the line; after those in force if left out */
  after?: number;
  /** asks for no work: only what was worked out before */
  ifKnown?: boolean;
}

/** What may be said of a project. */
export interface ProjectChange {
  name?: string;
  note?: string;
  archived?: boolean;
  /** empty: none */
  dueOn?: string;
  licence?: string;
  terms?: LicenceId;
  source?: SourceView;
}

/** The server's API. Server-sent events keep jobs current and tell which bodies and projects to fetch again. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery,
  tagTypes: ['Shelf', 'Project', 'Body', 'Log', 'Workshop', 'Jobs', 'Health', 'Preview', 'Kit', 'Days'],
  endpoints: (b) => ({
    shelf: b.query({ ...asks('GET /projects'), providesTags: ['Shelf'] }),
    project: b.query({
      ...asks('GET /projects/{id}', (id: string) => ({ path: { id } })),
      providesTags: (_r, _e, id) => [{ type: 'Project', id }],
    }),
    body: b.query({
      ...asks('GET /bodies/{id}', (id: string) => ({ path: { id } })),
      providesTags: (_r, _e, id) => [{ type: 'Body', id }],
    }),
    log: b.query({
      ...asks('GET /projects/{id}/log', (id: string) => ({ path: { id } })),
      providesTags: ['Log'],
    }),
    /** those that are printed with */
    printers: b.query({
      ...asks('GET /printers'),
      transformResponse: (all: PrinterView[]) => all.filter((p) => p.retiredAt === null),
      providesTags: ['Workshop'],
    }),
    health: b.query({ ...asks('GET /health'), providesTags: ['Health'] }),
    facts: b.query({
      ...asks('GET /meshes/{hash}/facts', (hash: string) => ({ path: { hash } })),
      keepUnusedDataFor: 600,
    }),
    jobs: b.query({
      ...asks('GET /jobs'),
      providesTags: ['Jobs'],
      async onCacheEntryAdded(_arg, { updateCachedData, cacheEntryRemoved, dispatch }) {
        // when the stream comes back after a gap it may have missed anything at all; previews that were answered stay so
        const caughtUp = () =>
          dispatch(
            api.util.invalidateTags([
              'Shelf',
              'Project',
              'Body',
              'Log',
              'Jobs',
              'Health',
              'Preview',
              'Kit',
              'Days',
              'Workshop',
            ]),
          );
        const stop = listenToServer(
          (event) => {
            if (event.type === 'job') {
              updateCachedData((list) => {
                const i = list.findIndex((j) => j.id === event.job.id);
                // a late progress report must not bring an ended job back to life
                if (i >= 0 && list[i].endedAt && !event.job.endedAt) return;
                if (i >= 0) list[i] = event.job;
                else list.unshift(event.job);
              });
              if (event.job.endedAt) {
                dispatch(jobEnded(event.job));
                if (event.job.batchId) dispatch(api.util.invalidateTags(['Kit']));
              }
              // however it ended, its body is free again
              if (event.job.endedAt && event.job.kind === 'line' && event.job.bodyId)
                dispatch(api.util.invalidateTags([{ type: 'Body', id: event.job.bodyId }]));
            } else if (event.type === 'body')
              dispatch(
                api.util.invalidateTags([{ type: 'Body', id: event.bodyId }, 'Shelf', 'Log', 'Days', 'Workshop']),
              );
            else if (event.type === 'workshop') dispatch(api.util.invalidateTags(['Workshop', 'Days']));
            else if (event.type === 'project')
              dispatch(api.util.invalidateTags([{ type: 'Project', id: event.projectId }, 'Shelf', 'Kit', 'Days']));
            else caughtUp();
          },
          {
            lost: () => dispatch(setLink('down')),
            back: () => {
              dispatch(setLink('up'));
              caughtUp();
            },
          },
        );
        await cacheEntryRemoved;
        stop();
      },
    }),
    createProject: b.mutation({
      ...asks('POST /projects', (body: { name: string; note?: string }) => ({ body })),
      invalidatesTags: ['Shelf'],
    }),
    removeProject: b.mutation({
      ...asks('DELETE /projects/{id}', (id: string) => ({ path: { id } })),
      invalidatesTags: ['Shelf'],
    }),
    runStep: b.mutation({
      ...asks(
        'POST /bodies/{id}/steps',
        ({ bodyId, ...body }: { bodyId: string; dry?: boolean } & NewStep & Losing) => ({
          path: { id: bodyId },
          body,
        }),
      ),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    editStep: b.mutation({
      ...asks(
        'PUT /bodies/{id}/steps/{index}',
        ({ bodyId, index, ...body }: { bodyId: string; index: number; params: object; dry?: boolean } & Losing) => ({
          path: { id: bodyId, index: String(index) },
          body,
        }),
      ),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    importAgain: b.mutation(
      asks('POST /bodies/{id}/imports', ({ bodyId, objects }: { bodyId: string; objects: 'apart' | 'together' }) => ({
        path: { id: bodyId },
        body: { objects },
      })),
    ),
    moveLine: b.mutation<BodyView, { bodyId: string; way: 'undo' | 'redo' } & Losing>({
      query: ({ bodyId, way, lose = false }) =>
        requestOf(`POST /bodies/{id}/${way}`, { path: { id: bodyId }, body: { lose } }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }, 'Shelf'],
    }),
    moveCursor: b.mutation({
      ...asks('POST /bodies/{id}/cursor', ({ bodyId, ...body }: { bodyId: string; cursor: number } & Losing) => ({
        path: { id: bodyId },
        body,
      })),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }, 'Shelf'],
    }),
    dismiss: b.mutation({
      ...asks(
        'POST /bodies/{id}/dismissals',
        ({ bodyId, ...body }: { bodyId: string; code: string; reason: string }) => ({ path: { id: bodyId }, body }),
      ),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    takeUp: b.mutation({
      ...asks('DELETE /bodies/{id}/dismissals/{code}', ({ bodyId, code }: { bodyId: string; code: string }) => ({
        path: { id: bodyId, code },
      })),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    tickJoint: b.mutation<unknown, { bodyId: string; key: string; done: boolean; anyway?: boolean }>({
      query: ({ bodyId: id, key, done, anyway }) =>
        done
          ? onceOf('PUT /bodies/{id}/joints/{key}', {
              path: { id, key },
              query: anyway ? { anyway: 'yes' } : undefined,
            })
          : onceOf('DELETE /bodies/{id}/joints/{key}', { path: { id, key } }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    tickTip: b.mutation<unknown, { partId: string; key: string; done: boolean }>({
      query: ({ partId: id, key, done }) =>
        onceOf(`${done ? 'PUT' : 'DELETE'} /bodies/{id}/tips/{key}`, { path: { id, key } }),
      invalidatesTags: (_r, _e, { partId }) => [{ type: 'Body', id: partId }],
    }),
    cancelJob: b.mutation(asks('POST /jobs/{id}/cancel', (id: string) => ({ path: { id } }))),
    places: b.query({ ...asks('GET /places'), providesTags: ['Workshop'] }),
    savePlace: b.mutation({
      ...saves('places', ({ id: _, ...place }: Saved<Partial<Omit<PlaceView, 'id'>>>) =>
        Object.fromEntries(Object.entries(place).filter(([, v]) => v !== null)),
      ),
      invalidatesTags: ['Workshop'],
    }),
    removePlace: b.mutation({
      ...asks('DELETE /places/{id}', (id: string) => ({ path: { id } })),
      invalidatesTags: ['Workshop'],
    }),
    addReference: b.mutation(
      asks('POST /bodies/{id}/references', ({ bodyId, ...body }: { bodyId: string } & Partial<CreateReference>) => ({
        path: { id: bodyId },
        body,
      })),
    ),
    uploadReference: b.mutation(
      asks('POST /bodies/{id}/references/scan', ({ bodyId, file }: { bodyId: string; file: File }) => {
        const body = new FormData();
        body.append('unit', 'auto');
        body.append('file', file);
        return { path: { id: bodyId }, body };
      }),
    ),
    changeReference: b.mutation({
      ...asks(
        'PATCH /references/{id}',
        ({ id, bodyId: _, ...body }: Partial<ChangeReference> & { id: string; bodyId: string }) => ({
          path: { id },
          body,
        }),
      ),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    removeReference: b.mutation({
      ...asks('DELETE /references/{id}', ({ id }: { id: string; bodyId: string }) => ({ path: { id } })),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    makeSample: b.mutation(
      asks('POST /bodies/{id}/samples', ({ bodyId, params }: { bodyId: string; params: object }) => ({
        path: { id: bodyId },
        body: params,
      })),
    ),
    addLog: b.mutation({
      ...says(
        'POST /projects/{id}/log',
        ({ projectId, modelId: _, ...body }: { projectId: string; modelId: string } & Partial<CreateLogEntry>) => ({
          path: { id: projectId },
          body,
        }),
      ),
      invalidatesTags: (_r, _e, { modelId }) => ['Log', 'Shelf', { type: 'Body', id: modelId }],
    }),
    movePrint: b.mutation<PartView, { partId: string; modelId: string; way: 'undo' | 'redo' }>({
      query: ({ partId, way }) => onceOf(`POST /bodies/{id}/print/${way}`, { path: { id: partId } }),
      invalidatesTags: (_r, _e, { partId, modelId }) => [
        'Log',
        'Shelf',
        { type: 'Body', id: modelId },
        { type: 'Body', id: partId },
      ],
    }),
    changeProject: b.mutation({
      ...asks('PATCH /projects/{id}', ({ id, ...body }: { id: string } & ProjectChange) => ({ path: { id }, body })),
      invalidatesTags: (_r, _e, { id }) => ['Shelf', 'Days', { type: 'Project', id }],
    }),
  }),
});

export const {
  useShelfQuery,
  useProjectQuery,
  useBodyQuery,
  useLogQuery,
  usePrintersQuery,
  useJobsQuery,
  useCreateProjectMutation,
  useRemoveProjectMutation,
  useRunStepMutation,
  useEditStepMutation,
  useMoveLineMutation,
  useMoveCursorMutation,
  useDismissMutation,
  useTickJointMutation,
  useTickTipMutation,
  useTakeUpMutation,
  useCancelJobMutation,
  useAddLogMutation,
  useMovePrintMutation,
  useImportAgainMutation,
  useChangeProjectMutation,
  useFactsQuery,
  useHealthQuery,
  usePlacesQuery,
  useSavePlaceMutation,
  useRemovePlaceMutation,
  useAddReferenceMutation,
  useUploadReferenceMutation,
  useChangeReferenceMutation,
  useRemoveReferenceMutation,
  useMakeSampleMutation,
} = api;

/** The server's own words for a failed request, or plain ones when it could not be reached. */
export function wordsOf(error: unknown): { code: string; message: string; hint: string; field?: string } {
  const data = (error as { data?: ErrorBody })?.data;
  if (data?.error) return data.error;
  return {
    code: 'unreachable',
    message: 'The server cannot be reached. Nothing was changed.',
    hint: 'Is it still running? Start it again; the data is kept.',
  };
}
