import { expect } from 'chai';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { cli } from './cli.ts';

const require = createRequire(import.meta.url);
const cube = require.resolve('stl-models/polytopes/cube.bin.stl');

let folder: string;
const here = (name: string) => join(folder, name);

/** How each command is run on a file; where it writes, to `new.stl` or the folder `new`. */
const commands: Record<string, (file: string) => string[]> = {
  inspect: (f) => [f],
  mend: (f) => [f, '-o', here('new.stl')],
  cuts: (f) => [f, '--bed', '100x100x100'],
  crop: (f) => [f, '-o', here('new.stl'), '--plane', '0,0,1,1'],
  foot: (f) => [f, '-o', here('new.stl')],
  refine: (f) => [f, '-o', here('new.stl')],
  simplify: (f) => [f, '-o', here('new.stl')],
  mirror: (f) => [f, '-o', here('new.stl'), '--at', 'x=1'],
  practice: (f) => [f, '-o', here('new.stl')],
  size: (f) => [f, '-o', here('new.stl'), '--factor', '2'],
  move: (f) => [f, '-o', here('new.stl'), '--by', '1,2,3'],
  hollow: (f) => [f, '-o', here('new.stl'), '--wall', '0.4'],
  divide: (f) => [f, '-o', here('new'), '--bed', '20x20x20'],
  joins: (f) => [f, '--bed', '20x20x20', '--join', 'pin'],
  order: (f) => [f, '--bed', '20x20x20'],
  recut: (f) => [f, '-o', here('new.stl'), '--printed', '1'],
  fit: (f) => [f, '--bed', '20x20x20'],
  layers: (f) => [f],
  stops: (f) => [f, '--colour', '5=brass', '--insert', '1,2,3=nut', '--high', '2'],
  bedfuls: (f) => [f, '--printer', here('printer.json'), '-o', here('new')],
  tips: (f) => [f, '-o', here('new.stl'), '--lift', '5', '--struts'],
  pose: (f) => [f, '-o', here('new.stl'), '--up', '0,0,1'],
  sections: (f) => [f, '--layer', '0.2'],
  estimate: (f) => [f, '--printer', here('printer.json')],
  thickness: (f) => [f],
  thicken: (f) => [f, '-o', here('new.stl')],
  sample: (f) => [f, '-o', here('new.stl'), '--largest', '1'],
  clearance: (f) => [f, '--kind', 'head'],
  whereabouts: (f) => [f, '--pass', '760x1980'],
  traits: (f) => [f],
  kit: (f) => [f, '-o', here('new'), '--factor', '2'],
  deviation: (f) => [f, cube],
  measure: (f) => [f, '--at', '0,0,0', '--at', '2,0,0'],
  convert: (f) => [f, '-o', here('new.obj')],
};

describe('refusals of the command line', () => {
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-cli-'));
    mkdirSync(here('folder.stl'));
    writeFileSync(here('printer.json'), JSON.stringify({ name: 'Long bed', bedMm: [250, 210, 220] }));
    writeFileSync(here('empty.stl'), '');
    writeFileSync(here('half.stl'), readFileSync(cube).subarray(0, 300));
    writeFileSync(here('words.obj'), 'Dear reader,\nv one two three\nf 1 2 3\n');
    writeFileSync(here('wrong.obj'), 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n');
    writeFileSync(here('lone.obj'), 'v 0 0 0\nv 1 0 0\nv 0 1 0\n');
    writeFileSync(here('notzip.3mf'), 'PK no more');
    writeFileSync(here('short.ply'), 'ply\nformat ascii 1.0\nelement vertex 3\n');
    writeFileSync(here('far.obj'), 'v 0 0 0\nv 1e39 0 0\nv 0 NaN 0\nf 1 2 3\n');
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('every command there is stands in the table', async () => {
    const { out } = await cli('--help');
    const named = [...out.matchAll(/^ {2}(\w+)(?:\|\w+)? \[options\]/gm)].map((m) => m[1]);
    const none = ['plan', 'book', 'reference', 'gauge', 'doctor', 'pack', 'unpack', 'backup', 'restore'];
    // those read no mesh
    expect(named.filter((n) => !none.includes(n)).sort()).eql(Object.keys(commands).sort());
  });

  it('each names a file that is missing, a folder, empty, cut off, or no mesh; and writes nothing', async () => {
    const before = readdirSync(folder).sort();
    const bad = before
      .filter((f) => f !== 'printer.json')
      .map(here)
      .concat([here('none.stl'), here('none.step')]);
    for (const [name, argsFor] of Object.entries(commands))
      for (const file of bad) {
        const told = `${name} ${file}`;
        const answer = await cli(name, ...argsFor(file), '--json');
        expect(answer.code, told).equal(1);
        const { error } = JSON.parse(answer.out) as { error: { code: string; message: string; hint: string } };
        expect(error.code, told).match(/^[a-z-]+$/);
        expect(error.message, told).match(/\S.*[.]$/s);
        expect(`${error.message} ${error.hint}`, told).not.match(/undefined|NaN\b|\bat \w+ \(|TypeError|ENOENT|EISDIR/);
        expect(readdirSync(folder).sort(), told).eql(before);
      }
  }).timeout(300_000);

  it('each works on a plain cube, or says why a cube will not do', async () => {
    // it has no wall that is thin
    const refused: Record<string, string> = { thicken: 'cannot' };
    for (const [name, argsFor] of Object.entries(commands)) {
      const answer = await cli(name, ...argsFor(cube), '--json');
      const told = `${name} ${answer.out.slice(0, 300)}`;
      const found = JSON.parse(answer.out) as { elapsedMs?: number; error?: { code: string } };
      expect([answer.code, found.error?.code], told).eql(name in refused ? [1, refused[name]] : [0, undefined]);
      if (!(name in refused)) expect(found.elapsedMs, told).above(0);
      rmSync(here('new'), { recursive: true, force: true });
    }
  }).timeout(300_000);

  it('numbers that are none, or out of all bounds, are refused before anything is read', async () => {
    for (const args of [
      ['size', cube, '-o', here('new.stl'), '--factor', '1e9'],
      ['size', cube, '-o', here('new.stl'), '--factor', '-2'],
      ['size', cube, '-o', here('new.stl'), '--factor', 'NaN'],
      ['size', cube, '-o', here('new.stl'), '--factor', '2', '--to', 'z=9'],
      ['size', cube, '-o', here('new.stl'), '--to', 'w=9'],
      ['size', cube, '-o', here('new.stl'), '--ratio', '1:0', '--original', '1m'],
      ['size', cube, '-o', here('new.stl'), '--reading', '0=5'],
      ['size', cube, '-o', here('new.stl'), '--fill-bed', '250x210'],
      ['size', cube, '-o', here('new.stl'), '--factor', '2', '--shrinkage', '50'],
      ['size', cube, '-o', here('new.stl')],
      ['measure', cube, '--at', '1,1,1', '--at', '1,1,1'],
      ['measure', cube, '--kind', 'circle', '--at', '0,0,0', '--at', '1,1,1', '--at', '2,2,2'],
      ['measure', cube, '--at', '1,1'],
      ['hollow', cube, '-o', here('new.stl'), '--wall', '0'],
      ['thicken', cube, '-o', here('new.stl'), '--min', '-1'],
      ['sample', cube, '-o', here('new.stl')],
      ['clearance', cube, '--kind', 'head', '--measure', 'girth=-5'],
      ['clearance', cube, '--kind', 'head', '--measure', 'tail=50'],
      ['clearance', cube],
      ['clearance', cube, '--kind', 'head', '--move', '5000,0,0'],
      ['reference', '-o', here('new.stl'), '--kind', 'hand', '--measure', 'girth=200'],
      ['places', cube, '--pass', '0x1980'],
    ]) {
      const answer = await cli(...args);
      expect(answer.code, args.join(' ')).oneOf([1, 2]);
      expect(answer.error, args.join(' ')).match(/\S/);
      expect(answer.error, args.join(' ')).not.match(/undefined|TypeError|\bat \w+ \(/);
    }
    expect(readdirSync(folder)).not.include('new.stl');
  });
});
