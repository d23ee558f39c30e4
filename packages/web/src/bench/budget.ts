/** Triangles the bench may draw in all. */
export const budget = 150_000;
const leastPerPart = 1200;

/** Triangles drawn of one of so many parts. */
export const partBudget = (count: number): number => Math.max(leastPerPart, Math.floor(budget / count / 500) * 500);
