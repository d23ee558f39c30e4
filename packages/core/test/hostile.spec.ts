import { expect } from 'chai';
import { strToU8, zipSync } from 'fflate';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { quietContext } from '@jasmorphe/core/run/context';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { writeMesh } from '@jasmorphe/core/formats/writeMesh';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import { mend } from '@jasmorphe/core/operations/mend/run';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { findDuplicates } from '@jasmorphe/core/mesh/duplicates';
import { codeOf, run, sphere } from './solids.ts';

const text = (s: string) => strToU8(s);

/** Files of a few bytes that ask for hours or gigabytes. Each is read or refused in words well within the time of a test. */
describe('hostile files', function () {
  this.timeout(60_000);
  const model = (body: string, unit = 'millimeter') =>
    `<?xml version="1.0"?><model unit="${unit}" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">${body}</model>`;
  const threeMf = (body: string, unit?: string) => zipSync({ '3D/3dmodel.model': strToU8(model(body, unit)) });
  const vertex = '<vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/>';
  const triangle = '<triangle v1="0" v2="1" v3="2"/>';
  const mesh = (vertices: string, triangles: string) =>
    `<mesh><vertices>${vertices}</vertices><triangles>${triangles}</triangles></mesh>`;
  const messageOf = (work: () => unknown): string => {
    try {
      work();
    } catch (error) {
      return isMeshError(error) ? error.message : `not a MeshError: ${String(error)}`;
    }
    return 'nothing thrown';
  };

  it('a PLY element of no properties, counted without end', () => {
    const ply = (count: string) =>
      text(
        `ply\nformat ascii 1.0\nelement ghost ${count}\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n`,
      );
    expect(readMesh(ply('4000000000')).mesh.triangles.length).equal(3);
    expect(messageOf(() => readMesh(ply('1000000000000000')))).match(/gives "1000000000000000" as a count/);
    expect(messageOf(() => readMesh(text('ply\nformat ascii 1.0\nelement vertex\nend_header\n')))).match(
      /says nothing of how many there are of "vertex"/,
    );
  });

  it('3MF objects that hold one another twice, thirty deep', async () => {
    let objects = `<object id="0">${mesh(vertex, triangle)}</object>`;
    for (let i = 1; i <= 30; i++)
      objects += `<object id="${i}"><components><component objectid="${i - 1}"/><component objectid="${i - 1}"/></components></object>`;
    expect(
      await codeOf(() => readMesh(threeMf(`<resources>${objects}</resources><build><item objectid="30"/></build>`))),
    ).equal('archive-too-large');
  });

  it('a 3MF that places unused vertices, or triangles, over and over', async () => {
    const many = '<vertex x="5" y="5" z="5"/>'.repeat(100_000);
    const items = '<item objectid="1"/>'.repeat(3000);
    const read = readMesh(
      threeMf(`<resources><object id="1">${mesh(vertex + many, triangle)}</object></resources><build>${items}</build>`),
    );
    expect(read.mesh.positions.length).equal(9);
    const faces = triangle.repeat(10_000);
    expect(
      await codeOf(() =>
        readMesh(
          threeMf(`<resources><object id="1">${mesh(vertex, faces)}</object></resources><build>${items}</build>`),
        ),
      ),
    ).equal('archive-too-large');
  });

  it('padding that packs to next to nothing', async () => {
    const padded = zipSync({ '3D/3dmodel.model': strToU8(model(' '.repeat(30_000_000))) }, { level: 1 });
    expect(await codeOf(() => readMesh(padded))).equal('archive-too-large');
  });

  it('units that are names of something else, numbers that overflow, other ways to pack', async () => {
    const body = `<resources><object id="1">${mesh(vertex, triangle)}</object></resources><build><item objectid="1"/></build>`;
    for (const unit of ['constructor', '__proto__', 'toString'])
      expect(messageOf(() => readMesh(threeMf(body, unit)))).match(/is not a unit of 3MF/);
    const placed = body.replace('<item', '<item transform="1e308 0 0 0 1 0 0 0 1 0 0 0"');
    expect(messageOf(() => readMesh(threeMf(placed)))).match(/The transform of object 1 puts it beyond all numbers/);
    const zip = threeMf(body);
    // the method of the first entry, in its local header (APPNOTE 4.4.5): 12 is BZIP2
    zip[8] = 12;
    expect(messageOf(() => readMesh(zip))).match(/packed in a way that is not read here/);
  });

  it('one face of twenty thousand corners that crosses itself', () => {
    const random = randomFrom(3);
    const corners = 20_000;
    let obj = '';
    for (let i = 0; i < corners; i++) obj += `v ${random()} ${random()} 0\n`;
    obj += `f ${Array.from({ length: corners }, (_, i) => i + 1).join(' ')}\n`;
    expect(messageOf(() => readMesh(text(obj)))).match(/20000 corners; at most 4000/);
  });

  it('hundreds of thousands of triangles on one place', () => {
    const n = 400_000;
    const one = writeBinaryStl({
      positions: Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0),
      triangles: Uint32Array.of(0, 1, 2),
    });
    const bytes = new Uint8Array(84 + 50 * n);
    bytes.set(one.subarray(0, 84));
    new DataView(bytes.buffer).setUint32(80, n, true);
    for (let t = 0; t < n; t++) bytes.set(one.subarray(84, 134), 84 + 50 * t);
    const { mesh: read } = readMesh(bytes);
    expect(inspectMesh(read).duplicateTriangles).equal(n - 1);
  });

  it('relations of a 3MF without an end, and the model that a sound one names', () => {
    // an expression that looks for the end of each took minutes
    const endless = strToU8('<Relationship '.repeat(70_000));
    const named = strToU8(
      '<r:Relationships xmlns:r="http://schemas.openxmlformats.org/package/2006/relationships"><!-- <Relationship Target="/a" Type="3dmodel"/> --><r:Relationship Type=\'http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel\' Target = "/3D/b&amp;c.model"/></r:Relationships>',
    );
    const body = `<resources><object id="1">${mesh(vertex, triangle)}</object></resources><build><item objectid="1"/></build>`;
    for (const rels of [endless, named]) {
      const began = process.cpuUsage().user;
      const read = readMesh(
        zipSync({
          '3D/a.model': strToU8(rels === named ? model('<resources/><build/>') : model(body)),
          '3D/b&c.model': strToU8(model(body)),
          '_rels/.rels': rels,
        }),
      );
      expect(read.mesh.triangles.length).equal(3);
      expect(process.cpuUsage().user - began).lessThan(5e6);
    }
  });

  it('a PLY that counts vertices twice', () => {
    const ply = (again: string) =>
      text(
        `ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n${again}element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n9 9 9\n3 0 1 2\n`,
      );
    expect(
      messageOf(() => readMesh(ply('element vertex 1\nproperty float x\nproperty float y\nproperty float z\n'))),
    ).match(/counts vertices twice/);
    // another element of the same shape is passed over
    expect(
      readMesh(ply('element seen 1\nproperty float x\nproperty float y\nproperty float z\n')).mesh.triangles.length,
    ).equal(3);
  });

  /** Triangles that have the given corners in common; their others are anywhere. */
  const heap = (n: number, shared: number[][]) => {
    const random = randomFrom(7);
    const anywhere = () => [0, 1, 2].map(() => 100 * random());
    const positions = [...shared.flat()];
    const triangles: number[] = [];
    for (let i = 0; i < n; i++) {
      triangles.push(...shared.keys());
      for (let k = shared.length; k < 3; k++) {
        triangles.push(positions.length / 3);
        positions.push(...anywhere());
      }
    }
    return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
  };

  it('tens of thousands of triangles round one corner, or on one edge', async () => {
    expect(messageOf(() => inspectMesh(heap(50_000, [[1, 2, 3]])))).match(
      /^50\D000 triangles meet in one corner, at 1, 2, 3:/,
    );
    expect(
      messageOf(() =>
        inspectMesh(
          heap(30_000, [
            [0, 0, 0],
            [0, 0, 99],
          ]),
        ),
      ),
    ).match(/^30\D000 triangles hang on one edge, from 0, 0, /);
    const round = heap(20_000, [[1, 2, 3]]);
    const twice = Uint32Array.from([...round.triangles, ...round.triangles.toReversed()]);
    const { count, first, twinOf } = findDuplicates({ ...round, triangles: twice });
    expect([count, first, twinOf[20_000], twinOf[39_999]]).eql([20_000, 20_000, 19_999, 0]);
    // the sides of a fine cone are no heap
    const cone = fromSolid((await loadKernel()).Manifold.cylinder(50, 40, 0, 3000));
    expect(inspectMesh(cone).findings.filter((f) => f.severity === 'failure')).eql([]);
  });

  it('tens of thousands of triangles through one another', () => {
    const through = heap(20_000, []);
    const found = inspectMesh(through, { brief: true });
    expect(found.selfIntersectingPairs).equal(1_000_000);
    expect(findingSentence(found.findings.find((f) => f.kind === 'crossings' && 'more' in f.values)!)).match(
      /^Over \d+\D\d+ more pairs/,
    );
  });

  it('a heap of triangles, of which no solid can be mended', async () => {
    const refused = await codeOf(() => run(mend, heap(2000, []), {}));
    expect(refused).equal('cannot');
  });

  it('control bytes, and an end that is missing, are named', () => {
    const solid =
      'solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n';
    expect(messageOf(() => readMesh(text(`${solid.slice(0, 40)}\u0007${solid.slice(40)}endsolid\n`)))).match(
      /byte 40 is the control character 0x07/,
    );
    expect(readMesh(text(solid)).notes[0]).match(/without the "endsolid"/);
    expect(readMesh(text(`${solid}endsolid x\n`)).notes).eql([]);
    // begins like one, and has no such byte at all
    expect(messageOf(() => readMesh(text('solidity\nand nothing else\n')))).match(/^This is not an STL.*"solidity/);
    expect(messageOf(() => readMesh(text('ply\nformat\nend_header\n')))).match(/Line 2 names no format/);
  });

  it('mutated files of every format are read or refused in words, never worse', async function () {
    this.timeout(240_000);
    const ball = await sphere(5, 12);
    const ascii = `solid s\n${Array.from({ length: 40 }, (_, t) => {
      const v = (k: number) => {
        const i = 3 * ball.triangles[3 * t + k];
        return `vertex ${ball.positions[i]} ${ball.positions[i + 1]} ${ball.positions[i + 2]}`;
      };
      return `facet normal 0 0 0\nouter loop\n${v(0)}\n${v(1)}\n${v(2)}\nendloop\nendfacet`;
    }).join('\n')}\nendsolid s\n`;
    const seeds = [
      ...(['stl', 'obj', 'ply', '3mf'] as const).map((f) => writeMesh(ball, f)),
      text(ascii),
      threeMf(
        `<resources><object id="1">${mesh(vertex, triangle)}</object></resources><build><item objectid="1"/></build>`,
      ),
    ];
    const random = randomFrom(11);
    const pick = (n: number) => Math.floor(random() * n);
    let refused = 0;
    for (let i = 0; i < 20_000; i++) {
      const seed = seeds[i % seeds.length];
      let bytes = seed.slice();
      for (let k = pick(6); k >= 0; k--) {
        const way = pick(4);
        if (way === 0) bytes[pick(bytes.length)] = pick(256);
        else if (way === 1) bytes = bytes.slice(0, 1 + pick(bytes.length));
        else if (way === 2) {
          const from = pick(bytes.length);
          bytes.copyWithin(pick(bytes.length), from, from + pick(64));
        } else {
          const at = pick(bytes.length);
          const more = Array.from({ length: pick(20) }, () => pick(256));
          const grown = new Uint8Array(bytes.length + more.length);
          grown.set(bytes.subarray(0, at));
          grown.set(more, at);
          grown.set(bytes.subarray(at), at + more.length);
          bytes = grown;
        }
      }
      try {
        readMesh(bytes, quietContext);
      } catch (error) {
        refused++;
        if (!isMeshError(error)) throw new Error(`mutation ${i}: ${String(error)}`, { cause: error });
        expect(error.message, `mutation ${i}`).match(/[.!?]$/);
      }
    }
    expect(refused).greaterThan(2000);
  });
});
