import type {
  AttachmentView,
  BackupView,
  BatchAnswers,
  BatchView,
  KitDrop,
  KitView,
} from '@jasmorphe/contracts/kitViews';
import type { BodyView, JobView, ProjectView } from '@jasmorphe/contracts/views';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import type { LicenceId } from '@jasmorphe/core/trade/licences';
import type { SourceView } from '@jasmorphe/contracts/kitViews';
import { api, type Losing } from './api.ts';

/** One operation on many pieces. */
export interface BatchAsked {
  projectId: string;
  operation: OperationName;
  params: object;
  bodyIds: string[];
  dry?: boolean;
}

/** What may be changed about a piece. */
export interface PieceChange {
  name?: string;
  copies?: number;
  colour?: string;
  aside?: boolean;
  reason?: string;
  licence?: string;
  terms?: LicenceId;
  source?: SourceView;
}

/** A file with its path within what was dropped. */
export interface DroppedFile {
  file: File;
  path: string;
}

/** Kits, batches, photos and notes, and whole projects. */
export const kitApi = api.injectEndpoints({
  endpoints: (b) => ({
    kit: b.query<KitView, string>({
      query: (id) => `projects/${id}/kit`,
      providesTags: (_r, _e, id) => [{ type: 'Kit', id }],
    }),
    dropKit: b.mutation<KitDrop, { projectId: string; files: DroppedFile[] }>({
      query: ({ projectId, files }) => {
        const body = new FormData();
        for (const { file, path } of files) body.append('file', file, path);
        return { url: `projects/${projectId}/kit`, method: 'POST', body };
      },
      invalidatesTags: ['Kit', 'Shelf'],
    }),
    readAlike: b.mutation<BatchView, string>({
      query: (id) => ({ url: `projects/${id}/kit/unit`, method: 'POST' }),
      invalidatesTags: ['Kit'],
    }),
    changePiece: b.mutation<BodyView, { id: string; projectId: string } & PieceChange>({
      query: ({ id, projectId: _, ...body }) => ({ url: `bodies/${id}`, method: 'PATCH', body }),
      // the table shows at once what was typed into it
      async onQueryStarted({ id, projectId, ...change }, { dispatch, queryFulfilled }) {
        const { name, copies, colour } = change;
        const patch = dispatch(
          kitApi.util.updateQueryData('kit', projectId, (kit) => {
            const piece = kit.pieces.find((p) => p.id === id);
            if (piece)
              Object.assign(
                piece,
                Object.fromEntries(Object.entries({ name, copies, colour }).filter(([, v]) => v !== undefined)),
              );
          }),
        );
        await queryFulfilled.catch(() => patch.undo());
      },
      invalidatesTags: (_r, _e, { id }) => ['Kit', { type: 'Body', id }, 'Project', 'Shelf'],
    }),
    removePiece: b.mutation<void, string>({
      query: (id) => ({ url: `bodies/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Kit', 'Project', 'Shelf'],
    }),
    makeTwins: b.mutation<{ ids: string[] }, { id: string; projectId: string; copies: number }>({
      query: ({ id, copies }) => ({ url: `bodies/${id}/twins`, method: 'POST', body: { copies } }),
      invalidatesTags: (_r, _e, { id }) => ['Kit', 'Project', 'Shelf', 'Days', { type: 'Body', id }],
    }),
    chooseVariant: b.mutation<KitView, { projectId: string; ids: string[]; chosen?: string }>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/variants`, method: 'POST', body }),
      invalidatesTags: ['Kit', 'Body', 'Shelf'],
    }),
    takeVersion: b.mutation<JobView, { bodyId: string; sourceHash: string; fileName: string } & Losing>({
      query: ({ bodyId, ...body }) => ({ url: `bodies/${bodyId}/version`, method: 'POST', body }),
      invalidatesTags: (_r, _e, { bodyId }) => ['Kit', { type: 'Body', id: bodyId }],
    }),
    addPiece: b.mutation<JobView, { projectId: string; sourceHash: string; fileName: string }>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/pieces`, method: 'POST', body }),
      invalidatesTags: ['Kit'],
    }),
    runBatch: b.mutation<BatchView, BatchAsked>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/batches`, method: 'POST', body }),
      invalidatesTags: ['Kit'],
    }),
    batchAnswers: b.query<BatchAnswers, string>({ query: (id) => `batches/${id}/answers`, providesTags: ['Kit'] }),
    cancelBatch: b.mutation<BatchView, string>({
      query: (id) => ({ url: `batches/${id}/cancel`, method: 'POST' }),
      invalidatesTags: ['Kit'],
    }),
    undoBatch: b.mutation<{ undone: string[]; kept: string[] }, { id: string } & Losing>({
      query: ({ id, lose = false }) => ({ url: `batches/${id}/undo`, method: 'POST', body: { lose } }),
      invalidatesTags: ['Kit', 'Body', 'Shelf'],
    }),
    attachments: b.query<AttachmentView[], string>({
      query: (id) => `projects/${id}/attachments`,
      providesTags: (_r, _e, id) => [{ type: 'Kit', id }],
    }),
    addNote: b.mutation<AttachmentView, { projectId: string; text: string; bodyId?: string }>({
      query: ({ projectId, ...body }) => ({ url: `projects/${projectId}/notes`, method: 'POST', body }),
      invalidatesTags: ['Kit'],
    }),
    addPhoto: b.mutation<AttachmentView, { projectId: string; file: File; bodyId?: string }>({
      query: ({ projectId, file, bodyId }) => {
        const body = new FormData();
        if (bodyId) body.append('bodyId', bodyId);
        body.append('file', file);
        return { url: `projects/${projectId}/photos`, method: 'POST', body };
      },
      invalidatesTags: ['Kit'],
    }),
    removeAttachment: b.mutation<void, string>({
      query: (id) => ({ url: `attachments/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Kit'],
    }),
    bringBack: b.mutation<ProjectView, string>({
      query: (id) => ({ url: `projects/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['Shelf', 'Project'],
    }),
    copyProject: b.mutation<ProjectView, string>({
      query: (id) => ({ url: `projects/${id}/copy`, method: 'POST', body: {} }),
      invalidatesTags: ['Shelf'],
    }),
    removeForever: b.mutation<void, string>({
      query: (id) => ({ url: `projects/${id}?forever=yes`, method: 'DELETE' }),
      invalidatesTags: ['Shelf'],
    }),
    unpack: b.mutation<{ projectId: string }, File>({
      query: (file) => {
        const body = new FormData();
        body.append('file', file);
        return { url: 'projects/unpack', method: 'POST', body };
      },
      invalidatesTags: ['Shelf'],
    }),
    backUp: b.mutation<BackupView, { folder?: string }>({
      query: (body) => ({ url: 'backup', method: 'POST', body }),
    }),
    restore: b.mutation<{ before: string; lost: number }, { folder: string; anyway: boolean }>({
      query: (body) => ({ url: 'backup/restore', method: 'POST', body }),
    }),
  }),
});

export const {
  useKitQuery,
  useDropKitMutation,
  useReadAlikeMutation,
  useChangePieceMutation,
  useRemovePieceMutation,
  useMakeTwinsMutation,
  useChooseVariantMutation,
  useAddPieceMutation,
  useTakeVersionMutation,
  useRunBatchMutation,
  useBatchAnswersQuery,
  useCancelBatchMutation,
  useUndoBatchMutation,
  useAttachmentsQuery,
  useAddNoteMutation,
  useAddPhotoMutation,
  useRemoveAttachmentMutation,
  useBringBackMutation,
  useCopyProjectMutation,
  useRemoveForeverMutation,
  useUnpackMutation,
  useBackUpMutation,
  useRestoreMutation,
} = kitApi;
