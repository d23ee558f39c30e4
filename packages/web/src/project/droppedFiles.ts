import type { DroppedFile } from '../app/kitApi.ts';

/** Files that were picked, with the folder that they were picked in where one was. */
export const pickedFiles = (files: Iterable<File>): DroppedFile[] =>
  [...files].map((file) => ({ file, path: file.webkitRelativePath || file.name }));

async function filesOf(entry: FileSystemEntry, out: DroppedFile[]): Promise<void> {
  if (entry.isFile) {
    const file = await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail));
    out.push({ file, path: entry.fullPath.replace(/^\//, '') });
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    // a folder is read some entries at a time
    const some = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
    if (some.length === 0) return;
    for (const e of some) await filesOf(e, out);
  }
}

/** All files of a drop, folders opened. */
export async function droppedFiles(data: DataTransfer | null): Promise<DroppedFile[]> {
  if (!data) return [];
  // the list is gone once the event is over: entries are taken out of it at once
  const entries = Array.from(data.items).flatMap((item) => {
    const entry = item.kind === 'file' ? item.webkitGetAsEntry() : null;
    return entry ? [entry] : [];
  });
  if (entries.length === 0) return pickedFiles(Array.from(data.files));
  const out: DroppedFile[] = [];
  for (const entry of entries) await filesOf(entry, out);
  return out;
}
