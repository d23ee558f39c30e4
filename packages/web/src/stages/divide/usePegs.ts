import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { useEffect, useMemo, useRef } from 'react';
import type { PartView } from '@jasmorphe/contracts/views';
import type { DividedPart, DivideReport } from '@jasmorphe/core/operations/divide/describe';
import type { JoinPlace } from '@jasmorphe/core/params/checks';
import { isPlacedByHand } from '@jasmorphe/core/trade/joinKinds';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { movePeg, showPegs, type Peg } from '../../bench/benchSlice.ts';

/** A face that two parts share, with its joins as they would be placed by hand. */
export interface JoinedFace {
  cut: number;
  to: string;
  places: JoinPlace[];
  /** they were placed by hand */
  own: boolean;
  /** where a join has most room, the roomiest first */
  rooms: Triple[];
}

const inBox = ({ plain: { min, size } }: DividedPart, at: Triple, by: number): boolean =>
  (['x', 'y', 'z'] as const).every((a, k) => at[k] >= min[a] - by && at[k] <= min[a] + size[a] + by);

/** A join that is dragged along a bent face stays in a plane, and may come off it so far, mm. */
const offBent = 15;

/** Is a place on the face that two parts share at a cut? */
function isOnFace(report: DivideReport, part: DividedPart, cut: number, to: string, { at }: JoinPlace): boolean {
  const plane = report.cuts[cut - 1];
  const other = report.parts.find((p) => p.tag === to);
  if (!plane || !other) return false;
  const { normal: n, offset, loop } = plane;
  const over = ([x, y, z]: readonly number[]): number => n.x * x + n.y * y + n.z * z - offset;
  const high = over(at);
  if (!loop) return Math.abs(high) < 0.5 && inBox(part, at, 0.1) && inBox(other, at, 0.1);
  const heights = loop.map(({ x, y, z }) => over([x, y, z]));
  return (
    high > Math.min(...heights) - offBent &&
    high < Math.max(...heights) + offBent &&
    inBox(part, at, offBent) &&
    inBox(other, at, offBent)
  );
}

/** The faces of a part that have joins, or had some before they were taken away by hand. */
export function facesOf(report: DivideReport, part: DividedPart, hand: readonly JoinPlace[]): JoinedFace[] {
  return part.beside.map(({ cut, tag: to, rooms }) => {
    const placed = hand.filter((p) => isOnFace(report, part, cut, to, p));
    const made = part.joins
      .filter((j) => j.cut === cut && j.to === to && isPlacedByHand(j.kind))
      .map((j): JoinPlace => ({
        at: [j.at.x, j.at.y, j.at.z],
        kind: j.kind,
        mm: j.diameterMm,
      }));
    return {
      cut,
      to,
      places: placed.length > 0 ? placed : made,
      own: placed.length > 0,
      rooms: rooms.map((r): Triple => [r.x, r.y, r.z]),
    };
  });
}

/** Joins nearer to each other than this would meet, mm. */
const apartMm = 8;

/** The joins of a face with one more where it has most room; null where none has room. */
export function withOneMore({ places, rooms }: JoinedFace, kind: JoinPlace['kind']): JoinPlace[] | null {
  const there = places.filter((p) => p.kind !== 'none');
  const at = rooms.find((r) => there.every((p) => Math.hypot(...r.map((x, k) => x - p.at[k])) > apartMm));
  return at ? [...there, { at, kind }] : null;
}

/** Joins placed by hand, with those of one face replaced; an empty face stays free of joins. */
export function withFace(
  report: DivideReport,
  part: DividedPart,
  { cut, to, places: before }: JoinedFace,
  places: readonly JoinPlace[],
  hand: readonly JoinPlace[],
): JoinPlace[] {
  const rest = hand.filter((p) => !isOnFace(report, part, cut, to, p));
  return [...rest, ...(places.length > 0 ? places : [{ at: before[0].at, kind: 'none' } as const])];
}

/** Without what was placed by hand on the faces of a part. */
export const withoutFaces = (report: DivideReport, part: DividedPart, hand: readonly JoinPlace[]): JoinPlace[] =>
  hand.filter((p) => !part.beside.some(({ cut, tag }) => isOnFace(report, part, cut, tag, p)));

/** Shows the joins of a part as pegs on the bench, and tells when one was dragged. */
export function usePegs(
  report: DivideReport | undefined,
  view: PartView | undefined,
  faces: readonly JoinedFace[],
  onMove: (face: JoinedFace, index: number, at: Triple) => void,
): void {
  const dispatch = useAppDispatch();
  const moved = useAppSelector((s) => s.bench.pegMoved);
  const told = useRef(onMove);
  useEffect(() => {
    told.current = onMove;
  });
  const viewId = view?.id;
  const pegs = useMemo<Peg[]>(
    () =>
      report && viewId
        ? faces.flatMap((face, f) =>
            face.places.flatMap(({ at, kind, mm }, i): Peg[] => {
              if (kind === 'none') return [];
              const { x, y, z } = report.cuts[face.cut - 1].normal;
              return [{ key: `${f} ${i}`, partId: viewId, at, normal: [x, y, z], acrossMm: mm ?? 6, own: face.own }];
            }),
          )
        : [],
    [report, viewId, faces],
  );
  useEffect(() => {
    dispatch(showPegs(pegs));
    return () => void dispatch(showPegs([]));
  }, [pegs, dispatch]);
  useEffect(() => {
    if (!moved) return;
    const [f, i] = moved.key.split(' ').map(Number);
    dispatch(movePeg(null));
    if (faces[f]?.places[i]) told.current(faces[f], i, moved.at);
  }, [moved, faces, dispatch]);
}
