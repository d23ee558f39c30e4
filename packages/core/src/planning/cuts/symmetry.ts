import { newHit, treeOf } from '../../mesh/Bvh.ts';
import { centreOf } from '../../mesh/measures.ts';
import { dot, identity3, vec3 } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, type TriMesh, type Vec3 } from '../../mesh/TriMesh.ts';
import { oncePerMesh } from '../../mesh/oncePerMesh.ts';
import { principalAxes } from './principalAxes.ts';

/** A plane that a solid is mirrored in. */
export interface Mirror {
  normal: Vec3;
  offset: number;
}

/** What is looked at of a part when its twin is sought. */
interface Lump {
  volumeMm3: number;
  centre: Vec3;
}

/** Corners that are mirrored to see whether the skin is there too. */
const samples = 400;
/** Mean distance from the skin up to which a model passes for mirrored, as a share of the edge of a cube that holds as much as its box: scans and sculpts never are to the micron (our own judgement). */
const slack = 0.01;
/** Middles of twins lie no farther from each other's image, as a share of the diagonal; their volumes differ no more. */
const twinSlack = 0.02;
const twinVolume = 0.05;

/** The image of a point in a mirror. */
const imageOf = (p: Vec3, { normal, offset }: Mirror): Vec3 => {
  const far = 2 * (dot(normal, p) - offset);
  return vec3((k) => p[k] - far * normal[k]);
};

/** The image of a plane in a mirror. */
export function mirroredPlane(plane: Mirror, { normal: m, offset }: Mirror): Mirror {
  const along = dot(plane.normal, m);
  return { normal: vec3((k) => plane.normal[k] - 2 * along * m[k]), offset: plane.offset - 2 * offset * along };
}

/** Are two planes one, whichever way they face, so near to each other, mm? */
export function areOne(a: Mirror, b: Mirror, within: number): boolean {
  const along = dot(a.normal, b.normal);
  return Math.abs(along) > 0.9999 && Math.abs(a.offset - Math.sign(along) * b.offset) < within;
}

/**
 * Planes that a closed mesh is mirrored in: each goes through the middle of its flesh, across one of the axes of its
 * moments (a mirror plane of a body is always across a principal axis) or of the model; which of them are is seen from
 * how far the images of its corners lie from its skin.
 */
export const mirrorsOf = oncePerMesh((mesh: TriMesh): Mirror[] => {
  const centre = centreOf(mesh);
  const allowed = slack * Math.cbrt(sizeOf(boundsOf(mesh)).reduce((v, x) => v * x, 1));
  if (!(allowed > 0)) return [];
  const tree = treeOf(mesh);
  const n = mesh.positions.length / 3;
  const every = Math.max(1, Math.floor(n / samples));
  const hit = newHit();
  const out: Mirror[] = [];
  for (const normal of [...identity3, ...principalAxes(mesh.positions, mesh.triangles)]) {
    if (out.some((o) => Math.abs(dot(o.normal, normal)) > 0.999)) continue;
    const mirror: Mirror = { normal, offset: dot(normal, centre) };
    let far = 0;
    let looked = 0;
    for (let v = 0; v < n; v += every) {
      const at: Vec3 = [mesh.positions[3 * v], mesh.positions[3 * v + 1], mesh.positions[3 * v + 2]];
      const [x, y, z] = imageOf(at, mirror);
      far += tree.nearest(x, y, z, Infinity, hit).distance;
      looked++;
    }
    if (looked > 0 && far <= allowed * looked) out.push(mirror);
  }
  return out;
});

/** Is one part the image of another, as far as middle and volume tell? */
export function areTwins(a: Lump, b: Lump, mirror: Mirror, longest: number): boolean {
  if (Math.abs(a.volumeMm3 - b.volumeMm3) > twinVolume * Math.max(a.volumeMm3, b.volumeMm3)) return false;
  // asked for all pairs of parts of every plan that is looked at: nothing is allocated
  const { normal: n, offset } = mirror;
  const p = a.centre;
  const q = b.centre;
  const far = 2 * (n[0] * p[0] + n[1] * p[1] + n[2] * p[2] - offset);
  const x = p[0] - far * n[0] - q[0];
  const y = p[1] - far * n[1] - q[1];
  const z = p[2] - far * n[2] - q[2];
  return x * x + y * y + z * z <= (twinSlack * longest) ** 2;
}

const hasTwin = (a: Lump, parts: readonly Lump[], mirror: Mirror, longest: number): boolean => {
  for (const b of parts) if (areTwins(a, b, mirror, longest)) return true;
  return false;
};

/** Flesh in parts that have a twin on the other side, or are their own, in each mirror, mm³. */
export const pairedIn = (parts: readonly Lump[], mirrors: readonly Mirror[], longest: number): number[] =>
  mirrors.map((mirror) => parts.reduce((v, a) => v + (hasTwin(a, parts, mirror, longest) ? a.volumeMm3 : 0), 0));

/** The same after one of the parts was cut, from what it was before: in time that grows with the parts, not with their pairs. */
export function pairedAfter(
  before: readonly number[],
  parts: readonly Lump[],
  cut: Lump,
  children: readonly Lump[],
  mirrors: readonly Mirror[],
  longest: number,
): number[] {
  const all = [...parts.filter((p) => p !== cut), ...children];
  return mirrors.map((mirror, m) => {
    let paired = before[m];
    if (hasTwin(cut, parts, mirror, longest)) paired -= cut.volumeMm3;
    for (const a of parts) {
      if (a === cut) continue;
      const lost = areTwins(a, cut, mirror, longest);
      const found = hasTwin(a, children, mirror, longest);
      if (found && !lost && !hasTwin(a, parts, mirror, longest)) paired += a.volumeMm3;
      if (lost && !found && !hasTwin(a, all, mirror, longest)) paired -= a.volumeMm3;
    }
    for (const c of children) if (hasTwin(c, all, mirror, longest)) paired += c.volumeMm3;
    return paired;
  });
}

/**
 * The share of the flesh that is paired, in the mean over the mirrors (every cut across two of them is mirrored in both, so
 * the best alone would tell nothing); 1 where nothing is mirrored.
 */
export const shareOfPaired = (paired: readonly number[], volumeMm3: number): number =>
  paired.length === 0 || !(volumeMm3 > 0)
    ? 1
    : Math.min(1, paired.reduce((a, b) => a + b, 0) / (volumeMm3 * paired.length));
