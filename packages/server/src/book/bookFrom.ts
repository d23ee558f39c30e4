import { fromCanonical } from '@jasmorphe/core/mesh/canonical';
import { drawing } from '@jasmorphe/core/operations/drawing/run';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { planDays } from '@jasmorphe/core/planning/days/planDays';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { sliceContext, type RunContext } from '@jasmorphe/core/run/context';
import { Packs } from '../pack/Packs.ts';
import { reading } from '../pack/dataFolder.ts';
import { bookPdf } from './bookPdf.ts';
import { bookTables } from './bookTables.ts';
import { gatherBook, type BookWork } from './gatherBook.ts';
import type { Paper } from './Sheet.ts';

/**
 * The build book of a project in a data folder, by its name or id, without a server; it may stand beside one that works
 * there.
 *
 * @param paper as the settings of the folder say if left out
 */
export const bookFrom = (
  folder: string,
  project: string,
  paper: Paper | undefined,
  address: string,
  context: RunContext,
): Promise<{ bytes: Uint8Array; pages: number; tables: ReturnType<typeof bookTables> }> =>
  reading(folder, async (library, blobs) => {
    const id = await new Packs(library).find(project);
    let done = 0;
    const draw: BookWork['draw'] = async (hash, rotation) => {
      const own = sliceContext(context, done / (done + 4), (done + 1) / (done + 5));
      done++;
      try {
        const mesh = fromCanonical(await blobs.read('meshes', hash));
        return (await drawing.run([mesh], parseParams(drawing.params, { rotation }), own)).report;
      } catch (error) {
        if (isMeshError(error) && error.code !== 'cancelled') return null;
        throw error;
      }
    };
    const plan: BookWork['plan'] = async (request, nowMs) => planDays(request, nowMs);
    const book = await gatherBook(library, id, address, { draw, plan });
    const settings = await library.workshop.settings();
    return { ...(await bookPdf(book, paper ?? settings.paper)), tables: bookTables(book) };
  });
