import { expect } from 'chai';
import { createHash } from 'node:crypto';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { harrowFenFiles, lightFineness } from '@jasmorphe/demo/harrowFen';

describe('the meshes of Harrow Fen', () => {
  it('are the same bytes every time, each in another format, with honest defects', async () => {
    const [files, again] = [await harrowFenFiles(lightFineness), await harrowFenFiles(lightFineness)];
    const hash = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
    for (const key of Object.keys(files) as (keyof typeof files)[])
      expect(hash(files[key].bytes), key).equal(hash(again[key].bytes));
    const read = Object.values(files).map((f) => readMesh(f.bytes));
    expect(read.map((r) => r.format)).eql(['ply', 'obj', '3mf', 'stl-binary']);
    const [ammonite, carnyx, heron, newt] = read.map((r) => inspectMesh(r.mesh));
    // the scan: 42 mm of ammonite among holes, islands and a patch of ground
    expect(ammonite.openLoops).least(5);
    expect(ammonite.shells).least(12);
    expect(ammonite.findings.map((f) => f.kind)).contains.members(['open-loops', 'crumbs']);
    // the kit: closed shells that overlap, 1.75 high in a file without a unit
    expect(carnyx.openEdges).equal(0);
    expect(carnyx.shells).equal(32);
    expect(carnyx.selfIntersectingPairs).greaterThan(500);
    expect(carnyx.size.z).closeTo(1.75, 1e-4);
    expect(heron.shells).equal(1);
    expect(newt.shells).greaterThan(10);
  });
});
