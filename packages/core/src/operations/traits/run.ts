import { OPEN, originOf, targetOf, twinsOf } from '../../mesh/edges.ts';
import { crossesOf } from '../../mesh/measures.ts';
import { boundsOf, triangleCount } from '../../mesh/TriMesh.ts';
import { makeOperation } from '../makeOperation.ts';
import { description } from './describe.ts';

/** Sharper than this an edge is a detail and no facet of something round. */
const sharpCos = Math.cos(Math.PI / 6);

/** How much skin hangs over, and how closely sharp edges stand. */
export const traits = makeOperation(description, async ([mesh], { overhangDeg }, context) => {
  const { positions: p, triangles } = mesh;
  const twin = twinsOf(mesh);
  const cross = crossesOf(mesh);
  const limit = -Math.sin((overhangDeg * Math.PI) / 180) - 1e-6;
  const bed = boundsOf(mesh).min[2];
  const onBed = bed + 1e-4 * Math.max(1, boundsOf(mesh).max[2] - bed);
  let total = 0;
  let over = 0;
  let sharp = 0;
  for (let t = 0; t < triangleCount(mesh); t++) {
    if ((t & 65535) === 0) context.checkCancelled();
    const twice = Math.hypot(cross[3 * t], cross[3 * t + 1], cross[3 * t + 2]);
    if (twice === 0) continue;
    total += twice / 2;
    const z = [0, 1, 2].map((k) => p[3 * triangles[3 * t + k] + 2]);
    if (cross[3 * t + 2] / twice < limit && !z.every((c) => c <= onBed)) over += twice / 2;
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const other = twin[h];
      // each edge once; an open one is a rim
      if (other >= 0 && other < h) continue;
      if (other < 0 && other !== OPEN) continue;
      const a = 3 * originOf(mesh, h);
      const b = 3 * targetOf(mesh, h);
      const length = Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]);
      if (other === OPEN) {
        sharp += length;
        continue;
      }
      const u = 3 * Math.floor(other / 3);
      const size = Math.hypot(cross[u], cross[u + 1], cross[u + 2]);
      if (size === 0) continue;
      const dot = cross[3 * t] * cross[u] + cross[3 * t + 1] * cross[u + 1] + cross[3 * t + 2] * cross[u + 2];
      if (dot / (size * twice) < sharpCos) sharp += length;
    }
  }
  return {
    outputs: [],
    report: {
      overhangMm2: over,
      overhangPct: total > 0 ? (100 * over) / total : 0,
      sharpEdgeMm: sharp,
      detailMm: sharp > 0 ? total / sharp : null,
    },
  };
});
