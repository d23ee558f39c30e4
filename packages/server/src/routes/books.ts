import type { Router, Request } from 'express';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import type { DrawingReport } from '@jasmorphe/core/operations/drawing/describe';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import type { Book } from '../book/Book.ts';
import { bookTables, tableNames, type TableName } from '../book/bookTables.ts';
import { csvOf } from '../files/csv.ts';
import { gatherBook, type BookWork } from '../book/gatherBook.ts';
import { Refusal } from '../store/Refusal.ts';
import { disposition } from './projects.ts';
import { serving } from '../http/serving.ts';
import type { Services } from '../Services.ts';

/** Drawings that are kept, so that a book made again after a change draws only what changed. */
const mostDrawn = 1000;

/** Build books: one PDF of a project, and its tables. */
export function bookRoutes({ library, compute }: Services): Router {
  const { router, answer, send } = serving();
  const drawn = new Map<string, Promise<DrawingReport | null>>();
  const draw: BookWork['draw'] = (hash, rotation) => {
    const key = `${hash} ${JSON.stringify(rotation)}`;
    const known = drawn.get(key);
    if (known) return known;
    const work = compute
      .run({ kind: 'run', operation: catalogue.drawing.name, params: { rotation }, inputs: [hash] })
      .result.then(({ report }) => report as DrawingReport)
      .catch((error: unknown) => {
        drawn.delete(key);
        if (isMeshError(error)) return null;
        throw error;
      });
    drawn.set(key, work);
    if (drawn.size > mostDrawn) drawn.delete(drawn.keys().next().value!);
    return work;
  };
  const plan: BookWork['plan'] = async (request, nowMs) =>
    (await compute.run({ kind: 'plan', request, nowMs, otherwise: false }).result).plan;
  const bookOf = (projectId: string, q: Request): Promise<Book> =>
    gatherBook(library, projectId, `${q.protocol}://${q.get('host') ?? 'localhost'}`, { draw, plan });

  send('GET /projects/{id}/book', async ({ path, query, q, r }) => {
    const { paper = (await library.workshop.settings()).paper } = query;
    const book = await bookOf(path.id, q);
    // what draws pages is large, and not every server is asked for a book
    const { bookPdf } = await import('../book/bookPdf.ts');
    const { bytes } = await bookPdf(book, paper);
    r.set({
      'Content-Type': 'application/pdf',
      'Content-Disposition': disposition(`${safeFileName(`${book.title}_build-book`)}.pdf`).replace(
        'attachment',
        'inline',
      ),
    });
    r.end(bytes);
  });
  answer('GET /projects/{id}/book/tables', async ({ path, q }) => bookTables(await bookOf(path.id, q)));
  send('GET /projects/{id}/book/tables/{table}', async ({ path, q, r }) => {
    const name = path.table.replace(/\.csv$/, '') as TableName;
    if (!tableNames.includes(name)) throw Refusal.notFound('table', path.table);
    const book = await bookOf(path.id, q);
    r.set({
      'Content-Type': 'text/csv; charset=utf-8',
      'Content-Disposition': disposition(`${safeFileName(`${book.title}_${name}`)}.csv`),
    });
    const { heads, rows } = bookTables(book)[name];
    r.end(csvOf(heads, rows));
  });
  return router;
}
