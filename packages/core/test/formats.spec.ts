import { expect } from 'chai';
import { zipSync, strToU8 } from 'fflate';
import { readFileSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { readArchive } from '@jasmorphe/core/formats/archive';
import { readMesh, sniffFormat } from '@jasmorphe/core/formats/readMesh';
import { parseFactor, parseLength } from '@jasmorphe/core/formats/quantity';
import { guessUnit, mmPerUnit } from '@jasmorphe/core/formats/units';
import { exportFormats } from '@jasmorphe/core/formats/exportFormats';
import { writeThreeMf } from '@jasmorphe/core/formats/threeMf';
import { writeMesh } from '@jasmorphe/core/formats/writeMesh';
import { fromCanonical, toCanonical } from '@jasmorphe/core/mesh/canonical';
import { importMesh } from '@jasmorphe/core/operations/import/run';
import { ImportParams } from '@jasmorphe/core/operations/import/describe';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { quietContext } from '@jasmorphe/core/run/context';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { volumeOf } from '@jasmorphe/core/mesh/measures';
import { boundsOf } from '@jasmorphe/core/mesh/TriMesh';
import { box, codeOf, moved, sphere, torus } from './solids.ts';

const require = createRequire(import.meta.url);
const stlModels = dirname(require.resolve('stl-models/package.json'));
const text = (s: string) => new TextEncoder().encode(s);
const cubeStl = readFileSync(join(stlModels, 'polytopes/cube.bin.stl'));

describe('formats', () => {
  it('every format gives back the mesh that went in', async () => {
    const mesh = torus(20.123, 6.789, 40, 24);
    for (const format of exportFormats) {
      const back = readMesh(writeMesh(mesh, format)).mesh;
      expect(back.triangles.length, format).equal(mesh.triangles.length);
      // moved, its corners are rounded anew
      expect(volumeOf(back), format).closeTo(volumeOf(mesh), format === '3mf' ? 1e-3 : 1e-6);
      // a 3MF has its build in the positive octant (core specification, 3.4.3)
      const { min, max } = boundsOf(mesh);
      const away = format === '3mf' ? min : [0, 0, 0];
      const { min: least, max: most } = boundsOf(back);
      least.forEach((x, k) => expect(x, format).closeTo(min[k] - away[k], 1e-5));
      most.forEach((x, k) => expect(x, format).closeTo(max[k] - away[k], 1e-5));
    }
  });

  it('a 3MF says what the work is, as far as XML can, and keeps its objects as they lie to one another', async () => {
    const [a, b] = [moved(await box(10, 10, 10), -30, 5, 0), moved(await box(4, 4, 4), 12, -7, 9)];
    const words = { title: 'Mask <of> a "heron"', designer: 'I & A\u0001\ud800', licence: 'CC BY: \u0000for all' };
    const back = readMesh(
      writeThreeMf(
        [
          { name: 'a', mesh: a },
          { name: 'b\u0008', mesh: b },
        ],
        words,
      ),
    );
    expect(back.words).eql({ title: 'Mask <of> a "heron"', designer: 'I & A\ufffd', licence: 'CC BY: for all' });
    expect(back.objects.map((o) => [o.name, boundsOf(o.mesh).min])).eql([
      ['a', [0, 12, 0]],
      ['b', [42, 0, 9]],
    ]);
    // nothing is said of what nobody said
    expect(
      new TextDecoder().decode(readArchive(writeThreeMf([{ name: 'a', mesh: a }]), () => true).get('3D/3dmodel.model')),
    ).not.contain('metadata');
  });

  it('the same mesh gives the same bytes, also inside an archive', async () => {
    const mesh = await box(1, 2, 3);
    for (const format of exportFormats)
      expect(Buffer.compare(writeMesh(mesh, format), writeMesh(mesh, format))).equal(0);
    expect(fromCanonical(toCanonical(mesh))).eql({ positions: mesh.positions, triangles: mesh.triangles });
  });

  it('reads ASCII and binary twins of stl-models as the same solid', () => {
    for (const folder of ['polytopes', 'objects'])
      for (const name of readdirSync(join(stlModels, folder)).filter((n) => n.includes('.ascii.'))) {
        const twin = name.replace('.ascii.', '.bin.');
        if (!readdirSync(join(stlModels, folder)).includes(twin)) continue;
        const a = inspectMesh(readMesh(readFileSync(join(stlModels, folder, name))).mesh, {
          skipSelfIntersections: true,
        });
        const b = inspectMesh(readMesh(readFileSync(join(stlModels, folder, twin))).mesh, {
          skipSelfIntersections: true,
        });
        expect([a.triangles, a.vertices, a.openEdges, a.shells], name).eql([
          b.triangles,
          b.vertices,
          b.openEdges,
          b.shells,
        ]);
        expect(a.areaMm2 / b.areaMm2, name).closeTo(1, 1e-5);
      }
  });

  it('answers each broken file of stl-models as it should', async () => {
    const answer: Record<string, string> = {};
    for (const name of readdirSync(join(stlModels, 'broken')))
      answer[name] = await codeOf(() => readMesh(readFileSync(join(stlModels, 'broken', name))));
    expect(answer).eql({
      'empty.stl': 'empty-file',
      'fourVertices.ascii.stl': 'nothing thrown',
      'incorrectFaceCounter.bin.stl': 'truncated',
      'missingEndsolid.ascii.stl': 'nothing thrown',
      'missingFace.ascii.stl': 'nothing thrown',
      'missingNormal.ascii.stl': 'nothing thrown',
      'notANumberNormal.ascii.stl': 'nothing thrown',
      'quad.ascii.stl': 'nothing thrown',
      'singleFace.ascii.stl': 'nothing thrown',
      'solidNameMismatch.ascii.stl': 'nothing thrown',
      'twoVertices.ascii.stl': 'bad-syntax',
      'wrongHeader.bin.stl': 'nothing thrown',
      'wrongNormal.ascii.stl': 'nothing thrown',
      'wrongNormals.ascii.stl': 'nothing thrown',
    });
    expect(await codeOf(() => readMesh(readFileSync(join(stlModels, 'misc/faceless.ascii.stl'))))).equal(
      'no-triangles',
    );
  });

  it('knows a binary STL whose header says "solid", and an ending that lies', () => {
    const bytes = Uint8Array.from(cubeStl);
    bytes.set(text('solid made by a program that should know better'));
    expect(sniffFormat(bytes)).equal('stl-binary');
    expect(readMesh(bytes).mesh.triangles.length).equal(36);
    expect(readMesh(text('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n')).format).equal('obj');
  });

  it('reads ASCII STL with several solids, CRLF, odd spacing, capitals, a tab, and one long line', () => {
    const facet = (z: number) =>
      `  FACET   NORMAL 0 0 1\r\n\touter  loop\r\n vertex 0 0 ${z}\r\n vertex 1e0 0 ${z}\r\n vertex\t0 +1.0 ${z}\r\n endloop\r\nendfacet\r\n`;
    const many = readMesh(text(`solid one two three\r\n${facet(0)}endsolid\r\nsolid\r\n${facet(5)}endsolid x\r\n`));
    expect([many.groups, many.mesh.triangles.length]).eql([2, 6]);
    expect(readMesh(text(`solid a\n${facet(1).replace(/\s+/g, ' ')} endsolid a`)).mesh.triangles.length).equal(3);
  });

  it('reads UTF-16 of both endians and a UTF-8 mark', () => {
    const source = readFileSync(join(stlModels, 'polytopes/tetrahedron.ascii.stl'), 'utf8');
    const little = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(source, 'utf16le')]);
    const big = Buffer.from(little).swap16();
    const marked = Buffer.concat([Buffer.from([0xef, 0xbb, 0xbf]), Buffer.from(source)]);
    for (const bytes of [little, big, marked]) expect(readMesh(bytes).mesh.triangles.length).equal(12);
  });

  it('reads OBJ with polygons, negative indices, texture and normal indices, comments and joined lines', () => {
    const house = `# a house front
mtllib x.mtl
o front
v 0 0 0 1.0
v 4 0 0
v 4 0 3
v 2 0 1
v 0 0 3
vt 0 0
vn 0 -1 0
usemtl m
f -5/1/1 -4//1 \\
  3/1 4 5 # the notch makes it hollow
`;
    const { mesh } = readMesh(text(house));
    expect(mesh.triangles.length / 3).equal(3);
    // area of the notched polygon by the shoelace formula: 12 - 4 = 8
    expect(inspectMesh(mesh).areaMm2).closeTo(8, 1e-6);
  });

  it('reads PLY, ASCII and both binary endians, with extra elements and properties, and strips', () => {
    const header = (format: string) =>
      `ply\nformat ${format} 1.0\ncomment any\nelement vertex 4\nproperty uchar red\nproperty double x\nproperty float y\nproperty float z\nproperty list uchar float extra\nelement face 1\nproperty uchar flag\nproperty list uchar int vertex_index\nelement edge 1\nproperty int a\nend_header\n`;
    const rows: [number, number, number][] = [
      [0, 0, 0],
      [2, 0, 0],
      [2, 2, 0],
      [0, 2, 0],
    ];
    const binary = (little: boolean) => {
      const view = new DataView(new ArrayBuffer(4 * (1 + 8 + 4 + 4 + 1 + 4) + 1 + 1 + 16 + 4));
      let at = 0;
      for (const [x, y, z] of rows) {
        view.setUint8(at, 7);
        view.setFloat64(at + 1, x, little);
        view.setFloat32(at + 9, y, little);
        view.setFloat32(at + 13, z, little);
        view.setUint8(at + 17, 1);
        view.setFloat32(at + 18, 9, little);
        at += 22;
      }
      view.setUint8(at + 1, 4);
      for (let k = 0; k < 4; k++) view.setInt32(at + 2 + 4 * k, k, little);
      return Buffer.concat([
        text(header(little ? 'binary_little_endian' : 'binary_big_endian')),
        new Uint8Array(view.buffer),
      ]);
    };
    const ascii = text(
      header('ascii').replace(/\n/g, '\r\n') +
        rows.map((r) => `7 ${r.join('  ')} 1 9`).join('\r\n') +
        '\r\n0 4 0 1 2 3\r\n5\r\n',
    );
    for (const bytes of [ascii, binary(true), binary(false)]) {
      const { mesh } = readMesh(bytes);
      expect(mesh.triangles.length / 3).equal(2);
      expect(inspectMesh(mesh).areaMm2).closeTo(4, 1e-9);
    }
    const strip = `ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement tristrips 1\nproperty list int int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n4 0 1 2 3\n`;
    const stripped = inspectMesh(readMesh(text(strip)).mesh);
    expect([stripped.triangles, stripped.inconsistentEdges, stripped.openEdges]).eql([2, 0, 4]);
  });

  it('takes a number of many digits exactly as the language does', () => {
    const words = [
      '0.1',
      '1e-7',
      '123456789012345678',
      '-3.4028234e38',
      '+.5',
      '5.',
      '1.17549435E-38',
      '0.30000000000000004',
    ];
    const mesh = readMesh(
      text(`${words.map((w) => `v ${w} 0 0`).join('\n')}\nv 0 1 0\nf 1 2 9\nf 3 4 9\nf 5 6 9\nf 7 8 9`),
    ).mesh;
    expect([...new Set([...mesh.positions].filter((_, i) => i % 3 === 0))]).contains.members(
      words.map((w) => Math.fround(Number(w))),
    );
  });
});

describe('3MF', () => {
  const part = (model: string, extra: Record<string, Uint8Array> = {}) =>
    zipSync({ '3D/3dmodel.model': strToU8(model), ...extra });
  const tetra =
    '<mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/></vertices><triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="1" v2="2" v3="3"/><triangle v1="2" v2="0" v3="3"/></triangles></mesh>';
  const model = (body: string, unit = 'inch') =>
    `<?xml version="1.0"?><model unit="${unit}" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">${body}</model>`;

  it('applies units, components and transforms (core specification 3.3, 3.4)', () => {
    const body = `<resources><object id="1">${tetra}</object><object id="2"><components><component objectid="1"/><component objectid="1" transform="2 0 0 0 2 0 0 0 2 10 0 0"/></components></object></resources><build><item objectid="2" transform="1 0 0 0 1 0 0 0 1 0 0 5"/></build>`;
    const { mesh, unit } = readMesh(part(model(body)));
    expect(unit).equal('in');
    expect(mesh.triangles.length / 3).equal(8);
    const { min, max } = boundsOf(mesh);
    expect([max[0], min[2]]).eql([12, 5]);
    expect(volumeOf(mesh)).closeTo((1 + 8) / 6, 1e-5);
  });

  it('a stated unit is taken once, and another one in its place and not on top', async () => {
    const body = `<metadata name="Title">Wheel</metadata><metadata name="Designer">A. Fenwick</metadata><metadata name="LicenseTerms">CC BY-ND 4.0</metadata><resources><basematerials id="9"><base name="red" displaycolor="#C02010FF"/></basematerials><object id="1" name="hub" pid="9" pindex="0">${tetra}</object><object id="2" name="rim">${tetra}</object></resources><build><item objectid="1"/><item objectid="2" transform="1 0 0 0 1 0 0 0 1 4 0 0"/></build>`;
    const bytes = part(model(body));
    const read = async (params: object) =>
      (
        await importMesh.run([], parseParams(ImportParams, params), {
          ...quietContext,
          source: { name: 'wheel.3mf', mediaType: '', bytes },
        })
      ).report;
    const own = await read({});
    // the inch is exactly 25.4 mm (NIST SP 811, B.8)
    expect([own.unit, own.unitFrom, own.fileUnit, own.size.x]).eql(['in', 'file', 'in', Math.fround(5 * 25.4)]);
    const inch = await read({ unit: 'in' });
    expect([inch.size, inch.unitFrom]).eql([own.size, 'given']);
    expect((await read({ unit: 'mm' })).size.x).equal(5);
    expect(own.words).eql({ title: 'Wheel', designer: 'A. Fenwick', licence: 'CC BY-ND 4.0' });
    expect(own.objects).eql([
      { name: 'hub', triangles: 4, colour: '#c02010' },
      { name: 'rim', triangles: 4, colour: null },
    ]);
    expect((await read({ object: 1 })).triangles).equal(4);
    expect(await codeOf(() => read({ object: 2 }))).equal('bad-params');
  });

  it('turns a mirrored item right side out, and leaves supports out', () => {
    const mirrored = `<resources><object id="1">${tetra}</object><object id="2" type="support">${tetra}</object></resources><build><item objectid="1" transform="-1 0 0 0 1 0 0 0 1 0 0 0"/><item objectid="2"/></build>`;
    expect(volumeOf(readMesh(part(model(mirrored, 'millimeter'))).mesh)).closeTo(1 / 6, 1e-6);
  });

  it('what we write follows the rules for a valid mesh (core specification 4.1): distinct indices, each edge twice, once each way', async () => {
    const files = readArchive(writeMesh(await sphere(5, 24), '3mf'), () => true);
    expect([...files.keys()]).contains.members(['[Content_Types].xml', '_rels/.rels', '3D/3dmodel.model']);
    const xml = new TextDecoder().decode(files.get('3D/3dmodel.model'));
    const directed = new Set<string>();
    let triangles = 0;
    for (const [, a, b, c] of xml.matchAll(/<triangle v1="(\d+)" v2="(\d+)" v3="(\d+)"\/>/g)) {
      expect(new Set([a, b, c]).size).equal(3);
      for (const e of [`${a}>${b}`, `${b}>${c}`, `${c}>${a}`]) {
        expect(directed.has(e)).equal(false);
        directed.add(e);
      }
      triangles++;
    }
    for (const e of directed) expect(directed.has(e.split('>').reverse().join('>'))).equal(true);
    expect(triangles).greaterThan(100);
  });

  it('refuses what is not a model, bad indices and numbers, and an object that contains itself', async () => {
    expect(await codeOf(() => readMesh(zipSync({ 'readme.txt': strToU8('hello') })))).equal('no-model');
    expect(await codeOf(() => readMesh(part('<a><b></a>')))).equal('bad-syntax');
    expect(await codeOf(() => readMesh(part('<a/>')))).equal('no-model');
    expect(
      await codeOf(() =>
        readMesh(
          part(model(`<resources><object id="1">${tetra.replace('v3="1"', 'v3="9"')}</object></resources><build/>`)),
        ),
      ),
    ).equal('bad-index');
    expect(
      await codeOf(() =>
        readMesh(
          part(model(`<resources><object id="1">${tetra.replace('x="1"', 'x="NaN"')}</object></resources><build/>`)),
        ),
      ),
    ).equal('bad-number');
    expect(
      await codeOf(() =>
        readMesh(
          part(
            model(
              '<resources><object id="1"><components><component objectid="1"/></components></object></resources><build><item objectid="1"/></build>',
            ),
          ),
        ),
      ),
    ).equal('bad-syntax');
    expect(
      await codeOf(() =>
        readMesh(
          writeMesh({ positions: new Float32Array(9), triangles: Uint32Array.of(0, 1, 2) }, '3mf').subarray(0, 300),
        ),
      ),
    ).equal('bad-archive');
  });

  it('stops an archive that unpacks to far more than it is', async () => {
    const bomb = zipSync({ '3D/3dmodel.model': new Uint8Array(24 * 2 ** 20) }, { level: 9 });
    expect(bomb.length).lessThan(200_000);
    expect(await codeOf(() => readMesh(bomb))).equal('archive-too-large');
    expect(await codeOf(() => readArchive(bomb, () => true, { entries: 10, bytes: 2 ** 20, ratio: 1e9 }))).equal(
      'archive-too-large',
    );
  });
});

describe('bad input says what and where', () => {
  const said = (bytes: Uint8Array): string => {
    try {
      readMesh(bytes);
    } catch (error) {
      return (error as Error).message;
    }
    return 'read';
  };
  const withFloat = (offset: number, value: number) => {
    const bytes = Uint8Array.from(cubeStl);
    new DataView(bytes.buffer).setFloat32(offset, value, true);
    return bytes;
  };

  it('truncated and miscounted binary STL', () => {
    expect(said(cubeStl.subarray(0, 300))).match(/says 12 triangles.*ends at byte 300.*triangle 5/);
    expect(said(Buffer.concat([cubeStl, Buffer.alloc(500)]))).match(/says 12 triangles.*500 bytes more/);
  });

  it('NaN and infinite coordinates with triangle and byte', () => {
    expect(said(withFloat(84 + 50 + 12, NaN))).match(/Triangle 2 .*not a number \(byte 146\)/);
    expect(said(withFloat(84 + 12, Infinity))).match(/Triangle 1 .*infinite \(byte 96\)/);
    expect(said(text('v 0 0 nan\nf 1 1 1'))).match(/"nan" at line 1/);
  });

  it('indices out of range with the line', () => {
    expect(said(text('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 7\n'))).match(/line 4 asks for vertex 7; the file has 3/);
    expect(said(text('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 -4\n'))).match(/line 4 asks for vertex -4/);
    expect(
      said(
        text(
          'ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 5\n',
        ),
      ),
    ).match(/asks for vertex 5; the file has 3/);
  });

  it('point clouds, text under another name, empty files, headers that promise too much', () => {
    expect(said(text('v 0 0 0\nv 1 0 0\nv 0 1 0\n'))).match(/3 points and no faces/);
    expect(said(text('Dear reader,\nthis is a letter.\n'.repeat(20)))).match(
      /not an STL, OBJ, PLY or 3MF file: it begins with "Dear reader/,
    );
    expect(said(new Uint8Array(0))).match(/empty/);
    expect(said(new Uint8Array(40))).match(/not an STL/);
    expect(
      said(
        text(
          'ply\nformat ascii 1.0\nelement vertex 3000000000\nproperty float x\nproperty float y\nproperty float z\nend_header\n',
        ),
      ),
    ).match(/promises 3000000000 of vertex/);
    expect(said(text('solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0'))).match(
      /middle of facet 1, at line 5/,
    );
  });

  it('noise never does more than be refused', async () => {
    let state = 1;
    for (let i = 0; i < 300; i++) {
      const bytes = Uint8Array.from(
        i % 2
          ? cubeStl
          : text(
              'ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n',
            ),
      );
      for (let k = 0; k < 1 + (i % 5); k++) {
        state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
        bytes[state % bytes.length] = state >>> 24;
      }
      expect(await codeOf(() => readMesh(bytes.subarray(0, bytes.length - (i % 7))))).not.match(/not a MeshError/);
    }
  });
});

describe('units', () => {
  it('an inch is 25.4 mm exactly, a foot twelve of them', () => {
    expect(mmPerUnit.in).equal(25.4);
    expect(mmPerUnit.ft).closeTo(12 * 25.4, 1e-12);
  });

  it('reads lengths as makers type them', () => {
    expect(['42.5', '1.75 m', '15 1/2 in', '5 ft 3 in', '3/4"', '18cm', '1e3', '2,5'].map((t) => parseLength(t))).eql([
      42.5,
      1750,
      393.7,
      1600.2,
      0.75 * 25.4,
      180,
      1000,
      2.5,
    ]);
    expect(parseLength('2', 'in')).equal(50.8);
    for (const t of ['', 'abc', '1 2', '3 mm x', '--4']) expect(parseLength(t), t).equal(null);
  });

  it('works out what makers write down: worked values of the trade', () => {
    // common practice: 15.5 in x 400 % = 62 in; 15 cm x 3 = 45 cm; 18 cm x 50 % = 9 cm; a figure of 1.75 m at 1:6
    const near = (text: string, mm: number, now?: number) =>
      expect(parseLength(text, 'mm', now), text).closeTo(mm, 1e-9);
    near('15.5 in x 400 %', 62 * 25.4);
    near('15 cm × 3', 450);
    near('18 cm * 50%', 90);
    near('1.75 m : 6', 1750 / 6);
    near('(2 + 3) * 4 cm / 2', 100);
    near('2 m - 2 x 12.5 cm', 1750);
    near('100 mm + 5%', 105);
    near('1 750 mm', 1750);
    near('1\u2009750', 1750);
    near('-3 + 5', 2);
    near('1/2 in', 12.7);
    near('15 1/2 inches', 393.7);
    near('5\' 3 1/2"', 63.5 * 25.4);
  });

  it('changes the length that stands in a field', () => {
    const from = (text: string) => parseLength(text, 'mm', 200);
    expect(['x4', '*4', '400%', '/2', '1:8', '+20', '-1 cm', '30'].map(from)).eql([
      800, 800, 800, 100, 25, 220, 190, 30,
    ]);
    expect(from('+5%')).closeTo(210, 1e-9);
    for (const t of ['x4', '400%', '1:8', '/2']) expect(parseLength(t), t).equal(null);
  });

  it('does not guess at what could be read in two ways, nor at what is no length', () => {
    for (const t of [
      '1,750',
      '3 + 2 in',
      '2 in * 3 in',
      '5 / 0',
      '(3',
      '3)',
      '3 parsecs',
      '4 in 2',
      '1e999',
      '%',
      'constructor',
    ])
      expect(parseLength(t, 'mm', 100), t).equal(null);
    for (const t of ['3 in', '1:0', '2 in * 2', 'x', '++1']) expect(parseFactor(t), t).equal(null);
    expect(['62 in / 15.5 in', '3/4', '2 * (1 + 10%)', '175 cm : 3.5 m', '1 + 50%'].map((t) => parseFactor(t))).eql([
      4, 0.75, 2.2, 0.5, 1.5,
    ]);
  });

  it('reads factors', () => {
    expect(['x4', '400%', '+5%', '-10 %', '1:6', '0.5', '×2'].map((t) => parseFactor(t))).eql([
      4,
      4,
      1.05,
      0.9,
      1 / 6,
      0.5,
      2,
    ]);
    for (const t of ['', 'x', '1:0', 'four']) expect(parseFactor(t), t).equal(null);
  });

  it('guesses metres for a figure 1.75 high and millimetres for a part of 80', () => {
    expect(guessUnit(1.75).unit).equal('m');
    expect(guessUnit(80).unit).equal('mm');
    expect(guessUnit(7).unit).equal('in');
  });
});
