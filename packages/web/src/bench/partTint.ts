import { Color } from 'three';
import type { Tokens } from '../app/tokens.ts';

/** A pale tint of its own for each part: clay with the hue turned by the golden angle, so that neighbours differ. */
export function partTint(index: number, colours: Tokens): string {
  const clay = new Color(colours.clay);
  const hsl = { h: 0, s: 0, l: 0 };
  clay.getHSL(hsl);
  return `#${new Color().setHSL((hsl.h + index * 0.381966) % 1, 0.2, hsl.l).getHexString()}`;
}

/** Clay of a part that stopped: reddened as far as its form can still be read. */
export function stoppedTint(colours: Tokens): string {
  return `#${new Color(colours.clay).lerp(new Color(colours.madder), 0.45).getHexString()}`;
}
