import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import type { LicenceId } from '@jasmorphe/core/trade/licences';
import type { SourceView } from '@jasmorphe/contracts/kitViews';
import { api, type Losing } from './api.ts';
import { asks } from './asking.ts';

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
    kit: b.query({
      ...asks('GET /projects/{id}/kit', (id: string) => ({ path: { id } })),
      providesTags: (_r, _e, id) => [{ type: 'Kit', id }],
    }),
    dropKit: b.mutation({
      ...asks('POST /projects/{id}/kit', ({ projectId, files }: { projectId: string; files: DroppedFile[] }) => {
        const body = new FormData();
        for (const { file, path } of files) body.append('file', file, path);
        return { path: { id: projectId }, body };
      }),
      invalidatesTags: ['Kit', 'Shelf'],
    }),
    readAlike: b.mutation({
      ...asks('POST /projects/{id}/kit/unit', (id: string) => ({ path: { id } })),
      invalidatesTags: ['Kit'],
    }),
    changePiece: b.mutation({
      ...asks(
        'PATCH /bodies/{id}',
        ({ id, projectId: _, ...body }: { id: string; projectId: string } & PieceChange) => ({
          path: { id },
          body,
        }),
      ),
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
    removePiece: b.mutation({
      ...asks('DELETE /bodies/{id}', (id: string) => ({ path: { id } })),
      invalidatesTags: ['Kit', 'Project', 'Shelf'],
    }),
    makeTwins: b.mutation({
      ...asks('POST /bodies/{id}/twins', ({ id, copies }: { id: string; projectId: string; copies: number }) => ({
        path: { id },
        body: { copies },
      })),
      invalidatesTags: (_r, _e, { id }) => ['Kit', 'Project', 'Shelf', 'Days', { type: 'Body', id }],
    }),
    chooseVariant: b.mutation({
      ...asks(
        'POST /projects/{id}/variants',
        ({ projectId, ...body }: { projectId: string; ids: string[]; chosen?: string }) => ({
          path: { id: projectId },
          body,
        }),
      ),
      invalidatesTags: ['Kit', 'Body', 'Shelf'],
    }),
    takeVersion: b.mutation({
      ...asks(
        'POST /bodies/{id}/version',
        ({ bodyId, ...body }: { bodyId: string; sourceHash: string; fileName: string } & Losing) => ({
          path: { id: bodyId },
          body,
        }),
      ),
      invalidatesTags: (_r, _e, { bodyId }) => ['Kit', { type: 'Body', id: bodyId }],
    }),
    addPiece: b.mutation({
      ...asks(
        'POST /projects/{id}/pieces',
        ({ projectId, ...body }: { projectId: string; sourceHash: string; fileName: string }) => ({
          path: { id: projectId },
          body,
        }),
      ),
      invalidatesTags: ['Kit'],
    }),
    runBatch: b.mutation({
      ...asks('POST /projects/{id}/batches', ({ projectId, ...body }: BatchAsked) => ({
        path: { id: projectId },
        body,
      })),
      invalidatesTags: ['Kit'],
    }),
    batchAnswers: b.query({
      ...asks('GET /batches/{id}/answers', (id: string) => ({ path: { id } })),
      providesTags: ['Kit'],
    }),
    cancelBatch: b.mutation({
      ...asks('POST /batches/{id}/cancel', (id: string) => ({ path: { id } })),
      invalidatesTags: ['Kit'],
    }),
    undoBatch: b.mutation({
      ...asks('POST /batches/{id}/undo', ({ id, lose = false }: { id: string } & Losing) => ({
        path: { id },
        body: { lose },
      })),
      invalidatesTags: ['Kit', 'Body', 'Shelf'],
    }),
    attachments: b.query({
      ...asks('GET /projects/{id}/attachments', (id: string) => ({ path: { id } })),
      providesTags: (_r, _e, id) => [{ type: 'Kit', id }],
    }),
    addNote: b.mutation({
      ...asks(
        'POST /projects/{id}/notes',
        ({ projectId, ...body }: { projectId: string; text: string; bodyId?: string }) => ({
          path: { id: projectId },
          body,
        }),
      ),
      invalidatesTags: ['Kit'],
    }),
    addPhoto: b.mutation({
      ...asks(
        'POST /projects/{id}/photos',
        ({ projectId, file, bodyId }: { projectId: string; file: File; bodyId?: string }) => {
          const body = new FormData();
          if (bodyId) body.append('bodyId', bodyId);
          body.append('file', file);
          return { path: { id: projectId }, body };
        },
      ),
      invalidatesTags: ['Kit'],
    }),
    removeAttachment: b.mutation({
      ...asks('DELETE /attachments/{id}', (id: string) => ({ path: { id } })),
      invalidatesTags: ['Kit'],
    }),
    bringBack: b.mutation({
      ...asks('POST /projects/{id}/restore', (id: string) => ({ path: { id } })),
      invalidatesTags: ['Shelf', 'Project'],
    }),
    copyProject: b.mutation({
      ...asks('POST /projects/{id}/copy', (id: string) => ({ path: { id }, body: {} })),
      invalidatesTags: ['Shelf'],
    }),
    removeForever: b.mutation({
      ...asks('DELETE /projects/{id}', (id: string) => ({ path: { id }, query: { forever: 'yes' as const } })),
      invalidatesTags: ['Shelf'],
    }),
    unpack: b.mutation({
      ...asks('POST /projects/unpack', (file: File) => {
        const body = new FormData();
        body.append('file', file);
        return { body };
      }),
      invalidatesTags: ['Shelf'],
    }),
    backUp: b.mutation(asks('POST /backup', (body: { folder?: string }) => ({ body }))),
    restore: b.mutation(asks('POST /backup/restore', (body: { folder: string; anyway: boolean }) => ({ body }))),
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
