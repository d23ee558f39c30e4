/** Share of the skin, percent, that is thinner than `mm`, from quantiles. */
export function thinnerPct(quantilesMm: readonly number[], mm: number): number {
  const n = quantilesMm.length - 1;
  if (n < 1 || mm <= quantilesMm[0]) return 0;
  for (let i = 1; i <= n; i++)
    if (mm <= quantilesMm[i]) {
      const width = quantilesMm[i] - quantilesMm[i - 1];
      return (100 * (i - 1 + (width > 0 ? (mm - quantilesMm[i - 1]) / width : 1))) / n;
    }
  return 100;
}
