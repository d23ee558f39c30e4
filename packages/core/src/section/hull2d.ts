/** Corners of the convex hull of points x, y, counter-clockwise (Andrew 1979). */
export function hull2d(points: ArrayLike<number>): number[] {
  const n = points.length / 2;
  const order = Array.from({ length: n }, (_, i) => i).sort(
    (a, b) => points[2 * a] - points[2 * b] || points[2 * a + 1] - points[2 * b + 1],
  );
  const turn = (a: number, b: number, c: number) =>
    (points[2 * b] - points[2 * a]) * (points[2 * c + 1] - points[2 * a + 1]) -
    (points[2 * b + 1] - points[2 * a + 1]) * (points[2 * c] - points[2 * a]);
  const half = (list: number[]): number[] => {
    const out: number[] = [];
    for (const i of list) {
      while (out.length > 1 && turn(out[out.length - 2], out[out.length - 1], i) <= 0) out.pop();
      out.push(i);
    }
    out.pop();
    return out;
  };
  return [...half(order), ...half(order.reverse())].flatMap((i) => [points[2 * i], points[2 * i + 1]]);
}
