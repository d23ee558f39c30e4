import { expect } from 'chai';
import { zipSync } from 'fflate';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { startServer } from '@jasmorphe/server/startServer';
import { cli } from './cli.ts';

const cube = readFileSync(createRequire(import.meta.url).resolve('stl-models/polytopes/cube.bin.stl'));

interface KitReport {
  pieces: {
    file: string;
    out: string;
    size: { x: number };
    watertight: boolean;
    variantOf: string | null;
    copies: number;
  }[];
  failed: { file: string; message: string }[];
  unit: string;
}

describe('kits on the command line', () => {
  let folder: string;
  const at = (...names: string[]) => join(folder, ...names);
  const json = async <T>(...args: string[]) => {
    const { code, out } = await cli(...args, '--json');
    return { code, report: JSON.parse(out) as T & { error?: { code: string } } };
  };
  before(() => {
    folder = mkdtempSync(join(tmpdir(), 'jasmorphe-kit-'));
    mkdirSync(at('kit', 'deep'), { recursive: true });
    const scaled = (f: number) => {
      const bytes = new Uint8Array(cube);
      const view = new DataView(bytes.buffer);
      for (let t = 0; t < 12; t++)
        for (let k = 0; k < 9; k++) {
          const o = 84 + 50 * t + 12 + 4 * k;
          view.setFloat32(o, view.getFloat32(o, true) * f, true);
        }
      return bytes;
    };
    writeFileSync(at('kit', 'jaw_open.stl'), scaled(10));
    writeFileSync(at('kit', 'jaw_shut.stl'), scaled(10.2));
    writeFileSync(at('kit', 'deep', 'wheel.stl'), scaled(20));
    writeFileSync(at('kit', 'deep', 'wheel too.stl'), scaled(20));
    writeFileSync(at('kit', 'broken.stl'), cube.subarray(0, 150));
    writeFileSync(at('kit', 'notes.txt'), 'no mesh');
    writeFileSync(at('kit', 'more.zip'), zipSync({ 'pin.stl': scaled(30), 'empty.stl': new Uint8Array() }));
    // one triangle: open, and no wall to hollow
    writeFileSync(
      at('kit', 'flat.stl'),
      writeBinaryStl({ positions: Float32Array.of(0, 0, 0, 50, 0, 0, 0, 50, 0), triangles: Uint32Array.of(0, 1, 2) }),
    );
  });
  after(() => rmSync(folder, { recursive: true, force: true }));

  it('a folder with an archive is done as one job; what fails is listed and does not stop the others', async () => {
    const { code, report } = await json<KitReport>('kit', at('kit'), '--factor', '3', '--hollow', '5', '-o', at('out'));
    expect(code).equal(0);
    const by = new Map(report.pieces.map((p) => [p.file, p]));
    expect([...by.keys()].sort()).eql(['deep/wheel too.stl', 'jaw_open.stl', 'jaw_shut.stl', 'pin.stl']);
    expect(by.get('deep/wheel too.stl')!.copies).equal(2);
    expect(by.get('jaw_shut.stl')!.variantOf).equal('jaw_open.stl');
    expect(by.get('pin.stl')!.size.x).closeTo(180, 1e-3);
    expect(report.failed.map((f) => f.file).sort()).eql(['broken.stl', 'empty.stl', 'flat.stl']);
    expect(report.pieces.every((p) => p.watertight && existsSync(p.out))).equal(true);
    expect(readdirSync(at('out')).sort()).eql(['deep', 'jaw_open.stl', 'jaw_shut.stl', 'pin.stl']);
  });

  it('refuses what cannot be: no mesh at all, its own files, a folder that is not there', async () => {
    mkdirSync(at('none'));
    writeFileSync(at('none', 'a.txt'), 'x');
    const refused = async (...args: string[]) => (await json(...args)).report.error?.code;
    expect(await refused('kit', at('none'), '-o', at('o'))).equal('no-model');
    expect(await refused('kit', at('kit'), '-o', at('kit'))).equal('cannot');
    expect(await refused('kit', at('nowhere'), '-o', at('o'))).equal('cannot');
    expect(existsSync(at('o'))).equal(false);
  });

  it('a project is packed beside a server, unpacked into another folder, saved and restored', async () => {
    const server = await startServer({ dataFolder: at('data'), port: 0 });
    try {
      const { id } = await server.library.projects.create('Newt', '');
      const form = new FormData();
      form.append('file', new Blob([cube as BlobPart]), 'newt.stl');
      await fetch(`${server.address}/api/projects/${id}/kit`, { method: 'POST', body: form });
      await server.queue.idle();
      const packed = await json<{ models: number }>('pack', 'Newt', '-o', at('newt.zip'), '--data', at('data'));
      expect([packed.code, packed.report.models]).eql([0, 1]);
      const busy = await json('unpack', at('newt.zip'), '--data', at('data'));
      expect([busy.code, busy.report.error!.code]).eql([1, 'cannot']);
      const saved = await json<{ projects: number }>('backup', at('saved'), '--data', at('data'));
      expect([saved.code, saved.report.projects]).eql([0, 1]);
    } finally {
      await server.stop();
    }
    const there = await json<{ models: number; projectId: string }>('unpack', at('newt.zip'), '--data', at('other'));
    expect([there.code, there.report.models]).eql([0, 1]);
    const back = await json<{ projects: number }>('restore', at('saved'), '--data', at('fresh'));
    expect([back.code, back.report.projects]).eql([0, 1]);
    for (const [args, code] of [
      [['restore', at('saved'), '--data', at('fresh')], 'folder-taken'],
      [['restore', at('kit'), '--data', at('x')], 'no-backup'],
      [['unpack', at('kit', 'more.zip'), '--data', at('other')], 'no-pack'],
      [['pack', 'Nobody', '-o', at('n.zip'), '--data', at('other')], 'cannot'],
      [['backup', at('kit'), '--data', at('other')], 'folder-taken'],
    ] as const)
      expect((await json(...args)).report.error?.code, args.join(' ')).equal(code);
    expect(existsSync(at('n.zip'))).equal(false);
  });
});
