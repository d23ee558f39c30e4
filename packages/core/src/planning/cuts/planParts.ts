import type { Vec3 } from '../../mesh/TriMesh.ts';
import type { Mat3 } from '../../mesh/transform.ts';
import type { SectionProfile } from './sectionProfile.ts';
import type { Skin } from './Skin.ts';
import type { Weights } from './styles.ts';

/** A part as the planner sees it: a piece of the stand-in, with what is judged of it. */
export interface PlanPart extends Required<Skin> {
  id: number;
  /** of two edges of each triangle: its normal, twice its area long */
  crosses: Float32Array;
  /** rotations in which boxes around it are measured */
  frames: readonly Mat3[];
  /** outward normals of its cut faces */
  faces: readonly Vec3[];
  longestMm: number;
  /** middle of its flesh */
  centre: Vec3;
  fits: boolean;
  /** nothing that was tried divides it */
  stuck: boolean;
  /** parts that it is expected to come to: 1 where it fits */
  expected: number;
  areaMm2: number;
  /** in the pose with the least support among its cut faces and the model's axes */
  supportMm3: number;
  /** of that pose: what is up, and how high it is, mm */
  up: Vec3;
  heightMm: number;
  /** on each printer, s */
  durationsS: readonly number[];
  /** what planes in many directions would cut of it, once that was worked out */
  sweeps: Sweep[] | null;
  /** numbers of the rooms that it fits, once that was asked */
  onto: readonly number[] | null;
  /** what cuts made of it, by normal and offset */
  parted: Map<string, PlanPart[] | null>;
  /** cuts through it that were asked for by themselves */
  single: Map<string, Option | null>;
  /** the best cuts through it, by what was looked for */
  options: Map<Weights, { most: number; necks: number; ranked: (Option | null)[] }>;
}

/** One way to cut a part. */
export interface Option {
  normal: Vec3;
  offset: number;
  areaMm2: number;
  seamMm: number;
  /** length of its seam, each stretch by how much it shows */
  seenMm: number;
  children: PlanPart[];
}

/** Planes along one direction through a part, with what they would cut. */
export interface Sweep extends SectionProfile {
  /** offsets at which a flat begins */
  natural: ReadonlySet<number>;
  /** and at which the part is narrow between wider places; `added` planes are there for that alone */
  necks: ReadonlySet<number>;
  added: ReadonlySet<number>;
}
