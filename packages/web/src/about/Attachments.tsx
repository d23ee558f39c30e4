import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import { useRef, useState } from 'react';
import type { BodyView } from '@jasmorphe/contracts/views';
import { hrefOf } from '../app/addresses.ts';
import { wordsOf } from '../app/api.ts';
import {
  useAddNoteMutation,
  useAddPhotoMutation,
  useAttachmentsQuery,
  useRemoveAttachmentMutation,
} from '../app/kitApi.ts';
import { useAppDispatch } from '../app/store.ts';
import { say } from '../app/uiSlice.ts';
import { WordsField } from '../ui/WordsField.tsx';
import { ChoiceField } from '../forms/Fields.tsx';
import { Column } from './Column.ts';
import { Actions } from '../ui/layout.ts';

const Hidden = styled('input')({ display: 'none' });

/** Photos and notes of a project, a piece, or one of its parts: each says what it is of. */
export function Attachments({
  projectId,
  body,
  note: text,
  onNote: setText,
}: {
  projectId: string;
  body: BodyView | null;
  /** a note that is being typed */
  note: string;
  onNote: (text: string) => void;
}) {
  const dispatch = useAppDispatch();
  const { data: all = [] } = useAttachmentsQuery(projectId);
  const [note, { isLoading: noting }] = useAddNoteMutation();
  const [photo] = useAddPhotoMutation();
  const [remove] = useRemoveAttachmentMutation();
  const [of, setOf] = useState(body?.id ?? '');
  const input = useRef<HTMLInputElement>(null);
  const names = new Map([
    ['', 'the project'],
    ...(body ? [[body.id, body.name] as const, ...body.parts.map((p) => [p.id, `part ${p.tag}`] as const)] : []),
  ]);
  // a piece shows what is of it and its parts, a project all
  const shown = body ? all.filter((a) => a.bodyId !== null && names.has(a.bodyId)) : all;
  const owner = of === '' ? {} : { bodyId: of };
  const refused = (error: unknown) => {
    const { message, hint } = wordsOf(error);
    dispatch(say({ text: message, hint, tone: 'failure' }));
  };
  const addNote = async () => {
    const { error } = await note({ projectId, text: text.trim(), ...owner });
    if (error) refused(error);
    else setText('');
  };
  const addPhoto = async (file: File) => {
    const { error } = await photo({ projectId, file, ...owner });
    if (error) refused(error);
  };
  return (
    <Column aria-label="Photos and notes">
      {shown.map((a) => (
        <figure key={a.id}>
          {a.kind === 'photo' && (
            <img src={hrefOf('GET /attachments/{id}/picture', { id: a.id })} alt={a.text || a.name} />
          )}
          <figcaption>
            {a.bodyId !== null && <b>{names.get(a.bodyId) ?? 'a piece'} </b>}
            {a.text || a.name}{' '}
            <Button variant="text" color="inherit" onClick={() => void remove(a.id)}>
              Take away
            </Button>
          </figcaption>
        </figure>
      ))}
      {shown.length === 0 && <p className="quiet">No photos or notes yet.</p>}
      {names.size > 2 && (
        <ChoiceField
          label="New ones are of"
          value={of}
          choices={[...names].filter(([id]) => id !== '').map(([value, t]) => ({ value, text: t }))}
          onChange={setOf}
        />
      )}
      <WordsField label="New note" value={text} maxLength={20_000} rows={3} onChange={setText} />
      <Actions>
        <Button variant="outlined" disabled={noting || text.trim() === ''} onClick={() => void addNote()}>
          Add the note
        </Button>
        <Button variant="outlined" onClick={() => input.current?.click()}>
          Add a photo …
        </Button>
        <Hidden
          ref={input}
          type="file"
          aria-label="Photo"
          accept=".png,.jpg,.jpeg,.webp"
          data-testid="photo-input"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = '';
            if (file) void addPhoto(file);
          }}
        />
      </Actions>
    </Column>
  );
}
