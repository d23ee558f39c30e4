import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';

/** JavaScript that the first paint may wait for at most, kB gzipped. */
export const mostKb = 350;

/**
 * What a built page loads before it shows anything, and what it loads on demand.
 *
 * @param {string} folder the built page
 * @returns {{ initialKb: number, onDemandKb: number }} gzipped
 */
export function firstLoad(folder) {
  const html = readFileSync(join(folder, 'index.html'), 'utf8');
  const size = (file) => gzipSync(readFileSync(join(folder, file))).length / 1000;
  const first = [...html.matchAll(/(?:src|href)="\/(assets\/[^"]+\.js)"/g)].map(([, file]) => file);
  const initialKb = first.reduce((n, file) => n + size(file), 0);
  const all = readdirSync(join(folder, 'assets'))
    .filter((file) => file.endsWith('.js'))
    .reduce((n, file) => n + size(`assets/${file}`), 0);
  return { initialKb, onDemandKb: all - initialKb };
}
