import type { PlanSpool } from '@jasmorphe/core/planning/days/PlanRequest';
import type { MaterialView, SpoolView } from '../views.ts';

/** Names that are told apart: a second one of a name gets its number behind it. */
export function apart(names: readonly string[]): string[] {
  const seen = new Map<string, number>();
  return names.map((name) => {
    const n = (seen.get(name) ?? 0) + 1;
    seen.set(name, n);
    return n === 1 ? name : `${name} (${n})`;
  });
}

/** Spools and bottles that are open, and what there is of each material beside them. */
export function shelfOf(spools: readonly SpoolView[], materials: readonly MaterialView[]): PlanSpool[] {
  const open = spools.filter((s) => s.endedAt === null);
  const names = apart(open.map((s) => s.name));
  return materials.flatMap(({ id, name: material, kind, stockG }): PlanSpool[] => {
    const own = open.flatMap((s, i) =>
      s.materialId === id ? [{ name: names[i], kind, material, colour: s.colour, leftG: s.leftG }] : [],
    );
    // what is not listed one by one is of the colour that those have which are
    const colours = new Set(spools.filter((s) => s.materialId === id).map((s) => s.colour));
    const colour = colours.size === 1 ? [...colours][0] : material;
    return stockG > 0 ? [...own, { name: `${material}, not opened`, kind, material, colour, leftG: stockG }] : own;
  });
}
