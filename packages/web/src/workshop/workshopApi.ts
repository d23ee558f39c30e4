import type { AddSpoolEntry, SaveBody, SaveMaterial, SaveSpool, Settings } from '@jasmorphe/contracts/workshopRequests';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { api } from '../app/api.ts';
import { asks, requestOf, saves, type List, type Saved } from '../app/asking.ts';

/** The maker's own printers, materials, spools, bodies and choices. */
export const workshopApi = api.injectEndpoints({
  endpoints: (b) => ({
    /** retired ones too */
    allPrinters: b.query({ ...asks('GET /printers'), providesTags: ['Workshop'] }),
    savePrinter: b.mutation({
      ...saves('printers', ({ profile }: Saved<{ profile: Partial<PrinterProfile> }>) => profile),
      invalidatesTags: ['Workshop'],
    }),
    retirePrinter: b.mutation({
      ...asks('PATCH /printers/{id}', ({ id, ...body }: { id: string; retired: boolean }) => ({ path: { id }, body })),
      invalidatesTags: ['Workshop'],
    }),
    materials: b.query({ ...asks('GET /materials'), providesTags: ['Workshop'] }),
    saveMaterial: b.mutation({
      ...saves('materials', ({ id: _, ...body }: Saved<Partial<SaveMaterial>>) => body),
      invalidatesTags: ['Workshop'],
    }),
    retireMaterial: b.mutation({
      ...asks('PATCH /materials/{id}', ({ id, ...body }: { id: string; retired: boolean }) => ({ path: { id }, body })),
      invalidatesTags: ['Workshop'],
    }),
    spools: b.query({ ...asks('GET /spools'), providesTags: ['Workshop'] }),
    saveSpool: b.mutation({
      ...saves('spools', ({ id: _, ...body }: Saved<Partial<SaveSpool>>) => body),
      invalidatesTags: ['Workshop'],
    }),
    addSpoolEntry: b.mutation({
      ...asks('POST /spools/{id}/entries', ({ id, ...body }: { id: string } & Partial<AddSpoolEntry>) => ({
        path: { id },
        body,
      })),
      invalidatesTags: ['Workshop'],
    }),
    savedBodies: b.query({ ...asks('GET /saved-bodies'), providesTags: ['Workshop'] }),
    saveBody: b.mutation({
      ...saves('saved-bodies', ({ id: _, ...body }: Saved<Partial<SaveBody>>) => body),
      invalidatesTags: ['Workshop'],
    }),
    removeThing: b.mutation<void, { list: List; id: string }>({
      query: ({ list, id }) => requestOf(`DELETE /${list}/{id}`, { path: { id } }),
      invalidatesTags: ['Workshop'],
    }),
    settings: b.query({ ...asks('GET /settings'), providesTags: ['Workshop'] }),
    saveSettings: b.mutation({
      ...asks('PUT /settings', (body: Partial<Settings>) => ({ body })),
      invalidatesTags: ['Workshop'],
    }),
  }),
});

export const {
  useAllPrintersQuery,
  useSavePrinterMutation,
  useRetirePrinterMutation,
  useMaterialsQuery,
  useSaveMaterialMutation,
  useRetireMaterialMutation,
  useSpoolsQuery,
  useSaveSpoolMutation,
  useAddSpoolEntryMutation,
  useSavedBodiesQuery,
  useSaveBodyMutation,
  useRemoveThingMutation,
  useSettingsQuery,
  useSaveSettingsMutation,
} = workshopApi;
