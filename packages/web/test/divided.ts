import type { DividedPart, DivideReport } from '@jasmorphe/core/operations/divide/describe';
import { xyz } from './things.ts';

/** Three boxes of 20 mm in a row, joined by pins at z 20 and z 40. */
export const dividedReport = (): DivideReport => {
  const join = (to: string, cut: number, role: 'pin' | 'hole', x: number) => ({
    kind: 'pin' as const,
    role,
    to,
    at: { x, y: 10, z: 20 * cut },
    cut,
    diameterMm: x < 10 ? 6 : 5,
    depthMm: 6,
    lengthMm: 0,
    wallMm: 3,
    size: '',
    boss: false,
    own: false,
  });
  const rooms = (z: number) => [xyz(5, 10, z), xyz(10, 3, z), xyz(16, 16, z)];
  const part = (tag: string, z: number, joins: DividedPart['joins'], beside: DividedPart['beside']): DividedPart =>
    ({
      tag,
      volumeMm3: 8000,
      size: xyz(20),
      min: { x: 0, y: 0, z },
      plain: { min: { x: 0, y: 0, z }, size: xyz(20), volumeMm3: 8000 },
      fits: true,
      overMm: 0,
      printer: '',
      pose: { rotation: [] },
      heightMm: 20,
      footMm2: 400,
      joins,
      beside,
      apart: xyz(0),
    }) as never;
  const cut = (offset: number) => ({
    axis: 'z',
    normal: xyz(0, 0, 1),
    offset,
    through: null,
    areaMm2: 400,
    seamMm: 80,
  });
  return {
    parts: [
      part(
        'A1',
        0,
        [join('B1', 1, 'pin', 5), join('B1', 1, 'pin', 15)],
        [{ tag: 'B1', areaMm2: 400, cut: 1, rooms: rooms(20) }],
      ),
      part(
        'B1',
        20,
        [join('A1', 1, 'hole', 5), join('A1', 1, 'hole', 15), join('C1', 2, 'pin', 5)],
        [
          { tag: 'A1', areaMm2: 400, cut: 1, rooms: rooms(20) },
          { tag: 'C1', areaMm2: 400, cut: 2, rooms: rooms(40) },
        ],
      ),
      part('C1', 40, [join('B1', 2, 'hole', 5)], [{ tag: 'B1', areaMm2: 400, cut: 2, rooms: rooms(40) }]),
    ],
    cuts: [cut(20), cut(40)],
    order: [
      { name: 'C1', from: ['B1'], direction: xyz(0, 0, -1), cut: 2, glueMm2: 400 },
      { name: 'B1+C1', from: ['A1'], direction: xyz(0, 0, -1), cut: 1, glueMm2: 6000 },
    ],
    loose: [],
    mixable: [],
    interlocked: [],
    leftOut: [],
    faces: 2,
    bareFaces: 0,
    untagged: 0,
    volumeError: 0,
    reason: '',
  } as never;
};
