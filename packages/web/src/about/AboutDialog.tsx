import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { BodyView, ProjectView } from '@jasmorphe/contracts/views';
import { licenceIds, licences, type LicenceId } from '@jasmorphe/core/trade/licences';
import type { SourceView } from '@jasmorphe/contracts/kitViews';
import { useChangeProjectMutation, useProjectQuery, wordsOf } from '../app/api.ts';
import { useChangePieceMutation } from '../app/kitApi.ts';
import { useAppDispatch } from '../app/store.ts';
import { say } from '../app/uiSlice.ts';
import { ChoiceField } from '../forms/Fields.tsx';
import { Attachments } from './Attachments.tsx';

/** What is said of a work, as it stands in the fields. */
interface Said {
  name: string;
  note: string;
  licence: string;
  terms: LicenceId;
  source: SourceView;
}

const sourceFields: [keyof SourceView, string][] = [
  ['from', 'Where it came from'],
  ['by', 'By whom'],
  ['address', 'Address'],
  ['date', 'Day'],
];

/** Name, source and terms in fields; what the terms allow stands below in a line. */
function Words({ said, onSaid, noted }: { said: Said; onSaid: (said: Said) => void; noted: boolean }) {
  return (
    <div className="aboutWords">
      <TextField
        label="Name"
        value={said.name}
        slotProps={{ htmlInput: { maxLength: 120 } }}
        onChange={(e) => onSaid({ ...said, name: e.target.value })}
      />
      {noted && (
        <TextField
          label="Note"
          value={said.note}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
          onChange={(e) => onSaid({ ...said, note: e.target.value })}
        />
      )}
      {sourceFields.map(([key, label]) => (
        <TextField
          key={key}
          label={label}
          value={said.source[key] ?? ''}
          slotProps={{ htmlInput: { maxLength: key === 'address' ? 500 : key === 'date' ? 40 : 200 } }}
          onChange={(e) => onSaid({ ...said, source: { ...said.source, [key]: e.target.value } })}
        />
      ))}
      <TextField
        label="Licence, in its own words"
        value={said.licence}
        multiline
        maxRows={3}
        slotProps={{ htmlInput: { maxLength: 2000 } }}
        onChange={(e) => onSaid({ ...said, licence: e.target.value })}
      />
      <ChoiceField
        label="Terms"
        value={said.terms}
        choices={licenceIds.map((id) => ({ value: id, text: licences[id].name }))}
        onChange={(terms) => onSaid({ ...said, terms })}
      />
      <p className="quiet">{licences[said.terms].allows}</p>
    </div>
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
  const [said, setSaid] = useState(start);
  const keep = async () => {
    const { error } = await save({ ...said, name: said.name.trim() });
    if (error) dispatch(say({ text: wordsOf(error).message, hint: wordsOf(error).hint, tone: 'failure' }));
    else onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="about-title">
      <DialogTitle id="about-title">{title}</DialogTitle>
      <DialogContent className="about">
        <Words said={said} onSaid={setSaid} noted={noted} />
        <Attachments projectId={projectId} body={body} />
      </DialogContent>
      <DialogActions>
        <Button variant="text" onClick={onClose}>
          Close
        </Button>
        <Button variant="contained" disabled={said.name.trim() === ''} onClick={() => void keep()}>
          Keep
        </Button>
      </DialogActions>
    </Dialog>
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
