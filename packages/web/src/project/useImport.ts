import { useCallback, useEffect, useState } from 'react';
import { wordsOf } from '../app/api.ts';
import { useDropKitMutation, type DroppedFile } from '../app/kitApi.ts';
import { useAppDispatch } from '../app/store.ts';
import { offerVersions, refuse, say, setUploads } from '../app/uiSlice.ts';
import { droppedFiles, pickedFiles } from './droppedFiles.ts';

/** What a drop came to, as far as it is no news of its own. */
const knownWords = (known: readonly { name: string }[]): string =>
  known.length === 1
    ? `"${known[0].name}" is here already: the file has the same bytes.`
    : `${known.length} files are here already: they have the same bytes.`;

/**
 * Imports files, folders and archives as one job, and takes those dropped anywhere on the window. What is refused is
 * listed; the rest go on. `over` is true while a file hovers.
 *
 * @param target the project they go into; null when there is none, or when they were dealt with
 */
export function useImport(target: (files: File[]) => Promise<string | null>): {
  over: boolean;
  importFiles: (files: Iterable<File>) => Promise<void>;
} {
  const dispatch = useAppDispatch();
  const [drop] = useDropKitMutation();
  const [over, setOver] = useState(false);
  const send = useCallback(
    async (files: DroppedFile[]) => {
      if (files.length === 0) return;
      const projectId = await target(files.map((f) => f.file));
      if (!projectId) return;
      dispatch(setUploads(files.map((f) => ({ projectId, fileName: f.path }))));
      const { data, error } = await drop({ projectId, files });
      dispatch(setUploads([]));
      if (error) {
        const { message, hint } = wordsOf(error);
        const fileName = files.length === 1 ? files[0].path : `${files.length} files`;
        dispatch(refuse({ projectId, fileName, why: `${message} ${hint}` }));
        return;
      }
      for (const { file, message } of data.refused) dispatch(refuse({ projectId, fileName: file, why: message }));
      if (data.known.length > 0) dispatch(say({ text: knownWords(data.known), hint: '', tone: 'note' }));
      if (data.versions.length > 0) dispatch(offerVersions(data.versions.map((v) => ({ projectId, ...v }))));
    },
    [target, drop, dispatch],
  );
  const importFiles = useCallback((files: Iterable<File>) => send(pickedFiles(files)), [send]);
  useEffect(() => {
    let depth = 0;
    const hasFiles = (e: DragEvent) => e.dataTransfer?.types.includes('Files') ?? false;
    const enter = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      depth++;
      setOver(true);
    };
    const move = (e: DragEvent) => hasFiles(e) && e.preventDefault();
    const leave = () => {
      depth = Math.max(0, depth - 1);
      if (depth === 0) setOver(false);
    };
    const dropped = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      depth = 0;
      setOver(false);
      void droppedFiles(e.dataTransfer).then(send, () =>
        dispatch(
          say({
            text: 'What was dropped cannot be read.',
            hint: 'Drop it again, or pick the files. Nothing was imported.',
            tone: 'failure',
          }),
        ),
      );
    };
    window.addEventListener('dragenter', enter);
    window.addEventListener('dragover', move);
    window.addEventListener('dragleave', leave);
    window.addEventListener('drop', dropped);
    return () => {
      window.removeEventListener('dragenter', enter);
      window.removeEventListener('dragover', move);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('drop', dropped);
    };
  }, [send, dispatch]);
  return { over, importFiles };
}
