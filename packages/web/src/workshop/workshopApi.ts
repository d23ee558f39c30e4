import type { MaterialView, PrinterView, SavedBodyView, SpoolView } from '@jasmorphe/contracts/views';
import type { AddSpoolEntry, SaveBody, SaveMaterial, SaveSpool, Settings } from '@jasmorphe/contracts/workshopRequests';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { api } from '../app/api.ts';

/** A thing of a list: new where it has no id. */
type Saved<T> = { id?: string } & T;

const put = (list: string, { id, ...body }: { id?: string }) => ({
  url: id ? `${list}/${id}` : list,
  method: id ? 'PUT' : 'POST',
  body,
});

/** The maker's own printers, materials, spools, bodies and choices. */
export const workshopApi = api.injectEndpoints({
  endpoints: (b) => ({
    /** retired ones too */
    allPrinters: b.query<PrinterView[], void>({ query: () => 'printers', providesTags: ['Workshop'] }),
    savePrinter: b.mutation<PrinterView, Saved<{ profile: Partial<PrinterProfile> }>>({
      query: ({ id, profile }) => ({
        url: id ? `printers/${id}` : 'printers',
        method: id ? 'PUT' : 'POST',
        body: profile,
      }),
      invalidatesTags: ['Workshop'],
    }),
    retirePrinter: b.mutation<PrinterView, { id: string; retired: boolean }>({
      query: ({ id, ...body }) => ({ url: `printers/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Workshop'],
    }),
    materials: b.query<MaterialView[], void>({ query: () => 'materials', providesTags: ['Workshop'] }),
    saveMaterial: b.mutation<MaterialView, Saved<Partial<SaveMaterial>>>({
      query: (m) => put('materials', m),
      invalidatesTags: ['Workshop'],
    }),
    retireMaterial: b.mutation<MaterialView, { id: string; retired: boolean }>({
      query: ({ id, ...body }) => ({ url: `materials/${id}`, method: 'PATCH', body }),
      invalidatesTags: ['Workshop'],
    }),
    spools: b.query<SpoolView[], void>({ query: () => 'spools', providesTags: ['Workshop'] }),
    saveSpool: b.mutation<SpoolView, Saved<Partial<SaveSpool>>>({
      query: (s) => put('spools', s),
      invalidatesTags: ['Workshop'],
    }),
    addSpoolEntry: b.mutation<SpoolView, { id: string } & Partial<AddSpoolEntry>>({
      query: ({ id, ...body }) => ({ url: `spools/${id}/entries`, method: 'POST', body }),
      invalidatesTags: ['Workshop'],
    }),
    savedBodies: b.query<SavedBodyView[], void>({ query: () => 'saved-bodies', providesTags: ['Workshop'] }),
    saveBody: b.mutation<SavedBodyView, Saved<Partial<SaveBody>>>({
      query: (s) => put('saved-bodies', s),
      invalidatesTags: ['Workshop'],
    }),
    removeThing: b.mutation<
      void,
      { list: 'printers' | 'materials' | 'spools' | 'places' | 'saved-bodies'; id: string }
    >({
      query: ({ list, id }) => ({ url: `${list}/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Workshop'],
    }),
    settings: b.query<Settings, void>({ query: () => 'settings', providesTags: ['Workshop'] }),
    saveSettings: b.mutation<Settings, Partial<Settings>>({
      query: (body) => ({ url: 'settings', method: 'PUT', body }),
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
