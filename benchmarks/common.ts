import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';

/** A knobbly closed surface of about the triangle count wanted, as a scan would have it. */
export function knobbly(triangles: number): TriMesh {
  const n = Math.round(Math.sqrt(triangles));
  const m = Math.round(triangles / (2 * n));
  const positions = new Float32Array(3 * n * m);
  const indices = new Uint32Array(6 * n * m);
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      const a = (2 * Math.PI * i) / n;
      const b = (2 * Math.PI * j) / m;
      const r = 30 + 2 * Math.sin(9 * a) * Math.cos(5 * b) + 0.4 * Math.sin(61 * a + 37 * b);
      const v = i * m + j;
      positions[3 * v] = (90 + r * Math.cos(b)) * Math.cos(a);
      positions[3 * v + 1] = (90 + r * Math.cos(b)) * Math.sin(a);
      positions[3 * v + 2] = r * Math.sin(b);
      const q = ((i + 1) % n) * m + j;
      const s = ((i + 1) % n) * m + ((j + 1) % m);
      const t = i * m + ((j + 1) % m);
      indices.set([v, q, s, v, s, t], 6 * v);
    }
  return { positions, triangles: indices };
}

export const peakMb = (): number => Math.round(process.resourceUsage().maxRSS / 1024);

/** Milliseconds of the fastest of a few runs. */
export async function fastest(runs: number, work: () => unknown): Promise<number> {
  let best = Infinity;
  for (let i = 0; i < runs; i++) {
    const began = performance.now();
    await work();
    best = Math.min(best, performance.now() - began);
  }
  return best;
}

export const say = (text: string): void => void process.stdout.write(`${text}\n`);
