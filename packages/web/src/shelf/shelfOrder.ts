import type { ProjectSummary } from '@jasmorphe/contracts/views';

/** What of the shelf is looked at. */
export const shelfParts = ['shelf', 'archived', 'removed'] as const;
export type ShelfPart = (typeof shelfParts)[number];

export const shelfSorts = ['touched', 'name', 'made', 'left'] as const;
export type ShelfSort = (typeof shelfSorts)[number];

export const partOf = (p: Pick<ProjectSummary, 'removedAt' | 'archivedAt'>): ShelfPart =>
  p.removedAt !== null ? 'removed' : p.archivedAt !== null ? 'archived' : 'shelf';

const left = (p: ProjectSummary): number => p.parts - p.printed;

const orders: Record<ShelfSort, (a: ProjectSummary, b: ProjectSummary) => number> = {
  touched: (a, b) => (a.updatedAt < b.updatedAt ? 1 : -1),
  name: (a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }),
  made: (a, b) => (a.createdAt < b.createdAt ? 1 : -1),
  left: (a, b) => left(b) - left(a),
};

/** Projects of a part of the shelf that hold all words that are looked for, in order. */
export function onShelf(
  projects: readonly ProjectSummary[],
  part: ShelfPart,
  looked: string,
  sort: ShelfSort,
): ProjectSummary[] {
  const words = looked.toLowerCase().split(/\s+/).filter(Boolean);
  return projects
    .filter((p) => partOf(p) === part)
    .filter((p) => {
      const said = [p.name, p.note, ...p.models.map((m) => m.name)].join(' ').toLowerCase();
      return words.every((w) => said.includes(w));
    })
    .sort(orders[sort]);
}

/** Whole days for which a project that was taken off the shelf can still be put back. */
export const daysLeft = (removedAt: string, days: number, now = Date.now()): number =>
  Math.max(0, Math.ceil((Date.parse(removedAt) + days * 86_400_000 - now) / 86_400_000));
