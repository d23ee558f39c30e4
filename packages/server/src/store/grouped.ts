/** Rows by a key of theirs, each as it is to be shown. */
export function grouped<Row, View>(rows: readonly Row[], split: (row: Row) => [string, View]): Map<string, View[]> {
  const out = new Map<string, View[]>();
  for (const row of rows) {
    const [key, view] = split(row);
    const list = out.get(key);
    if (list) list.push(view);
    else out.set(key, [view]);
  }
  return out;
}
