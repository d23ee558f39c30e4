import Button from '@mui/material/Button';
import { useAddPieceMutation, useTakeVersionMutation } from '../app/kitApi.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { forgetVersion } from '../app/uiSlice.ts';
import { Note } from '../ui/Note.tsx';

/** Files that were dropped under a known name with new bytes: each may take the place of the piece's own. */
export function OfferedVersions({ projectId }: { projectId: string }) {
  const dispatch = useAppDispatch();
  const offered = useAppSelector((s) => s.ui.versions).filter((v) => v.projectId === projectId);
  const [take] = useTakeVersionMutation();
  const [add] = useAddPieceMutation();
  if (offered.length === 0) return null;
  const settle = async (sourceHash: string, doing: PromiseLike<{ error?: unknown }>) => {
    if ((await doing).error === undefined) dispatch(forgetVersion(sourceHash));
  };
  return (
    <Note tone="attention" role="alert" data-testid="versions">
      {offered.map(({ file, sourceHash, bodyId, name }) => (
        <div key={sourceHash}>
          <b>{file}</b> has new bytes. What was done to {name} can be done again on it.{' '}
          <Button variant="text" onClick={() => void settle(sourceHash, take({ bodyId, sourceHash, fileName: file }))}>
            Put it in the place of {name}
          </Button>{' '}
          <Button
            variant="text"
            onClick={() => void settle(sourceHash, add({ projectId, sourceHash, fileName: file }))}
          >
            Add it as another piece
          </Button>{' '}
          <Button variant="text" color="inherit" onClick={() => dispatch(forgetVersion(sourceHash))}>
            Leave {name} as it is
          </Button>
        </div>
      ))}
    </Note>
  );
}
