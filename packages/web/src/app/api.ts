import { createApi } from '@reduxjs/toolkit/query/react';
import type {
  BodyView,
  ErrorBody,
  Health,
  JobView,
  LogEntryView,
  MeshView,
  PartView,
  PlaceView,
  PrinterView,
  ProjectSummary,
  ProjectView,
  ReferenceView,
} from '@jasmorphe/contracts/views';
import type { PrintOutcome } from '@jasmorphe/core/planning/printState';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import type { LicenceId } from '@jasmorphe/core/trade/licences';
import type { SourceView } from '@jasmorphe/contracts/kitViews';
import { jobEnded } from './jobEnded.ts';
import { listenToServer } from './serverEvents.ts';
import { baseQuery, sayingOnce } from './asking.ts';
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
    shelf: b.query<ProjectSummary[], void>({ query: () => 'projects', providesTags: ['Shelf'] }),
    project: b.query<ProjectView, string>({
      query: (id) => `projects/${id}`,
      providesTags: (_r, _e, id) => [{ type: 'Project', id }],
    }),
    body: b.query<BodyView, string>({
      query: (id) => `bodies/${id}`,
      providesTags: (_r, _e, id) => [{ type: 'Body', id }],
    }),
    log: b.query<LogEntryView[], string>({ query: (id) => `projects/${id}/log`, providesTags: ['Log'] }),
    /** those that are printed with */
    printers: b.query<PrinterView[], void>({
      query: () => 'printers',
      transformResponse: (all: PrinterView[]) => all.filter((p) => p.retiredAt === null),
      providesTags: ['Workshop'],
    }),
    health: b.query<Health, void>({ query: () => 'health', providesTags: ['Health'] }),
    facts: b.query<MeshView, string>({ query: (hash) => `meshes/${hash}/facts`, keepUnusedDataFor: 600 }),
    jobs: b.query<JobView[], void>({
      query: () => 'jobs',
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
    createProject: b.mutation<ProjectView, { name: string; note?: string }>({
      query: (body) => ({ url: 'projects', method: 'POST', body }),
      invalidatesTags: ['Shelf'],
    }),
    removeProject: b.mutation<void, string>({
      query: (id) => ({ url: `projects/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Shelf'],
    }),
    runStep: b.mutation<JobView, { bodyId: string; dry?: boolean } & NewStep & Losing>({
      query: ({ bodyId, ...body }) => ({ url: `bodies/${bodyId}/steps`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    editStep: b.mutation<JobView, { bodyId: string; index: number; params: object; dry?: boolean } & Losing>({
      query: ({ bodyId, index, ...body }) => ({ url: `bodies/${bodyId}/steps/${index}`, method: 'PUT', body }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    importAgain: b.mutation<JobView, { bodyId: string; objects: 'apart' | 'together' }>({
      query: ({ bodyId, objects }) => ({ url: `bodies/${bodyId}/imports`, method: 'POST', body: { objects } }),
    }),
    moveLine: b.mutation<BodyView, { bodyId: string; way: 'undo' | 'redo' } & Losing>({
      query: ({ bodyId, way, lose = false }) => ({ url: `bodies/${bodyId}/${way}`, method: 'POST', body: { lose } }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }, 'Shelf'],
    }),
    moveCursor: b.mutation<BodyView, { bodyId: string; cursor: number } & Losing>({
      query: ({ bodyId, ...body }) => ({ url: `bodies/${bodyId}/cursor`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }, 'Shelf'],
    }),
    dismiss: b.mutation<unknown, { bodyId: string; code: string; reason: string }>({
      query: ({ bodyId, ...body }) => ({ url: `bodies/${bodyId}/dismissals`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    takeUp: b.mutation<void, { bodyId: string; code: string }>({
      query: ({ bodyId, code }) => ({ url: `bodies/${bodyId}/dismissals/${code}`, method: 'DELETE' }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    tickJoint: b.mutation<unknown, { bodyId: string; key: string; done: boolean; anyway?: boolean }>({
      query: ({ bodyId, key, done, anyway }) => ({
        url: `bodies/${bodyId}/joints/${key}`,
        method: done ? 'PUT' : 'DELETE',
        params: anyway ? { anyway: 'yes' } : undefined,
      }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    tickTip: b.mutation<unknown, { partId: string; key: string; done: boolean }>({
      query: ({ partId, key, done }) => ({ url: `bodies/${partId}/tips/${key}`, method: done ? 'PUT' : 'DELETE' }),
      invalidatesTags: (_r, _e, { partId }) => [{ type: 'Body', id: partId }],
    }),
    cancelJob: b.mutation<JobView, string>({ query: (id) => ({ url: `jobs/${id}/cancel`, method: 'POST' }) }),
    places: b.query<PlaceView[], void>({ query: () => 'places', providesTags: ['Workshop'] }),
    savePlace: b.mutation<PlaceView, Partial<Omit<PlaceView, 'id'>> & { id?: string }>({
      query: ({ id, ...place }) => ({
        url: id ? `places/${id}` : 'places',
        method: id ? 'PUT' : 'POST',
        body: Object.fromEntries(Object.entries(place).filter(([, v]) => v !== null)),
      }),
      invalidatesTags: ['Workshop'],
    }),
    removePlace: b.mutation<void, string>({
      query: (id) => ({ url: `places/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Workshop'],
    }),
    addReference: b.mutation<
      JobView,
      { bodyId: string; kind: string; measures: Record<string, number>; name?: string }
    >({
      query: ({ bodyId, ...body }) => ({ url: `bodies/${bodyId}/references`, method: 'POST', body }),
    }),
    uploadReference: b.mutation<JobView, { bodyId: string; file: File }>({
      query: ({ bodyId, file }) => {
        const body = new FormData();
        body.append('unit', 'auto');
        body.append('file', file);
        return { url: `bodies/${bodyId}/references/scan`, method: 'POST', body };
      },
    }),
    changeReference: b.mutation<ReferenceView, Partial<ReferenceView> & { id: string; bodyId: string }>({
      query: ({ id, bodyId: _, ...change }) => ({ url: `references/${id}`, method: 'PATCH', body: change }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    removeReference: b.mutation<void, { id: string; bodyId: string }>({
      query: ({ id }) => ({ url: `references/${id}`, method: 'DELETE' }),
      invalidatesTags: (_r, _e, { bodyId }) => [{ type: 'Body', id: bodyId }],
    }),
    makeSample: b.mutation<JobView, { bodyId: string; params: object }>({
      query: ({ bodyId, params }) => ({ url: `bodies/${bodyId}/samples`, method: 'POST', body: params }),
    }),
    addLog: b.mutation<
      LogEntryView,
      {
        projectId: string;
        modelId: string;
        partId: string;
        outcome: PrintOutcome;
        heightMm?: number;
        note?: string;
        printerId?: string;
        correctsId?: string;
      }
    >({
      query: ({ projectId, modelId: _, ...body }) =>
        sayingOnce({ url: `projects/${projectId}/log`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { modelId }) => ['Log', 'Shelf', { type: 'Body', id: modelId }],
    }),
    movePrint: b.mutation<PartView, { partId: string; modelId: string; way: 'undo' | 'redo' }>({
      query: ({ partId, way }) => sayingOnce({ url: `bodies/${partId}/print/${way}`, method: 'POST' }),
      invalidatesTags: (_r, _e, { partId, modelId }) => [
        'Log',
        'Shelf',
        { type: 'Body', id: modelId },
        { type: 'Body', id: partId },
      ],
    }),
    changeProject: b.mutation<ProjectView, { id: string } & ProjectChange>({
      query: ({ id, ...body }) => ({ url: `projects/${id}`, method: 'PATCH', body }),
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
