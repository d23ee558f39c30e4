import { axes } from '@jasmorphe/core/mesh/axes';
import type { Tool } from './Tool.ts';

export const move: Tool<'move'> = {
  id: 'move',
  summary: 'Shift and turn it to numbers, or lay a face down',
  question: 'Where shall it stand?',
  lead: 'Click a face on the bench to lay it down. It turns about the middle of its bounds.',
  asksForPoint: true,
  fields: () => [
    ...axes.map((k) => ({ id: `by${k}`, label: `Shift ${k}`, hint: 'Along this axis', value: 0 })),
    ...axes.map((k) => ({ id: `turn${k}`, label: `Turn ${k}`, hint: 'About x, then y, then z', unit: '°', value: 0 })),
  ],
  options: (_, v, bench) => {
    const of = (what: string) =>
      [v[`${what}x`] ?? 0, v[`${what}y`] ?? 0, v[`${what}z`] ?? 0] as [number, number, number];
    const numbers = { by: of('by'), turn: of('turn') };
    return [
      { name: 'On the bed', params: { ...numbers, onBed: true } },
      bench.points.length > 0
        ? { name: 'Face down', params: { ...numbers, face: bench.points[0], onBed: true } }
        : { name: 'Face down', params: null, wants: 'Click the face to lay down on the bench.' },
      [...numbers.by, ...numbers.turn].some((x) => x !== 0)
        ? { name: 'By numbers', params: numbers }
        : { name: 'By numbers', params: null, wants: 'Type a shift or a turn below.' },
    ];
  },
  advised: () => 0,
};
