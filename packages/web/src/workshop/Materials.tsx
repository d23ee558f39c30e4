import Button from '@mui/material/Button';
import { useState } from 'react';
import type { MaterialView, SpoolView } from '@jasmorphe/contracts/views';
import { AddSpoolEntry, SaveMaterial, SaveSpool } from '@jasmorphe/contracts/workshopRequests';
import { fixed, massText, whole } from '@jasmorphe/core/words/numbers';
import { FigureTable } from '../ui/FigureTable.tsx';
import { printKinds, ThingForm, type FieldGroup } from './ThingForm.tsx';
import {
  useAddSpoolEntryMutation,
  useMaterialsQuery,
  useRemoveThingMutation,
  useSaveMaterialMutation,
  useSaveSpoolMutation,
  useRetireMaterialMutation,
  useSettingsQuery,
  useSpoolsQuery,
} from './workshopApi.ts';
import { RowActs } from './ThingSection.ts';
import { Actions } from '../ui/layout.ts';

const materialGroups: readonly FieldGroup<SaveMaterial>[] = [
  {
    title: 'Material',
    fields: [
      { key: 'name', label: 'Name', as: 'words', maxLength: 80 },
      {
        key: 'kind',
        label: 'Kind',
        as: 'choice',
        choices: printKinds,
      },
      { key: 'densityGCm3', label: 'Density, g/cm³', as: 'number' },
      { key: 'pricePerKg', label: 'Price per kg', as: 'number' },
      { key: 'shrinkagePct', label: 'Shrinkage, %', as: 'number' },
      { key: 'stockG', label: 'Beside the spools, g', as: 'number' },
      { key: 'cautions', label: 'Cautions', as: 'words', maxLength: 2000, rows: 2 },
    ],
  },
];

const spoolGroups = (materials: readonly MaterialView[]): readonly FieldGroup<SaveSpool>[] => [
  {
    title: 'Spool or bottle',
    fields: [
      {
        key: 'materialId',
        label: 'Material',
        as: 'choice',
        choices: materials.map((m) => ({ value: m.id, text: m.name })),
      },
      { key: 'name', label: 'Name', as: 'words', maxLength: 80 },
      { key: 'colour', label: 'Colour', as: 'words', maxLength: 80 },
      { key: 'grossG', label: 'Weighs full, g', as: 'number' },
      { key: 'emptyG', label: 'Weighs empty, g', as: 'number' },
      { key: 'openedOn', label: 'Opened on', as: 'words', maxLength: 10, placeholder: '2026-11-26' },
      { key: 'whereabouts', label: 'Where it is', as: 'words', maxLength: 120 },
      { key: 'ended', label: 'Used up or thrown away', as: 'yesNo' },
    ],
  },
];

const entryGroups: readonly FieldGroup<AddSpoolEntry>[] = [
  {
    title: 'What is said of it',
    fields: [
      {
        key: 'kind',
        label: 'It',
        as: 'choice',
        choices: [
          { value: 'weighed', text: 'was weighed, all in all' },
          { value: 'used', text: 'had so much taken from it' },
        ],
      },
      { key: 'grams', label: 'Grams', as: 'number' },
      { key: 'note', label: 'Note', as: 'words', maxLength: 400 },
    ],
  },
];

/** What was taken from a spool and what it weighed, the newest first. */
function History({ spool }: { spool: SpoolView }) {
  return (
    <FigureTable
      label={`What happened to ${spool.name}`}
      heads={['When', 'What', 'Grams', 'Note']}
      rows={spool.entries.map((e) => ({
        key: e.id,
        cells: [e.at.slice(0, 16).replace('T', ' '), e.kind, whole(e.grams), e.note],
      }))}
    />
  );
}

type Open =
  | { what: 'material'; id?: string; start: Partial<SaveMaterial> }
  | { what: 'spool'; id?: string; start: Partial<SaveSpool> }
  | { what: 'entry'; spool: SpoolView };

/** Materials, and the spools and bottles on the shelf with what is left of each. */
export function Materials() {
  const { data: materials = [] } = useMaterialsQuery();
  const { data: spools = [] } = useSpoolsQuery();
  const { data: settings } = useSettingsQuery();
  const [saveMaterial] = useSaveMaterialMutation();
  const [retire] = useRetireMaterialMutation();
  const [saveSpool] = useSaveSpoolMutation();
  const [addEntry] = useAddSpoolEntryMutation();
  const [remove] = useRemoveThingMutation();
  const [open, setOpen] = useState<Open | null>(null);
  const close = () => setOpen(null);
  if (open?.what === 'material')
    return (
      <ThingForm
        title={open.id ? 'Change a material' : 'A new material'}
        Class={SaveMaterial}
        start={open.start}
        groups={materialGroups}
        save={(m) => saveMaterial({ id: open.id, ...m })}
        onClose={close}
      />
    );
  if (open?.what === 'spool')
    return (
      <ThingForm
        title={open.id ? 'Change a spool or bottle' : 'A new spool or bottle'}
        Class={SaveSpool}
        start={open.start}
        groups={spoolGroups(materials.filter((m) => m.retiredAt === null || m.id === open.start.materialId))}
        save={(s) => saveSpool({ id: open.id, ...s })}
        onClose={close}
      />
    );
  if (open?.what === 'entry')
    return (
      <>
        <ThingForm
          title={open.spool.name}
          Class={AddSpoolEntry}
          start={{ kind: 'weighed' }}
          groups={entryGroups}
          save={(e) => addEntry({ id: open.spool.id, ...e })}
          onClose={close}
        />
        <History spool={open.spool} />
      </>
    );
  const inUse = materials.filter((m) => m.retiredAt === null);
  const nameOf = new Map(materials.map((m) => [m.id, m.name]));
  return (
    <>
      <FigureTable
        label="Materials"
        heads={['Material', 'Kind', 'Density', `Per kg, ${settings?.currency ?? ''}`, 'Shrinkage', 'Cautions', '']}
        rows={materials.map((m) => ({
          key: m.id,
          cells: [
            m.retiredAt === null ? m.name : <span className="quiet">{m.name}, retired</span>,
            m.kind,
            fixed(m.densityGCm3, 2),
            fixed(m.pricePerKg, 2),
            `${fixed(m.shrinkagePct, 2)} %`,
            m.cautions || '—',
            <RowActs key="acts">
              <Button
                variant="text"
                onClick={() => {
                  const { id, retiredAt: _, ...start } = m;
                  setOpen({ what: 'material', id, start });
                }}
              >
                Change
              </Button>
              <Button variant="text" onClick={() => void retire({ id: m.id, retired: m.retiredAt === null })}>
                {m.retiredAt === null ? 'Retire' : 'Use again'}
              </Button>
              {!spools.some((s) => s.materialId === m.id) && (
                <Button variant="text" onClick={() => void remove({ list: 'materials', id: m.id })}>
                  Remove
                </Button>
              )}
            </RowActs>,
          ],
        }))}
      />
      <Actions>
        <Button
          variant="outlined"
          onClick={() => setOpen({ what: 'material', start: { kind: 'filament', densityGCm3: 1.24, pricePerKg: 20 } })}
        >
          New material
        </Button>
      </Actions>
      <FigureTable
        label="Spools and bottles"
        heads={['Spool or bottle', 'Material', 'Colour', 'Left', 'Metres', 'Opened', 'Where', '']}
        rows={spools.map((s) => ({
          key: s.id,
          cells: [
            s.endedAt === null ? s.name : <span className="quiet">{s.name}, ended</span>,
            nameOf.get(s.materialId) ?? '',
            s.colour || '—',
            massText(s.leftG),
            s.leftM === null ? '—' : `${whole(s.leftM)} m`,
            s.openedOn ?? '—',
            s.whereabouts || '—',
            <RowActs key="acts">
              <Button variant="text" onClick={() => setOpen({ what: 'entry', spool: s })}>
                Weigh, use
              </Button>
              <Button
                variant="text"
                onClick={() => {
                  const { id, materialId, name, colour, grossG, emptyG, openedOn, whereabouts, endedAt } = s;
                  const start = { materialId, name, colour, grossG, emptyG, whereabouts, ended: endedAt !== null };
                  setOpen({ what: 'spool', id, start: { ...start, ...(openedOn ? { openedOn } : {}) } });
                }}
              >
                Change
              </Button>
              <Button variant="text" onClick={() => void remove({ list: 'spools', id: s.id })}>
                Remove
              </Button>
            </RowActs>,
          ],
        }))}
      />
      <Actions>
        <Button
          variant="outlined"
          disabled={inUse.length === 0}
          onClick={() =>
            setOpen({
              what: 'spool',
              start: { materialId: inUse[0].id, grossG: 1250, emptyG: 250, name: '', openedOn: '' },
            })
          }
        >
          New spool or bottle
        </Button>
      </Actions>
    </>
  );
}
