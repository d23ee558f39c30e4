import Button from '@mui/material/Button';
import { useState, type ReactNode } from 'react';
import { Settings } from '@jasmorphe/contracts/workshopRequests';
import { nightRuleNames, nightRules } from '@jasmorphe/core/planning/days/HomeHours';
import { countOf, whole } from '@jasmorphe/core/words/numbers';
import { wordsOf } from '../app/api.ts';
import { useBackUpMutation, useRestoreMutation } from '../app/kitApi.ts';
import { useAppDispatch } from '../app/store.ts';
import { say, setUnit } from '../app/uiSlice.ts';
import { Note } from '../ui/Note.tsx';
import { WordsField } from '../ui/WordsField.tsx';
import { ThingForm, type FieldGroup } from './ThingForm.tsx';
import { useSaveSettingsMutation, useSettingsQuery } from './workshopApi.ts';
import { ThingSection } from './ThingSection.ts';
import { Actions } from '../ui/layout.ts';

const time = (key: keyof Settings, label: string) =>
  ({ key, label, as: 'words', maxLength: 5, placeholder: '17:30' }) as const;

const groups: readonly FieldGroup<Settings>[] = [
  {
    title: 'How figures are written',
    fields: [
      {
        key: 'unit',
        label: 'Lengths',
        as: 'choice',
        choices: [
          { value: 'mm', text: 'mm' },
          { value: 'in', text: 'inches' },
        ],
      },
      { key: 'currency', label: 'Currency', as: 'words', maxLength: 3, placeholder: 'EUR' },
      {
        key: 'paper',
        label: 'Paper',
        as: 'choice',
        choices: [
          { value: 'a4', text: 'A4' },
          { value: 'letter', text: 'Letter' },
        ],
      },
    ],
  },
  {
    title: 'When a person is there',
    fields: [
      time('weekdayFrom', 'Working days from'),
      time('weekdayTo', 'Working days until'),
      time('weekendFrom', 'Other days from'),
      time('weekendTo', 'Other days until'),
    ],
  },
  {
    title: 'At night',
    fields: [
      {
        key: 'nights',
        label: 'At night',
        as: 'choice',
        hint: 'Unattended or overnight only with working thermal protection and a smoke alarm.',
        choices: nightRules.map((value) => ({ value, text: nightRuleNames[value] })),
      },
      time('nightFrom', 'Night from'),
      time('nightTo', 'Night until'),
    ],
  },
];

/** The maker's choices for all projects. */
export function SettingsForm() {
  const dispatch = useAppDispatch();
  const { data: settings } = useSettingsQuery();
  const [save] = useSaveSettingsMutation();
  if (!settings) return null;
  return (
    <>
      <ThingForm
        key={JSON.stringify(settings)}
        title="For all projects"
        Class={Settings}
        start={settings}
        groups={groups}
        save={async (value) => {
          const kept = await save(value);
          if (kept.data) {
            dispatch(setUnit(kept.data.unit));
            dispatch(say({ text: 'Kept.', hint: '', tone: 'note' }));
          }
          return kept;
        }}
        onClose={() => undefined}
      />
      <p className="quiet">
        Numbers read the same in every language: 1 234.5 and 2026-11-26, a point before decimals, thin spaces between
        thousands, the year first.
      </p>
    </>
  );
}

/** Everything saved into a folder, and put back from one, while it is in use. */
export function Backups() {
  const [folder, setFolder] = useState('');
  const [from, setFrom] = useState('');
  const [sure, setSure] = useState(false);
  const [backUp, saving] = useBackUpMutation();
  const [restore, restoring] = useRestoreMutation();
  const busy = saving.isLoading || restoring.isLoading;
  const putBack = (anyway: boolean): void => {
    setSure(false);
    void restore({ folder: from.trim(), anyway });
  };
  return (
    <ThingSection aria-label="Backups">
      <h2 className="question">Save everything</h2>
      <WordsField
        label="Into a folder of this machine; one beside the data if left empty"
        value={folder}
        maxLength={1000}
        placeholder="/media/stick/jasmorphe"
        onChange={setFolder}
      />
      <Actions>
        <Button
          variant="contained"
          disabled={busy}
          onClick={() => void backUp(folder.trim() ? { folder: folder.trim() } : {})}
        >
          {saving.isLoading ? 'Saving' : 'Save everything now'}
        </Button>
      </Actions>
      {saving.data && (
        <Note tone="advice" role="status">
          <b>Saved into {saving.data.folder}.</b> {whole(saving.data.projects)} projects, {whole(saving.data.models)}{' '}
          pieces, {whole(Math.ceil(saving.data.bytes / 2 ** 20))} MB; {whole(saving.data.copied)} files were new.
        </Note>
      )}
      {saving.data && saving.data.mended > 0 && (
        <Note tone="attention">
          {countOf(saving.data.mended, 'file')} of the data folder, damaged or missing, came back from this backup.
        </Note>
      )}
      {saving.data && saving.data.damaged > 0 && (
        <Note tone="failure">
          <b>{countOf(saving.data.damaged, 'file')} could not be saved: damaged, or missing.</b> What was worked out is
          worked out anew when it is looked at; the files that you dropped have to be dropped again.
        </Note>
      )}
      <Trouble of={saving.error} />
      <h2 className="question">Put a saved state back</h2>
      <WordsField
        label="Folder that it was saved into"
        value={from}
        maxLength={1000}
        placeholder="/media/stick/jasmorphe"
        onChange={(v) => {
          setFrom(v);
          setSure(false);
          restoring.reset();
        }}
      />
      <Actions>
        {sure ? (
          <>
            <span>Everything becomes as it was then. What is here now is saved beside the data first.</span>
            <Button variant="contained" disabled={busy} onClick={() => putBack(false)}>
              Put it back
            </Button>
            <Button variant="text" onClick={() => setSure(false)}>
              Leave it
            </Button>
          </>
        ) : (
          <Button variant="outlined" disabled={busy || from.trim() === ''} onClick={() => setSure(true)}>
            Put it back …
          </Button>
        )}
      </Actions>
      {restoring.data && (
        <Note tone="advice" role="status">
          <b>Everything is as it was saved.</b> What was here before is in {restoring.data.before}.
          {restoring.data.lost > 0 &&
            ` ${countOf(restoring.data.lost, 'file')} missing: what was worked out is worked out anew when it is looked at.`}
        </Note>
      )}
      <Trouble of={restoring.error}>
        {wordsOf(restoring.error).field === 'anyway' && (
          <Actions>
            <Button variant="outlined" disabled={busy} onClick={() => putBack(true)}>
              Put it back without them
            </Button>
          </Actions>
        )}
      </Trouble>
    </ThingSection>
  );
}

/** Why something was refused, as its answer says. */
const Trouble = ({ of, children }: { of: unknown; children?: ReactNode }) =>
  of !== undefined && (
    <Note tone="failure" role="alert">
      <b>{wordsOf(of).message}</b> {wordsOf(of).hint}
      {children}
    </Note>
  );
