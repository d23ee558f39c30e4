import type { KitView, PieceView } from '@jasmorphe/contracts/kitViews';
import type { ProjectSummary } from '@jasmorphe/contracts/views';
import { xyz } from './things.ts';

/** Kits and projects as the server tells of them, with what a test says of them and the usual for all else. */

export const pieceOf = (name: string, change: Partial<PieceView> = {}): PieceView => ({
  id: name,
  name,
  path: `${name}.stl`,
  copies: 1,
  colour: '',
  aside: null,
  meshHash: `${name}-mesh`,
  triangles: 12,
  min: xyz(0),
  max: xyz(10, 20, 30),
  size: xyz(10, 20, 30),
  watertight: true,
  worst: null,
  findings: 0,
  stop: 'intake',
  parts: 0,
  printed: 0,
  unit: 'mm',
  unitFrom: 'guess',
  keptBack: false,
  busyJobId: null,
  ...change,
});

export const kitOf = (pieces: PieceView[], change: Partial<KitView> = {}): KitView => ({
  projectId: 'p',
  pieces,
  variants: [],
  unit: null,
  oddUnits: [],
  frame: { shared: true, reason: 'they stand in one frame' },
  moves: pieces.map((_, i) => [100 * i, 0, 0]),
  trouble: null,
  batches: [],
  ...change,
});

export const projectNamed = (name: string, change: Partial<ProjectSummary> = {}): ProjectSummary => ({
  id: name,
  name,
  note: '',
  updatedAt: '2026-11-20',
  createdAt: '2026-11-01',
  dueOn: null,
  archivedAt: null,
  removedAt: null,
  models: [],
  pieces: 1,
  parts: 0,
  printed: 0,
  attention: [],
  trouble: null,
  ...change,
});
