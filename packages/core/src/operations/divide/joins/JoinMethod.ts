import type { Vec3 } from '../../../mesh/TriMesh.ts';
import type { MadeKind } from '../../../trade/joinKinds.ts';
import type { PlaneCut } from '../../../planning/cuts/PlaneCut.ts';
import type { Decided, JoinWishes, Straight } from './decide.ts';
import type { LoosePart, PlacedJoin } from './Join.ts';
import type { JoinWork, On } from './JoinWork.ts';
import type { Point } from './places.ts';
import type { Site } from './sites.ts';

/** A join as it is noted with both parts, but for which of them has what. */
export type NotedJoin = Omit<PlacedJoin, 'role' | 'to' | 'cut'>;

/**
 * One kind of join: where it goes on a face, which part carries it, how both are cut, and what is printed or bought for it. What it is
 * called and may be asked for stands in `trade/joinKinds.ts`; here is what needs a solid.
 */
export interface JoinMethod {
  /** how deep it may reach into a part, mm */
  reach: (wishes: Omit<JoinWishes, 'kind'>) => number;
  /** goes on a face along a membrane, which is no plane; else pins are made there */
  overMembranes: boolean;
  /** how it goes in, where it goes straight into holes: such may be placed by hand */
  straight?: Straight;
  /** Joins on a face on which none are placed by hand. */
  decide: (work: JoinWork, site: Site, wishes: JoinWishes) => Decided[];
  /** Joins on all faces that close in one movement, where it takes them together. */
  decideTogether?: (work: JoinWork, sites: readonly Site[]) => Decided[];
  /**
   * Which part has what stands out: it is loose, and both have holes; either, so that each part keeps a face to lie on and fits its bed;
   * or it follows from where there was room.
   */
  carried: 'loose' | 'either' | 'by room';
  /** what it is where both parts have holes, though it would be printed on */
  asLoose?: MadeKind;
  /** Takes its bodies out of the parts and adds them. False where there is something in the way: nothing is changed then. */
  cut: (work: JoinWork, join: Decided, on: On) => boolean;
  /** Where its middle lies, if that is not its place. */
  middle?: (join: Decided) => Point;
  /** The way in which the part above slides on, if it does not go straight across. */
  slidesOn?: (join: Decided, cut: PlaneCut) => Vec3;
  /** several of it on a face keep parts from going together wrongly */
  tellsFaces?: boolean;
  /** What is printed apart or bought for one. */
  things: (join: Decided, on: On, clearance: number) => LoosePart[];
  /** its length, mm, and what is bought or printed for it in words, as each part has it noted */
  noted: (join: Decided, clearance: number) => { lengthMm: number; size: string };
  /** What is made on all faces at the end, whatever else is there; by face. */
  afterwards?: (work: JoinWork) => { site: Site; join: NotedJoin }[];
}
