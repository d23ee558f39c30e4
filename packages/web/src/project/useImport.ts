import { useCallback, useEffect, useState } from 'react';
import { useUploadMutation } from '../app/api.ts';

/** Name of a project until somebody names it. */
export const newProjectName = 'New project';

/** Imports files, and takes those dropped anywhere on the window. `over` is true while a file hovers. */
export function useImport(target: () => Promise<string | null>): {
  over: boolean;
  importFiles: (files: Iterable<File>) => Promise<void>;
} {
  const [upload] = useUploadMutation();
  const [over, setOver] = useState(false);
  const importFiles = useCallback(
    async (files: Iterable<File>) => {
      const list = [...files];
      if (list.length === 0) return;
      const projectId = await target();
      if (!projectId) return;
      for (const file of list) await upload({ projectId, file });
    },
    [target, upload],
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
