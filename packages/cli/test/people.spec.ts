import { expect } from 'chai';
import { mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { spawnSync } from 'node:child_process';
import { commands } from '@jasmorphe/cli/commands';
import { main } from '@jasmorphe/cli/main';
import { filesOf, outputsOf } from '@jasmorphe/cli/files';
import { progressLine } from '@jasmorphe/cli/progressLine';
import { version } from '@jasmorphe/cli/version';
import { catalogue, descriptionOf, operationNames } from '@jasmorphe/core/operations/catalogue';
import { paramFact, paramFacts } from '@jasmorphe/core/params/facts';
import { cli } from './cli.ts';

const require = createRequire(import.meta.url);
const cube = require.resolve('stl-models/polytopes/cube.bin.stl');
const gear = require.resolve('stl-models/objects/gearwheel.bin.stl');

let folder: string;
const here = (name: string) => join(folder, name);

/** Commands that are about a data folder and read no mesh. */
const dataCommands = ['book', 'doctor', 'pack', 'unpack', 'backup', 'restore'];

describe('the command line for people', () => {
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-people-'));
    mkdirSync(here('kit'));
    for (const name of ['b.stl', 'a.stl', 'wheel.STL']) writeFileSync(here(`kit/${name}`), readFileSync(cube));
    writeFileSync(here('kit/notes.txt'), 'not a mesh');
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('says its version, that of the package, and gives an example with every command', async () => {
    const { version: packaged } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as {
      version: string;
    };
    expect(await cli('--version')).include({ code: 0, out: `${packaged}\n` });
    expect(version).equal(packaged);
    for (const { name, example } of commands) {
      const { out, code } = await cli('help', name);
      expect([code, out.includes(`Example:\n  ${example}`)], name).eql([0, true]);
      expect(example, name).match(new RegExp(`^jasmorphe ${name} `));
    }
  });

  it('every example can be read: its options are those of the command', async () => {
    for (const { name, example } of commands.filter((c) => !dataCommands.includes(c.name))) {
      const args = example
        .split(' ')
        .slice(1)
        .map((a, i) => (i > 0 && /\.(stl|obj|ply|3mf)$|^kit/.test(a) ? here(`none-${a.replace(/\W/g, '')}.stl`) : a));
      const { code, error } = await cli(...args.map((a) => (a === 'parts' || a === 'plugs' ? here(a) : a)));
      // nothing is there to be read; but nothing is wrong with the words
      // a gauge is made of nothing
      if (name === 'gauge') expect(code).equal(0);
      else if (name !== 'reference')
        expect([code, error], example).satisfy(
          ([c, e]: [number, string]) => c === 1 && /there is no such file|cannot be read/.test(e),
        );
    }
  });

  it('prints figures with units and findings as numbered sentences, and no colour where there is no terminal', async () => {
    const { out } = await cli('inspect', cube);
    expect(out)
      .match(/^Watertight +yes$/m)
      .and.match(/^Size +\S+ mm × \S+ mm × \S+ mm$/m);
    expect(out).match(/^Crossing pairs +0 +exact predicates$/m);
    expect(out)
      .not.match(/[{}[\]]|e-\d|undefined|NaN/)
      .and.not.contain('\u001b');
    const halved = here('open.obj');
    writeFileSync(halved, 'v 0 0 0\nv 9 0 0\nv 0 9 0\nv 0 0 9\nf 1 3 2\nf 1 2 4\nf 2 3 4\n');
    const open = await cli('inspect', halved);
    expect(open.out)
      .match(/^Watertight +no$/m)
      .and.match(/^1\. .+\. Mended by \w+/m);
    const divided = await cli('divide', gear, '-o', here('parts'), '--bed', '30x30x30', '--margin', '0');
    expect(divided.out)
      .match(/^Part +Size +Lies +Foot +Volume +Fits$/m)
      .and.match(/^A1 .* mm high .* cm² .* yes$/m);
    const coloured = { out: '' };
    await main(['inspect', halved], {
      out: (t) => void (coloured.out += t),
      error: () => undefined,
      live: false,
      colour: true,
    });
    expect(coloured.out).contain('\u001b[31mno\u001b[0m');
    // oxlint-disable-next-line no-control-regex
    expect(coloured.out.replace(/\u001b\[\d+m/g, '')).equal(open.out);
  });

  it('takes several files and patterns, each by itself; one that fails does not stop the others', async () => {
    const { out, code } = await cli('inspect', here('kit/*'), '--json');
    expect(code).equal(1);
    const report = JSON.parse(out) as {
      files: { file: string; triangles: number }[];
      failed: { file: string; code: string }[];
    };
    expect(report.files.map((f) => [f.file, f.triangles])).eql(
      ['a.stl', 'b.stl', 'wheel.STL'].map((f) => [here(`kit/${f}`), 12]),
    );
    expect(report.failed.map((f) => f.file)).eql([here('kit/notes.txt')]);
    const people = await cli('inspect', here('kit/?.stl'));
    expect(people.code).equal(0);
    expect(people.out.match(/Watertight/g)).length(2);
    expect((await cli('inspect', here('kit/*.obj'))).error).match(/No file matches/);
  });

  it('finds files by patterns whatever signs are in their names', async () => {
    const names = [
      'part-A1.stl',
      'part-A1r1.stl',
      'horn (2) [old].stl',
      'a+b^2.stl',
      'x$y|z{3}.stl',
      'é-bé.stl',
      'rod.v1-2.stl',
    ];
    const mine = here('kit/signs');
    mkdirSync(mine);
    for (const name of names) writeFileSync(join(mine, name), 'solid');
    const found = async (pattern: string) => (await filesOf([join(mine, pattern)])).map((path) => basename(path));
    for (const name of names) {
      expect(await found(`${name.slice(0, -4)}.*`), name).eql([name]);
      expect(await found(`?${name.slice(1)}`), name).eql([name]);
    }
    expect(await found('part-*.stl')).eql(['part-A1.stl', 'part-A1r1.stl']);
    expect(await found('rod.v?-2.stl')).eql(['rod.v1-2.stl']);
    // a dot is no sign for anything else
    await filesOf([join(mine, 'rod?v1-2xstl')]).then(
      () => expect.fail('it matched'),
      (error: unknown) => expect(error).match(/No file matches/),
    );
    rmSync(mine, { recursive: true });
  });

  it('writes what several files became into a folder, under their own names, and never over what was read', async () => {
    const made = await cli('size', here('kit/*.stl'), '-o', here('large'), '--factor', '2', '--json');
    expect(made.code).equal(0);
    expect(readdirSync(here('large')).sort()).eql(['a.stl', 'b.stl']);
    const { files } = JSON.parse(made.out) as { files: { out: string; size: { x: number } }[] };
    expect(files.map((f) => f.out)).eql([here('large/a.stl'), here('large/b.stl')]);
    const before = readFileSync(here('kit/a.stl'));
    const over = await cli('size', here('kit/*.stl'), '-o', here('kit'), '--factor', '2');
    expect([over.code, over.error]).satisfy(([c, e]: [number, string]) => c === 1 && /written over itself/.test(e));
    expect(readFileSync(here('kit/a.stl')).equals(before)).equal(true);
    // equal names from two folders stay apart, and what cannot be written in its own format becomes a 3MF
    expect(outputsOf('out', ['x/a.stl', 'y/a.stl', 'z/A.STL', 'b.step'])).eql(
      ['a.stl', 'a-2.stl', 'A-3.stl', 'b.3mf'].map((f) => join('out', f)),
    );
  });

  it('a pattern that one file matches is answered as several are; a folder that got nothing is not left behind', async () => {
    const one = await cli('size', here('kit/a*.stl'), '-o', here('one'), '--factor', '2', '--json');
    const { files } = JSON.parse(one.out) as { files: { out: string }[] };
    expect([one.code, files.map((f) => f.out)]).eql([0, [here('one/a.stl')]]);
    const none = await cli('size', here('kit/n*.txt'), '-o', here('none'), '--factor', '2', '--json');
    expect([none.code, (JSON.parse(none.out) as { failed: object[] }).failed.length]).eql([1, 1]);
    expect(readdirSync(folder).sort()).eql(['kit', 'one']);
    // one that was there before stays, empty or not
    mkdirSync(here('mine'));
    await cli('size', here('kit/n*.txt'), '-o', here('mine'), '--factor', '2');
    expect(readdirSync(folder)).contain('mine');
  });

  it('reads standard input', async () => {
    let out = '';
    const code = await main(['inspect', '-', '--json'], {
      out: (t) => void (out += t),
      error: () => undefined,
      live: false,
      stdin: async () => readFileSync(cube),
    });
    expect([code, (JSON.parse(out) as { triangles: number }).triangles]).eql([0, 12]);
  });

  it('completes commands and options; the script is one that the shell can read', async () => {
    for (const shell of ['bash', 'zsh', 'fish']) {
      const { out, code } = await cli('completion', shell);
      expect(code).equal(0);
      for (const { name } of commands) expect(out, shell).contain(name);
    }
    const { out } = await cli('completion', 'bash');
    const complete = (line: string) => {
      const words = line.split(' ');
      const script = `${out}\nCOMP_WORDS=(${words.map((w) => `"${w}"`).join(' ')}); COMP_CWORD=${words.length - 1}; _jasmorphe; printf '%s\\n' "\${COMPREPLY[@]}"`;
      return spawnSync('bash', ['-c', script], { encoding: 'utf8' }).stdout.trim().split('\n');
    };
    expect(complete('jasmorphe thick').sort()).eql(['thicken', 'thickness']);
    expect(complete('jasmorphe hollow --dr')).eql(['--drain', '--drains']);
    expect(complete('jasmorphe mend --method w')).eql(['wrap']);
    expect((await cli('completion', 'tcsh')).code).equal(2);
  });

  it('foretells how long a run still takes once it knows', () => {
    let time = 0;
    const said: string[] = [];
    const line = progressLine(
      (t) => said.push(t),
      () => time,
    );
    line.say(0.01, 'Looking');
    time = 10_000;
    line.say(0.25, 'Wrapping');
    line.say(0.25, 'Wrapping');
    time = 600_000;
    line.say(0.5, 'Wrapping');
    line.say(1, 'Done');
    line.clear();
    // oxlint-disable-next-line no-control-regex
    expect(said.map((s) => s.replace(/\r\u001b\[K/, ''))).eql([
      '  1 % Looking',
      ' 25 % Wrapping · about 30 s left',
      ' 50 % Wrapping · about 10 min left',
      '100 % Done',
      '',
    ]);
  });
});

describe('params as the command line sees them', () => {
  it('shapes, limits and defaults are those that are checked', () => {
    const { params } = catalogue.hollow;
    expect(paramFact(params, 'drains')).include({ shape: 'whole', least: 0, most: 8, standard: 0, required: false });
    expect(paramFact(params, 'wall')).include({ shape: 'length', least: 0, above: true, most: 1e6, required: true });
    expect(paramFact(catalogue.size.params, 'shrinkage')).include({ least: 0, most: 50, below: true });
    expect(paramFact(catalogue.mend.params, 'method').choices).eql(['auto', 'stitch', 'join', 'wrap']);
    expect(paramFact(catalogue.mend.params, 'loops')).include({ shape: 'whole', many: true });
    expect(() => paramFact(params, 'walls')).throw(/no param "walls"/);
  });

  it('every param of every operation that is run here has an option, or another stands for it', () => {
    for (const command of commands) {
      const name = operationNames.find((n) => n === command.name);
      if (!name) continue;
      const flags = command.options.map((o) => o.flags.match(/--(?:no-)?([\w-]+)/)![1]);
      expect(new Set(flags).size, name).equal(flags.length);
      for (const { name: param, flag } of paramFacts(descriptionOf(name).params))
        if (flag !== null)
          expect(flags, `${name} ${param}`).include(flag ?? param.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`));
    }
  });
});
