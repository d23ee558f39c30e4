import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { say } from './scan.ts';

// JavaScript that the first paint waits for: aim under 350 kB gzipped
const folder = 'packages/web/dist';
const html = readFileSync(join(folder, 'index.html'), 'utf8');
const first = [...html.matchAll(/(?:src|href)="\/(assets\/[^"]+\.js)"/g)].map(([, f]) => f);
const size = (file: string) => gzipSync(readFileSync(join(folder, file))).length / 1000;
const initial = first.reduce((n, f) => n + size(f), 0);
const all = readdirSync(join(folder, 'assets'))
  .filter((f) => f.endsWith('.js'))
  .reduce((n, f) => n + size(`assets/${f}`), 0);
say(
  `initial JavaScript ${initial.toFixed(0)} kB gzipped, ${(initial / 350).toFixed(2)} of 350 kB; on demand ${(all - initial).toFixed(0)} kB more`,
);
