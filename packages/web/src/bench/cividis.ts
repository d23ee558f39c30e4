import { interpolateCividis } from 'd3-scale-chromatic';

/** Steps of the map; finer ones cannot be told apart. */
const steps = 256;

const table: [number, number, number][] = Array.from({ length: steps }, (_, i) => {
  const [r, g, b] = /(\d+), (\d+), (\d+)/
    .exec(interpolateCividis(i / (steps - 1)))!
    .slice(1)
    .map(Number);
  return [r / 255, g / 255, b / 255];
});

/**
 * The colour map cividis (Nunez, Anderton and Renslow 2018), made for eyes of every kind: red, green and blue from 0 to
 * 1, in the space of the screen, at a share from 0 to 1.
 */
export const cividis = (share: number): [number, number, number] =>
  table[Math.round(Math.min(1, Math.max(0, share)) * (steps - 1))];

/** The map as a background for a legend, low end at the left. */
export const cividisGradient = `linear-gradient(to right, ${Array.from({ length: 17 }, (_, i) => interpolateCividis(i / 16)).join(', ')})`;
