import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';

/** JavaScript that a first paint may wait for at most, of the shelf or of a project, kB gzipped. */
export const mostKb = 350;

/** Names of the pieces that a piece imports before it can run; what it fetches later is no such import. */
const importsOf = (text) => [...text.matchAll(/(?:from|import)"\.\/([^"]+\.js)"/g)].map(([, file]) => file);

/**
 * What a built page loads before it shows anything.
 *
 * @param {string} folder the built page
 * @returns {{ initialKb: number, projectKb: number, onDemandKb: number }} gzipped: before the shelf stands there, before a
 *   project does that is opened by its address, and whatever is fetched beyond the first
 * @throws where the page of a project is no piece of its own any more
 */
export function firstLoad(folder) {
  const assets = join(folder, 'assets');
  const pieces = readdirSync(assets).filter((file) => file.endsWith('.js'));
  const kbOf = (files) =>
    [...files].reduce((n, file) => n + gzipSync(readFileSync(join(assets, file))).length / 1000, 0);
  const reached = (from, seen = new Set()) => {
    if (seen.has(from)) return seen;
    seen.add(from);
    for (const file of importsOf(readFileSync(join(assets, from), 'utf8'))) reached(file, seen);
    return seen;
  };
  const html = readFileSync(join(folder, 'index.html'), 'utf8');
  const first = new Set([...html.matchAll(/(?:src|href)="\/assets\/([^"]+\.js)"/g)].map(([, file]) => file));
  const project = pieces.find((file) => file.startsWith('ProjectPage-'));
  if (!project) throw new Error('No piece of the built page is called ProjectPage: what a project loads is not known.');
  const initialKb = kbOf(first);
  return {
    initialKb,
    projectKb: kbOf(new Set([...first, ...reached(project)])),
    onDemandKb: kbOf(pieces) - initialKb,
  };
}
