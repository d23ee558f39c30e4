/** SQLite takes so many values in one statement, with room for others. */
const most = 500;

/** Asks for many things by name, some at a time; each name once. */
export async function chunked<Name, Row>(
  names: readonly Name[],
  ask: (some: Name[]) => PromiseLike<Row[]>,
): Promise<Row[]> {
  const once = [...new Set(names)];
  const out: Row[] = [];
  for (let i = 0; i < once.length; i += most) out.push(...(await ask(once.slice(i, i + most))));
  return out;
}
