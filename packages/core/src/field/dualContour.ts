import type { RunContext } from '../run/context.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { CellMerger } from './CellMerger.ts';
import { GridSkin } from './GridSkin.ts';
import { placeInPlanes, sumsOf } from './planeSums.ts';
import type { ScannedBody } from './scanConvert.ts';

/**
 * The skin of a scanned body by dual contouring (Ju et al. 2002) with one vertex for each patch of skin in a cell
 * (Nielson 2004), so that thin walls and near skins stay manifold. A vertex lies where the planes of the source's
 * triangles at the crossed edges meet, in the sense of least squares: flats, creases and corners come out as they were.
 * Where one vertex can stand for those of a cube of cells, it does: see `CellMerger`.
 *
 * @param source the mesh that was scanned
 * @param coarsen how far planes may lie from a vertex that stands for several cells, in cells; 0 to keep every cell
 * @returns a closed mesh; where relief is finer than a cell its triangles can cross, so test it
 */
export function dualContour(body: ScannedBody, source: TriMesh, coarsen: number, context: RunContext): TriMesh {
  const { counts, origin, cell } = body;
  const skin = new GridSkin(body, source);
  const merger = coarsen > 0 ? new CellMerger(skin, body, coarsen) : null;
  for (let k = 0; k + 1 < counts[2]; k++) {
    context.checkCancelled();
    context.progress((0.7 * k) / counts[2], 'Building the new skin');
    skin.addLayer(k);
    merger?.afterLayer(k);
  }
  context.progress(0.8, 'Placing the new skin on the old');
  merger?.end();
  const named = new Uint32Array(skin.vertices);
  const positions = new Float32Array(3 * skin.vertices);
  const at = new Float64Array(3);
  let kept = 0;
  for (let i = 0; i < skin.vertices; i++) {
    if (merger && merger.by[i] !== i) continue;
    placeInPlanes(skin.sums, sumsOf * i, merger ? merger.size[i] : 1, at);
    for (let k = 0; k < 3; k++) positions[3 * kept + k] = origin[k] + cell * (skin.base[3 * i + k] + at[k]);
    named[i] = kept++;
  }
  const { data } = skin.quads;
  for (let i = 0; i < skin.quads.length; i++) data[i] = named[merger ? merger.by[data[i]] : data[i]];
  const placed = positions.slice(0, 3 * kept);
  return { positions: placed, triangles: cutQuads(placed, data, skin.quads.length) };
}

/** Cuts each quad along the diagonal that folds it less; one with two corners in one becomes a triangle, or goes. */
function cutQuads(p: Float32Array, quads: Uint32Array, length: number): Uint32Array {
  const triangles = new Uint32Array(1.5 * length);
  let used = 0;
  const push = (a: number, b: number, c: number): void => {
    triangles[used++] = a;
    triangles[used++] = b;
    triangles[used++] = c;
  };
  const n = new Float64Array(6);
  const face = (a: number, b: number, c: number, o: number): void => {
    const ux = p[3 * b] - p[3 * a];
    const uy = p[3 * b + 1] - p[3 * a + 1];
    const uz = p[3 * b + 2] - p[3 * a + 2];
    const vx = p[3 * c] - p[3 * a];
    const vy = p[3 * c + 1] - p[3 * a + 1];
    const vz = p[3 * c + 2] - p[3 * a + 2];
    n[o] = uy * vz - uz * vy;
    n[o + 1] = uz * vx - ux * vz;
    n[o + 2] = ux * vy - uy * vx;
  };
  const fold = (): number =>
    (n[0] * n[3] + n[1] * n[4] + n[2] * n[5]) /
    Math.sqrt((n[0] * n[0] + n[1] * n[1] + n[2] * n[2]) * (n[3] * n[3] + n[4] * n[4] + n[5] * n[5]) || 1);
  for (let i = 0; i < length; i += 4) {
    const a = quads[i];
    const b = quads[i + 1];
    const c = quads[i + 2];
    const d = quads[i + 3];
    if (a === b || b === c || c === d || d === a) {
      const [q, r] = a === b || b === c ? [c, d] : [b, c];
      if (a !== q && q !== r && r !== a) push(a, q, r);
      continue;
    }
    face(a, b, c, 0);
    face(a, c, d, 3);
    const along = fold();
    face(a, b, d, 0);
    face(b, c, d, 3);
    if (fold() > along + 1e-6) {
      push(a, b, d);
      push(b, c, d);
    } else {
      push(a, b, c);
      push(a, c, d);
    }
  }
  return triangles.slice(0, used);
}
