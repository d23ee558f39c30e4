import type { Vec3 } from '../mesh/TriMesh.ts';
import { figures } from '../trade/figures.ts';
import { pieceName } from './pieceNames.ts';

/** A piece as far as its likeness to others goes. */
export interface Likeness {
  id: string;
  /** path of its file */
  path: string;
  /** mm */
  min: Vec3;
  max: Vec3;
}

/** Pieces that seem to be forms of the same thing: one of them is printed. */
export interface VariantGroup {
  /** what their names have in common */
  name: string;
  ids: string[];
}

/** Words that tell sides or places apart: pieces that differ in them are all needed. */
const sideWords = new Set(
  (
    'left right l r front back rear top bottom upper lower inner outer inside outside mid middle centre center ' +
    'fl fr rl rr bl br tl tr lh rh north south east west start end male female'
  ).split(' '),
);

const words = (path: string): string[] =>
  pieceName(path)
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/\((\d+)\)/g, ' copy$1 ')
    .split(/[\s_.\-+]+/)
    .filter(Boolean)
    .map((w) => w.toLowerCase());

/** The last word of a name tells another form of it: not a side, nor a running number, which tells another piece. */
const tellsVariant = (word: string): boolean => !sideWords.has(word) && !/^\d+$/.test(word);

const folderOf = (path: string): string => path.slice(0, Math.max(0, path.lastIndexOf('/')));

/** All boxes agree about in size and, where pieces stand as they belong, in place. */
function agree(a: Likeness, b: Likeness, placed: boolean): boolean {
  const sizes = [a, b].map((p) => p.max.map((x, k) => x - p.min[k]));
  const longest = Math.max(...sizes[0], ...sizes[1]);
  const off = figures.variantBoxPct.value / 100;
  const alike = sizes[0].every((s, k) => Math.abs(s - sizes[1][k]) <= off * longest);
  if (!alike || !placed) return alike;
  const centres = [a, b].map((p) => p.max.map((x, k) => (x + p.min[k]) / 2));
  return centres[0].every((c, k) => Math.abs(c - centres[1][k]) <= off * longest);
}

/**
 * Groups of pieces in one folder whose names are the same but for the last word (or have none where others have one) and
 * whose boxes nearly agree. Sides and running numbers make other pieces, not other forms.
 *
 * @param placed the pieces share a frame: forms of one thing stand in one place
 */
export function variantGroups(pieces: readonly Likeness[], placed: boolean): VariantGroup[] {
  const byStem = new Map<string, Likeness[]>();
  const stems = new Map<string, string>();
  for (const p of pieces) {
    const w = words(p.path);
    const whole = `${folderOf(p.path)}/${w.join(' ')}`;
    stems.set(p.id, whole);
    if (w.length > 1 && tellsVariant(w[w.length - 1])) {
      const stem = `${folderOf(p.path)}/${w.slice(0, -1).join(' ')}`;
      byStem.set(stem, [...(byStem.get(stem) ?? []), p]);
    }
  }
  const taken = new Set<string>();
  const groups: VariantGroup[] = [];
  // the longest stems first: "jaw open a" goes with "jaw open b" before it goes with "jaw shut"
  for (const [stem, list] of [...byStem].sort(([a], [b]) => b.length - a.length)) {
    // the piece that has the stem alone for a name is one of them
    const plain = pieces.filter((p) => stems.get(p.id) === stem);
    const free = [...plain, ...list].filter((p) => !taken.has(p.id));
    while (free.length > 1) {
      const first = free.shift()!;
      const same = [first, ...free.filter((p) => agree(first, p, placed))];
      if (same.length < 2) continue;
      for (const p of same) {
        taken.add(p.id);
        const at = free.indexOf(p);
        if (at >= 0) free.splice(at, 1);
      }
      groups.push({ name: stem.slice(stem.lastIndexOf('/') + 1), ids: same.map((p) => p.id) });
    }
  }
  const order = new Map(pieces.map((p, i) => [p.id, i]));
  for (const g of groups) g.ids.sort((a, b) => order.get(a)! - order.get(b)!);
  return groups.sort((a, b) => order.get(a.ids[0])! - order.get(b.ids[0])!);
}
