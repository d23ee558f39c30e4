/** Axes of charts: small figures in ink, hairlines. */
export const axisLook = { tick: { fontSize: 10, fill: 'var(--ink2)' }, stroke: 'var(--line)' } as const;

/** What is said of a place under the pointer. */
export const tooltipLook = { background: 'var(--sheet)', border: '1px solid var(--line)', fontSize: 12 } as const;

/** Room around a small chart. */
export const chartMargin = { top: 4, right: 4, bottom: 0, left: 0 } as const;
