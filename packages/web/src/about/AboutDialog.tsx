import Button from '@mui/material/Button';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import type { BodyView, ProjectView } from '@jasmorphe/contracts/views';
import { licenceIds, licences, type LicenceId } from '@jasmorphe/core/trade/licences';
import type { SourceView } from '@jasmorphe/contracts/kitViews';
import { useChangeProjectMutation, useProjectQuery, wordsOf } from '../app/api.ts';
import { useChangePieceMutation } from '../app/kitApi.ts';
import { useAppDispatch } from '../app/store.ts';
import { say } from '../app/uiSlice.ts';
import { ChoiceField } from '../forms/Fields.tsx';
import { CarefulDialog } from '../ui/CarefulDialog.tsx';
import { WordsField } from '../ui/WordsField.tsx';
import { Attachments } from './Attachments.tsx';
import { Column } from './Column.ts';

/** What is said of a work, as it stands in the fields. */
interface Said {
  name: string;
  note: string;
  licence: string;
  terms: LicenceId;
  source: SourceView;
}

const sourceFields: [keyof SourceView, string, number][] = [
  ['from', 'Where it came from', 200],
  ['by', 'By whom', 200],
  ['address', 'Address', 500],
  ['date', 'Day', 40],
];

/** Name, source and terms in fields; what the terms allow stands below in a line. */
function Words({ said, onSaid, noted }: { said: Said; onSaid: (said: Said) => void; noted: boolean }) {
  return (
    <Column>
      <WordsField label="Name" value={said.name} maxLength={120} onChange={(name) => onSaid({ ...said, name })} />
      {noted && (
        <WordsField
          label="In a line"
          value={said.note}
          maxLength={2000}
          onChange={(note) => onSaid({ ...said, note })}
        />
      )}
      {sourceFields.map(([key, label, maxLength]) => (
        <WordsField
          key={key}
          label={label}
          value={said.source[key] ?? ''}
          maxLength={maxLength}
          onChange={(value) => onSaid({ ...said, source: { ...said.source, [key]: value } })}
        />
      ))}
      <WordsField
        label="Licence, in its own words"
        value={said.licence}
        maxLength={2000}
        rows={2}
        onChange={(licence) => onSaid({ ...said, licence })}
      />
      <ChoiceField
        label="Terms"
        value={said.terms}
        choices={licenceIds.map((id) => ({ value: id, text: licences[id].name }))}
        onChange={(terms) => onSaid({ ...said, terms })}
      />
      <p className="quiet">{licences[said.terms].allows}</p>
    </Column>
  );
}

/** A dialog about a project, or about one piece of it: its words, photos and notes. */
function About({
  title,
  start,
  noted,
  projectId,
  body,
  save,
  onClose,
}: {
  title: string;
  start: Said;
  noted: boolean;
  projectId: string;
  body: BodyView | null;
  save: (said: Said) => PromiseLike<{ error?: unknown }>;
  onClose: () => void;
}) {
  const dispatch = useAppDispatch();
  // what is changed meanwhile, elsewhere, is no word of whoever types here
  const [first] = useState(start);
  const [said, setSaid] = useState(start);
  const [note, setNote] = useState('');
  const typed = note.trim() !== '' || JSON.stringify(said) !== JSON.stringify(first);
  const keep = async () => {
    const { error } = await save({ ...said, name: said.name.trim() });
    if (error) dispatch(say({ text: wordsOf(error).message, hint: wordsOf(error).hint, tone: 'failure' }));
    else onClose();
  };
  return (
    <CarefulDialog
      unkept={typed ? 'What you typed is not kept.' : null}
      onClose={onClose}
      maxWidth="md"
      fullWidth
      aria-labelledby="about-title"
      actions={(leave) => (
        <>
          <Button variant="text" onClick={leave}>
            Close
          </Button>
          <Button variant="contained" disabled={said.name.trim() === ''} onClick={() => void keep()}>
            Keep
          </Button>
        </>
      )}
    >
      <DialogTitle id="about-title">{title}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: '24px' }}>
        <Words said={said} onSaid={setSaid} noted={noted} />
        <Attachments projectId={projectId} body={body} note={note} onNote={setNote} />
      </DialogContent>
    </CarefulDialog>
  );
}

const saidOf = (of: ProjectView | BodyView): Said => ({
  name: of.name,
  note: 'note' in of ? of.note : '',
  licence: of.licence,
  terms: of.terms,
  source: of.source,
});

/** About a project. */
export function AboutProject({ projectId, onClose }: { projectId: string; onClose: () => void }) {
  const { data: project } = useProjectQuery(projectId);
  const [change] = useChangeProjectMutation();
  if (!project) return null;
  return (
    <About
      title={`About ${project.name}`}
      start={saidOf(project)}
      noted
      projectId={projectId}
      body={null}
      save={(said) => change({ id: projectId, ...said })}
      onClose={onClose}
    />
  );
}

/** About a piece, and its parts. */
export function AboutPiece({ body, onClose }: { body: BodyView; onClose: () => void }) {
  const [change] = useChangePieceMutation();
  return (
    <About
      title={`About ${body.name}`}
      start={saidOf(body)}
      noted={false}
      projectId={body.projectId}
      body={body}
      save={({ note: _, ...said }) => change({ id: body.id, projectId: body.projectId, ...said })}
      onClose={onClose}
    />
  );
}
