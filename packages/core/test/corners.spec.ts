import { expect } from 'chai';
import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { readMesh } from '@jasmorphe/core/formats/readMesh';
import { writeBinaryStl } from '@jasmorphe/core/formats/stl';
import { Bvh, treeOf } from '@jasmorphe/core/mesh/Bvh';
import { fromCanonical, toCanonical } from '@jasmorphe/core/mesh/canonical';
import { areaOf } from '@jasmorphe/core/mesh/measures';
import { boundsOf, triangleCount, type TriMesh, type Vec3 } from '@jasmorphe/core/mesh/TriMesh';
import { roundOutline, squareOutline, tongueOutline } from '@jasmorphe/core/operations/divide/joins/shapes';
import { importMesh } from '@jasmorphe/core/operations/import/run';
import { ImportParams } from '@jasmorphe/core/operations/import/describe';
import { operations } from '@jasmorphe/core/operations/runs';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { adviceOf } from '@jasmorphe/core/planning/advice';
import { noteText } from '@jasmorphe/core/planning/days/planWords';
import { seamLines } from '@jasmorphe/core/planning/cuts/seamLines';
import { quietContext } from '@jasmorphe/core/run/context';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { sweepLayers } from '@jasmorphe/core/section/layers';
import { fromSolid, loadKernel } from '@jasmorphe/core/solid/kernel';
import { box, codeOf, run, torus } from './solids.ts';

const text = (s: string) => new TextEncoder().encode(s);
/** What something that fails says. */
const saying = async (work: () => unknown): Promise<string> => {
  try {
    await work();
  } catch (error) {
    if (isMeshError(error)) return `${error.code}: ${error.message}`;
    throw error;
  }
  return '';
};

describe('rays with an end', () => {
  const mesh = torus(10, 4, 40, 24);
  const tree = new Bvh(mesh);
  /** Where a ray meets a triangle, by Cramer's rule on its plane and edges; Infinity where it does not. */
  const meets = (t: number, o: Vec3, d: Vec3): number => {
    const corner = (k: number) => [0, 1, 2].map((i) => mesh.positions[3 * mesh.triangles[3 * t + k] + i]);
    const [a, b, c] = [corner(0), corner(1), corner(2)];
    const det = (x: number[], y: number[], z: number[]) =>
      x[0] * (y[1] * z[2] - y[2] * z[1]) - x[1] * (y[0] * z[2] - y[2] * z[0]) + x[2] * (y[0] * z[1] - y[1] * z[0]);
    const u = b.map((x, i) => x - a[i]);
    const v = c.map((x, i) => x - a[i]);
    const back = d.map((x) => -x);
    const from = o.map((x, i) => x - a[i]);
    const whole = det(u, v, back);
    if (Math.abs(whole) < 1e-12) return Infinity;
    const [p, q, s] = [det(from, v, back) / whole, det(u, from, back) / whole, det(u, v, from) / whole];
    return p >= 0 && q >= 0 && p + q <= 1 && s > 0 ? s : Infinity;
  };
  const number = (most: number) => fc.double({ min: -most, max: most, noNaN: true });

  it('meet what lies before it and nothing behind it, as all triangles tried one by one do', () => {
    fc.assert(
      fc.property(
        fc.tuple(number(16), number(16), number(6)),
        fc.tuple(number(1), number(1), number(1)),
        fc.double({ min: 0.1, max: 30, noNaN: true }),
        (o, d, upTo) => {
          if (Math.hypot(...d) < 0.05) return;
          let nearest = Infinity;
          for (let t = 0; t < triangleCount(mesh); t++) nearest = Math.min(nearest, meets(t, o, d));
          // on the edge of a triangle, or of what is asked for, either answer is right
          if (Math.abs(nearest - upTo) < 1e-6) return;
          const found = tree.firstHit(o, d, 0);
          if (Number.isFinite(nearest)) expect(found).closeTo(nearest, 1e-4 * (1 + nearest));
          const before = tree.firstHit(o, d, 0, -1, upTo);
          expect(Number.isFinite(before)).equal(Number.isFinite(found) && found < upTo);
          if (Number.isFinite(before)) expect(before).equal(found);
          expect(tree.isBlocked(o, d, 0, -1, upTo)).equal(Number.isFinite(before));
          expect(tree.isBlocked(o, d, 0)).equal(Number.isFinite(found));
        },
      ),
      { numRuns: 400, seed: 12 },
    );
  });

  it('leave out the triangle that they begin on', () => {
    const [x, y, z] = [14, 0, 0];
    const skin = tree.firstHit([x + 5, y, z], [-1, 0, 0], 0);
    const first = tree.lastHit;
    expect(tree.firstHit([x + 5, y, z], [-1, 0, 0], 0, first)).above(skin - 1e-6);
    expect(
      new Bvh({ positions: new Float32Array(0), triangles: new Uint32Array(0) }).isBlocked([0, 0, 0], [1, 0, 0], 0),
    ).equal(false);
  });
});

describe('meshes as they are kept', () => {
  it('are known by their mark and their length: whatever else is damaged', async () => {
    const bytes = toCanonical(await box(1, 2, 3));
    expect(fromCanonical(bytes).triangles.length).equal(36);
    // read from the middle of a larger buffer as well
    const shifted = new Uint8Array(bytes.length + 1);
    shifted.set(bytes, 1);
    expect(Array.from(fromCanonical(shifted.subarray(1)).positions)).eql(Array.from(fromCanonical(bytes).positions));
    for (const damaged of [bytes.subarray(0, 7), bytes.subarray(0, bytes.length - 4), new Uint8Array(40)])
      expect(await codeOf(() => fromCanonical(damaged))).equal('truncated');
  });
});

describe('files of other programs', () => {
  /** A tetrahedron as PLY, its vertices and faces of the number types named. */
  const ply = (little: boolean, vertexType: string, listType: string, indexType: string): Uint8Array => {
    const width: Record<string, number> = {
      char: 1,
      uchar: 1,
      short: 2,
      ushort: 2,
      int: 4,
      uint: 4,
      float: 4,
      double: 8,
    };
    const put = (view: DataView, at: number, type: string, x: number) => {
      if (type === 'char') view.setInt8(at, x);
      else if (type === 'uchar') view.setUint8(at, x);
      else if (type === 'short') view.setInt16(at, x, little);
      else if (type === 'ushort') view.setUint16(at, x, little);
      else if (type === 'int') view.setInt32(at, x, little);
      else if (type === 'uint') view.setUint32(at, x, little);
      else if (type === 'float') view.setFloat32(at, x, little);
      else view.setFloat64(at, x, little);
      return at + width[type];
    };
    const corners = [0, 0, 0, 30, 0, 0, 0, 20, 0, 0, 0, 10];
    const faces = [[0, 2, 1], [0, 1, 3], [1, 2, 3], [2, 0, 3]]; // oxfmt-ignore
    const head = text(
      `ply\nformat binary_${little ? 'little' : 'big'}_endian 1.0\nelement vertex 4\n${['x', 'y', 'z'].map((n) => `property ${vertexType} ${n}\n`).join('')}element face 4\nproperty list ${listType} ${indexType} vertex_indices\nend_header\n`,
    );
    const body = new Uint8Array(12 * width[vertexType] + 4 * (width[listType] + 3 * width[indexType]));
    const view = new DataView(body.buffer);
    let at = 0;
    for (const x of corners) at = put(view, at, vertexType, x);
    for (const face of faces) {
      at = put(view, at, listType, 3);
      for (const v of face) at = put(view, at, indexType, v);
    }
    return Uint8Array.from([...head, ...body]);
  };

  it('numbers of every type, either end first, give the same mesh', () => {
    for (const little of [true, false])
      for (const vertexType of ['char', 'uchar', 'short', 'ushort', 'int', 'uint', 'float', 'double'])
        for (const [listType, indexType] of [
          ['uchar', 'uint'],
          ['char', 'short'],
          ['ushort', 'ushort'],
          ['uint', 'int'],
        ]) {
          // oxfmt-ignore
          const what = `${little} ${vertexType} ${listType} ${indexType}`;
          const { mesh } = readMesh(ply(little, vertexType, listType, indexType));
          expect(triangleCount(mesh), what).equal(4);
          expect(boundsOf(mesh).max, what).eql([30, 20, 10]);
        }
  });

  it('strips of triangles begin anew where a negative index stands', () => {
    const strip = text(
      'ply\nformat ascii 1.0\nelement vertex 6\nproperty float x\nproperty float y\nproperty float z\nelement tristrips 1\nproperty list int int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n1 1 0\n5 0 0\n6 0 1\n8 0 1 2 3 -1 3 4 5\n',
    );
    const { mesh } = readMesh(strip);
    expect(triangleCount(mesh)).equal(3);
    expect(areaOf(mesh)).closeTo(0.5 + 0.5 + areaOf({ positions: Float32Array.from([1, 1, 0, 5, 0, 0, 6, 0, 1]), triangles: Uint32Array.from([0, 1, 2]) }), 1e-6); // oxfmt-ignore
  });

  const archive = (model: string) =>
    zipSync({
      '3D/3dmodel.model': strToU8(
        `<?xml version="1.0"?><model unit="millimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02" xmlns:p="http://schemas.microsoft.com/3dmanufacturing/production/2015/06">${model}</model>`,
      ),
    });
  const solid =
    '<object id="1" type="model"><mesh><vertices><vertex x="0" y="0" z="0"/><vertex x="1" y="0" z="0"/><vertex x="0" y="1" z="0"/><vertex x="0" y="0" z="1"/></vertices><triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="1" v2="2" v3="3"/><triangle v1="2" v2="0" v3="3"/></triangles></mesh></object>';

  it('an archive whose build speaks of what is not there says of what', async () => {
    const built = (item: string) => archive(`<resources>${solid}</resources><build>${item}</build>`);
    expect(triangleCount(readMesh(built('<item objectid="1"/>')).mesh)).equal(4);
    expect(await saying(() => readMesh(built('<item objectid="7"/>')))).match(/^bad-index: .*object 7/);
    expect(await saying(() => readMesh(built('<item objectid="1" transform="1 0 0 0 1 0"/>')))).match(
      /^bad-number: .*is not twelve numbers/,
    );
    expect(await saying(() => readMesh(built('<item objectid="1" p:path="/3D/other.model"/>')))).match(
      /^no-model: .*3D\/other\.model/,
    );
  });

  it('what has no extent, or would be as large as a country, is refused with the field to change', async () => {
    const imports = (bytes: Uint8Array, unit: string) =>
      importMesh.run([], parseParams(ImportParams, { unit }), {
        ...quietContext,
        source: { bytes, name: 'a.stl' },
      } as never);
    const point: TriMesh = { positions: new Float32Array(9).fill(4), triangles: Uint32Array.from([0, 1, 2]) };
    expect(await codeOf(() => imports(writeBinaryStl(point), 'mm'))).equal('no-triangles');
    const far: TriMesh = {
      positions: Float32Array.from([0, 0, 0, 2e7, 0, 0, 0, 2e7, 0]),
      triangles: Uint32Array.from([0, 1, 2]),
    };
    expect(await saying(() => imports(writeBinaryStl(far), 'm'))).match(
      /^bad-number: At m the model would be 2\.00e\+4 km across/,
    );
    expect(await codeOf(() => importMesh.run([], parseParams(ImportParams, {}), quietContext))).equal('bad-params');
  });

  it('a text that is no mesh is shown with how it begins', async () => {
    expect(await saying(() => readMesh(text('solid but then nothing of the kind follows\nDear reader\n')))).equal(
      'bad-syntax: "Dear" at line 2 is not a word of an ASCII STL.',
    );
  });
});

describe('what cannot be done is said, and why', () => {
  const { hollow, recut, size, practice, mend } = operations;

  it('a wall thicker than the body leaves nothing to hollow', async () => {
    const said = await saying(async () => run(hollow, await box(20, 20, 20), { wall: 9.9 }));
    expect(said).match(/^cannot: Nothing of the model is thicker than twice the wall of 9.9 mm/);
  });

  it('a print that is over, or nearly, has nothing left to print', async () => {
    const part = await box(10, 10, 10);
    expect(await saying(() => run(recut, part, { printed: 10, layer: 0.2 }))).match(/^bad-params: 10 mm is printed/);
    const { report } = await run(recut, part, { printed: 6, layer: 0.2 });
    expect(report.remainingHeightMm).closeTo(4, 0.21);
  });

  it('layers too thin to count, a size too small, a detail too fine are refused', async () => {
    expect(await saying(async () => sweepLayers(await box(10, 10, 3000), 0.001))).match(
      /^bad-params: A layer of 0.001 mm makes/,
    );
    expect(await saying(async () => run(size, await box(1, 1, 1), { factor: 1e-9 }))).equal(
      'bad-params: "Factor" must be a factor from 0.0001 to 100 000.',
    );
    // a factor that may be, of a mesh that it would make smaller than any number can tell
    const small = await box(0.001, 0.001, 0.001);
    expect(await saying(() => run(size, small, { factor: 0.0001 }))).match(
      /^bad-params: That makes the model 1\.00e-7 mm across/,
    );
    expect(await saying(async () => run(mend, await box(100, 100, 100), { method: 'wrap', detail: 0.0105 }))).match(
      /^too-fine: A detail of 0\.0105 mm on a model 173 mm across needs more/,
    );
  });

  it('a scan of a plate thinner than any grid keeps both its sides', async () => {
    const plate = await box(120, 90, 0.15);
    const { outputs, report } = await run(practice, plate, { severity: 0, seed: 3, ground: false, occlusion: false });
    expect(report.trianglesBefore).equal(12);
    expect(triangleCount(outputs[0])).above(1000);
    // two sides, less the holes that a scanner leaves
    expect(areaOf(outputs[0]) / (2 * 120 * 90)).within(0.9, 1.05);
  });
});

describe('seams of a cut that ends', () => {
  it('are those in its box alone', async () => {
    const { Manifold } = await loadKernel();
    const two = fromSolid(Manifold.cube([10, 10, 30]).add(Manifold.cube([10, 10, 30]).translate([40, 0, 0])));
    const lengths = (cut: object) => {
      const [lines] = seamLines(two, [cut as never], treeOf(two));
      let sum = 0;
      for (let i = 0; i < lines.length; i += 6)
        sum += Math.hypot(lines[i + 3] - lines[i], lines[i + 4] - lines[i + 1], lines[i + 5] - lines[i + 2]);
      return sum;
    };
    const level = { normal: [0, 0, 1], offset: 15 };
    expect(lengths(level)).closeTo(80, 1e-3);
    expect(lengths({ ...level, within: { min: [30, -5, 10], max: [60, 20, 20] } })).closeTo(40, 1e-3);
  });
});

describe('outlines of joins', () => {
  /** Area of an outline by the shoelace. */
  const area = (outline: [number, number][]) =>
    outline.reduce((sum, [x, y], i) => {
      const [u, v] = outline[(i + 1) % outline.length];
      return sum + (x * v - u * y) / 2;
    }, 0);

  it('a keyed one lacks what makes it go in one way (closed formulas)', () => {
    // a square in a circle of 10 has a side of 10 / sqrt 2; keyed, a corner triangle of 0.8 half sides is off
    const half = 5 / Math.SQRT2;
    expect(area(squareOutline(10, false))).closeTo(4 * half * half, 1e-9);
    expect(area(squareOutline(10, true))).closeTo(4 * half * half - (0.8 * half) ** 2 / 2, 1e-9);
    // a circle of 48 corners; keyed it lacks the segment beyond two thirds of the radius
    const r = 5;
    expect(area(roundOutline(10, false))).closeTo(24 * r * r * Math.sin((2 * Math.PI) / 48), 1e-9);
    const segment = r * r * (Math.acos(2 / 3) - (2 / 3) * Math.sqrt(1 - 4 / 9));
    expect(area(roundOutline(10, true))).closeTo(Math.PI * r * r - segment, 0.4);
    // a tongue is a trapezium whose ends are as 2 to 3
    expect(area(tongueOutline(6, 20))).closeTo((20 * (6 + 4)) / 2, 1e-9);
    for (const outline of [squareOutline(8, true), roundOutline(8, true), tongueOutline(6, 20)])
      expect(area(outline), 'facing up').above(0);
  });
});

describe('words of plans and advice', () => {
  it('every note of a plan names its bedful and says what to do', () => {
    expect(noteText({ kind: 'wish-missed', bedful: 'Bedful 2', hours: 3 })).match(
      /^Bedful 2 begins 3\.0 h later than it was put/,
    );
    const still = noteText({ kind: 'stands-still', bedful: 'Bedful 1', says: '', hours: 2 });
    expect(still).match(/^Bedful 1 stands still for 2\.0 h.*\(something to do\)/);
    expect(noteText({ kind: 'stands-still', bedful: 'Bedful 1', says: 'brass', hours: 2 })).match(/\(brass\)/);
    expect(noteText({ kind: 'late', project: '' })).match(/^What is planned is not ready by the deadline/);
  });

  it('a tall part without a foot is advised a brim and a wider raft; a low one neither', () => {
    const part = { kind: 'filament' as const, footMm2: 0, supportMm3: 0, joints: 0 };
    const tall = adviceOf({ ...part, size: { x: 20, y: 20, z: 180 } }).map((a) => a.text);
    expect(tall.join(' ')).match(/Brim of about .*slower.* On a raft let it reach/);
    expect(adviceOf({ ...part, footMm2: 400, size: { x: 20, y: 20, z: 20 } })).eql([]);
    expect(adviceOf({ ...part, footMm2: 4000, size: { x: 200, y: 20, z: 20 } }).map((a) => a.reason)).eql([
      'long thin parts lift at their ends',
    ]);
  });
});
