import Button from '@mui/material/Button';
import type { BodyView } from '@jasmorphe/contracts/views';
import { countOf } from '@jasmorphe/core/words/numbers';
import { wordsOf } from '../../app/api.ts';
import { useMakeTwinsMutation } from '../../app/kitApi.ts';
import { Note } from '../../ui/Note.tsx';

/** Where several of a model are printed: each as a piece of its own, with a place on a bed and its own word at Print. */
export function CopiesOfModel({ body: { modelId, projectId, name, copies } }: { body: BodyView }) {
  const [make, { isLoading, error }] = useMakeTwinsMutation();
  if (copies < 2) return null;
  return (
    <>
      <p>
        {copies} of {name} are printed. As pieces of their own each has its place on a bed and its own word at Print.
      </p>
      <Button variant="outlined" disabled={isLoading} onClick={() => void make({ id: modelId, projectId, copies })}>
        Make them {countOf(copies, 'piece')}
      </Button>
      {error !== undefined && (
        <Note tone="failure">
          <b>{wordsOf(error).message}</b> {wordsOf(error).hint}
        </Note>
      )}
    </>
  );
}
