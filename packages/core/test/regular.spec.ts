import { expect } from 'chai';
import * as three from 'three';
import { crossesOf, areaOf, volumeOf } from '@jasmorphe/core/mesh/measures';
import { findDuplicates } from '@jasmorphe/core/mesh/duplicates';
import { randomFrom } from '@jasmorphe/core/mesh/random';
import { concatMeshes, subMesh, triangleCount, type TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { weldExact } from '@jasmorphe/core/mesh/weld';
import { quietContext } from '@jasmorphe/core/run/context';
import { flattestPose } from '@jasmorphe/core/planning/partPose';
import { dropFlatShells, proveSolid } from '@jasmorphe/core/repair/proveSolid';
import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { toSolid, withSolids } from '@jasmorphe/core/solid/kernel';
import { newHit, treeOf } from '@jasmorphe/core/mesh/Bvh';
import { SoundSide } from '@jasmorphe/core/mesh/SoundSide';
import { moved, turned } from './solids.ts';

const meshOf = (geometry: three.BufferGeometry): TriMesh => {
  const positions = Float32Array.from(geometry.getAttribute('position').array);
  const index = geometry.getIndex();
  const triangles = index
    ? Uint32Array.from(index.array)
    : Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
  return weldExact({ positions, triangles });
};

/**
 * The regular solids of three.js with a circumradius of 10, and what Coxeter (Regular Polytopes, table I) has of them by
 * the edge a: circumradius, inradius, area of a face.
 */
const golden = (1 + Math.sqrt(5)) / 2;
const regular = [
  {
    name: 'tetrahedron',
    of: new three.TetrahedronGeometry(10),
    R: Math.sqrt(6) / 4,
    r: Math.sqrt(6) / 12,
    face: Math.sqrt(3) / 4,
    faces: 4,
  },
  {
    name: 'octahedron',
    of: new three.OctahedronGeometry(10),
    R: Math.SQRT1_2,
    r: Math.sqrt(6) / 6,
    face: Math.sqrt(3) / 4,
    faces: 8,
  },
  {
    name: 'dodecahedron',
    of: new three.DodecahedronGeometry(10),
    R: (Math.sqrt(3) * golden) / 2,
    r: golden ** 2 / (2 * Math.sqrt(3 - golden)),
    face: Math.sqrt(25 + 10 * Math.sqrt(5)) / 4,
    faces: 12,
  },
  {
    name: 'icosahedron',
    of: new three.IcosahedronGeometry(10),
    R: Math.sqrt(golden * Math.sqrt(5)) / 2,
    r: golden ** 2 / (2 * Math.sqrt(3)),
    face: Math.sqrt(3) / 4,
    faces: 20,
  },
].map((s) => ({ ...s, mesh: meshOf(s.of), edge: 10 / s.R }));

describe('regular solids (Coxeter, table I)', () => {
  for (const { name, mesh, edge, r, face, faces } of regular) {
    it(`${name}: area and volume, and the crosses of its triangles are as long as twice their areas and sum to nothing`, () => {
      expect(areaOf(mesh)).closeTo(faces * face * edge ** 2, 1e-3);
      expect(volumeOf(mesh)).closeTo((faces * face * edge ** 2 * r * edge) / 3, 1e-2);
      const crosses = crossesOf(turned(mesh));
      const sum = [0, 0, 0];
      let area = 0;
      for (let i = 0; i < crosses.length; i += 3) {
        for (let k = 0; k < 3; k++) sum[k] += crosses[i + k];
        area += Math.hypot(crosses[i], crosses[i + 1], crosses[i + 2]) / 2;
      }
      expect(area).closeTo(faces * face * edge ** 2, 1e-2);
      // the vector area of a closed surface is zero
      for (const s of sum) expect(Math.abs(s)).lessThan(1e-3);
    });

    it(`${name}: lies on a whole face, as high as its two spheres say`, async () => {
      const pose = await flattestPose(turned(mesh), [60, 60, 60]);
      expect(pose.fits).equal(true);
      expect(pose.footMm2).closeTo(face * edge ** 2, 0.01);
      // above a face is a corner of the tetrahedron, of the others the face opposite
      expect(pose.heightMm).closeTo(name === 'tetrahedron' ? 10 + r * edge : 2 * r * edge, 0.005);
    });

    it(`${name}: a point is inside by what is nearest just when it lies under every face`, () => {
      const side = new SoundSide(mesh);
      const tree = treeOf(mesh);
      const random = randomFrom(11);
      const crosses = crossesOf(mesh);
      let within = 0;
      for (let n = 0; n < 2000; n++) {
        const [x, y, z] = [0, 1, 2].map(() => 24 * random() - 12);
        let over = -Infinity;
        for (let i = 0; i < crosses.length; i += 3) {
          const length = Math.hypot(crosses[i], crosses[i + 1], crosses[i + 2]);
          over = Math.max(over, (crosses[i] * x + crosses[i + 1] * y + crosses[i + 2] * z) / length - r * edge);
        }
        if (Math.abs(over) < 1e-4) continue;
        const hit = tree.nearest(x, y, z, Infinity, newHit());
        expect(side.inside(x, y, z, hit), `${x} ${y} ${z}`).equal(over < 0);
        if (over < 0) within++;
      }
      expect(within).greaterThan(50);
    });
  }
});

describe('doubles and flat shells', () => {
  it('doubles are found whichever way they face: as many as a table of sorted corners finds', () => {
    const random = randomFrom(3);
    for (let round = 0; round < 40; round++) {
      const vertices = 4 + Math.floor(6 * random());
      const triangles = Uint32Array.from({ length: 3 * 60 }, () => Math.floor(vertices * random()));
      const mesh = { positions: new Float32Array(3 * vertices), triangles };
      const seen = new Map<string, number>();
      const { count, first, flags, twinOf } = findDuplicates(mesh);
      let expected = 0;
      for (let t = 0; t < 60; t++) {
        const key = [...triangles.subarray(3 * t, 3 * t + 3)].sort((a, b) => a - b).join();
        const before = seen.get(key);
        expect(flags[t], `round ${round}, triangle ${t}`).equal(before === undefined ? 0 : 1);
        if (before === undefined) seen.set(key, t);
        else {
          expect(twinOf[t]).equal(before);
          if (expected++ === 0) expect(first).equal(t);
        }
      }
      expect(count).equal(expected);
    }
  });

  const icosahedron = regular[3].mesh;
  /** Two triangles back to back. */
  const flake: TriMesh = {
    positions: Float32Array.of(20, 0, 0, 21, 0, 0, 20, 1, 0),
    triangles: Uint32Array.of(0, 1, 2, 0, 2, 1),
  };

  it('a shell that encloses nothing is taken out, and it is said; a small one that encloses something stays', () => {
    const { mesh, dropped } = dropFlatShells(concatMeshes([icosahedron, flake]));
    expect([dropped, triangleCount(mesh)]).eql([1, 20]);
    const small = moved({ ...icosahedron, positions: icosahedron.positions.map((x) => x / 100) }, 30, 0, 0);
    expect(dropFlatShells(concatMeshes([icosahedron, small])).dropped).equal(0);
    // nothing is made of nothing: the last shell stays, whatever it is
    expect(triangleCount(dropFlatShells(flake).mesh)).equal(2);
    const proven = proveSolid(concatMeshes([icosahedron, flake]), [], quietContext);
    expect(proven.proof).eql({ sound: true, crossingPairs: 0, tears: 0, flatShells: 1, mended: true, volumeChange: 0 });
    expect(volumeOf(proven.mesh)).closeTo(volumeOf(icosahedron), 1e-6);
  });

  it('what is sound comes back as the very same; a face that is missing is put back, and that is said', () => {
    const whole = proveSolid(icosahedron, [], quietContext);
    expect(whole.mesh).equal(icosahedron);
    expect(whole.proof).include({ sound: true, mended: false });
    const open = subMesh(
      icosahedron,
      Array.from({ length: 19 }, (_, i) => i),
    );
    const back = proveSolid(open, [], quietContext);
    expect(back.proof).include({ sound: true, mended: true, tears: 0 });
    expect(volumeOf(back.mesh)).closeTo(volumeOf(icosahedron), 1e-3);
  });

  it('only new triangles are looked at: a crossing that was there before is not counted, a new one is', async () => {
    const pair = concatMeshes([icosahedron, moved(icosahedron, 9, 1, 2)]);
    expect(proveSolid(pair, [pair], quietContext).proof).include({ sound: true, crossingPairs: 0 });
    // two bodies in one another are united, not cut apart: as the solid kernel unites them
    const { proof, mesh } = proveSolid(pair, [], quietContext);
    expect(proof).include({ sound: true, mended: true, crossingPairs: 0, tears: 0 });
    const united = await withSolids((kernel, keep) =>
      keep(
        kernel.Manifold.union([keep(toSolid(kernel, icosahedron)), keep(toSolid(kernel, moved(icosahedron, 9, 1, 2)))]),
      ).volume(),
    );
    expect(volumeOf(mesh) / united).closeTo(1, 1e-6);
    expect(proof.volumeChange).closeTo(united / (2 * volumeOf(icosahedron)) - 1, 1e-6);
    expect(inspectMesh(mesh).selfIntersectingPairs).equal(0);
  });
});
