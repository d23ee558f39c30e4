import { inspectMesh } from '@jasmorphe/core/inspect/inspect';
import { fastest, knobbly, peakMb, say } from './common.ts';

// without the search for crossings: aim under 2 s
const mesh = knobbly(870_000);
const plain = await fastest(3, () => inspectMesh(mesh, { skipSelfIntersections: true }));
say(
  `inspecting 870 000 triangles without crossings: ${plain.toFixed(0)} ms; ${(plain / 2000).toFixed(2)} of 2 s; peak ${peakMb()} MB`,
);
const full = await fastest(1, () => inspectMesh(mesh));
say(`with crossings, exactly: ${full.toFixed(0)} ms; peak ${peakMb()} MB`);
