import { Router, type Request } from 'express';
import { BookQuery } from '@jasmorphe/contracts/dayRequests';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import type { DrawingReport } from '@jasmorphe/core/operations/drawing/describe';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import type { Book } from '../book/Book.ts';
import { bookTables, tableNames, type TableName } from '../book/bookTables.ts';
import { csvOf } from '../files/csv.ts';
import { gatherBook, type BookWork } from '../book/gatherBook.ts';
import { Refusal } from '../store/Refusal.ts';
import { check } from '../http/validate.ts';
import { disposition } from './projects.ts';
import type { Services } from '../Services.ts';

/** Drawings that are kept, so that a book made again after a change draws only what changed. */
const mostDrawn = 1000;

/** Build books: one PDF of a project, and its tables. */
export function bookRoutes({ library, compute }: Services): Router {
  const router = Router();
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
  const bookOf = (q: Request<{ id: string }>): Promise<Book> =>
    gatherBook(library, q.params.id, `${q.protocol}://${q.get('host') ?? 'localhost'}`, { draw, plan });

  router.get('/projects/:id/book', async (q, r) => {
    const { paper = (await library.workshop.settings()).paper } = check(BookQuery, q.query);
    const book = await bookOf(q);
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
  router.get('/projects/:id/book/tables', async (q, r) => {
    r.json(bookTables(await bookOf(q)));
  });
  router.get('/projects/:id/book/tables/:table', async (q, r) => {
    const name = q.params.table.replace(/\.csv$/, '') as TableName;
    if (!tableNames.includes(name)) throw Refusal.notFound('table', q.params.table);
    const book = await bookOf(q);
    r.set({
      'Content-Type': 'text/csv; charset=utf-8',
      'Content-Disposition': disposition(`${safeFileName(`${book.title}_${name}`)}.csv`),
    });
    const { heads, rows } = bookTables(book)[name];
    r.end(csvOf(heads, rows));
  });
  return router;
}
