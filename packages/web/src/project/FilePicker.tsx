import { useImperativeHandle, useRef, type RefObject } from 'react';
import { styled } from '@mui/material/styles';

const Hidden = styled('input')({ display: 'none' });

/** What meshes may be read from: files, and archives of many; pictures and notes that belong to them. */
const accepted = '.stl,.obj,.ply,.3mf,.zip,.png,.jpg,.jpeg,.webp,.txt,.md';
const acceptedAlone = '.stl,.obj,.ply,.3mf';

/** The browser's own way to pick mesh files. `open` is filled with what opens it. */
export function FilePicker({
  open,
  onFiles,
  single = false,
  testId = 'file-input',
}: {
  open: RefObject<() => void>;
  onFiles: (files: File[]) => void;
  single?: boolean;
  testId?: string;
}) {
  const input = useRef<HTMLInputElement>(null);
  useImperativeHandle(open, () => () => input.current?.click());
  return (
    <Hidden
      ref={input}
      type="file"
      aria-label="Mesh files"
      multiple={!single}
      accept={single ? acceptedAlone : accepted}
      data-testid={testId}
      onChange={(e) => {
        const files = Array.from(e.target.files ?? []);
        // the same file may be picked once more
        e.target.value = '';
        onFiles(files);
      }}
    />
  );
}
