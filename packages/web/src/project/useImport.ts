import { useCallback, useEffect, useState } from 'react';
import { useUploadMutation, wordsOf } from '../app/api.ts';
import { useAppDispatch } from '../app/store.ts';
import { refuse, setUploads } from '../app/uiSlice.ts';

/**
 * Imports files, in their order, and takes those dropped anywhere on the window. One that is refused is listed; the rest
 * go on. `over` is true while a file hovers.
 *
 * @param target the project they go into; null when there is none
 */
export function useImport(target: (files: File[]) => Promise<string | null>): {
  over: boolean;
  importFiles: (files: Iterable<File>) => Promise<void>;
} {
  const dispatch = useAppDispatch();
  const [upload] = useUploadMutation();
  const [over, setOver] = useState(false);
  const importFiles = useCallback(
    async (files: Iterable<File>) => {
      const list = [...files];
      if (list.length === 0) return;
      const projectId = await target(list);
      if (!projectId) return;
      for (let i = 0; i < list.length; i++) {
        dispatch(setUploads(list.slice(i).map((f) => ({ projectId, fileName: f.name }))));
        const { error } = await upload({ projectId, file: list[i] });
        if (error) {
          const { message, hint } = wordsOf(error);
          dispatch(refuse({ projectId, fileName: list[i].name, why: `${message} ${hint}` }));
        }
      }
      dispatch(setUploads([]));
    },
    [target, upload, dispatch],
  );
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
    const drop = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      depth = 0;
      setOver(false);
      void importFiles(e.dataTransfer?.files ?? []);
    };
    window.addEventListener('dragenter', enter);
    window.addEventListener('dragover', move);
    window.addEventListener('dragleave', leave);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragenter', enter);
      window.removeEventListener('dragover', move);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('drop', drop);
    };
  }, [importFiles]);
  return { over, importFiles };
}
