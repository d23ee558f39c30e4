import type { Finding } from '../inspect/Finding.ts';
import { middleOf, stageFinding } from '../inspect/stageFinding.ts';
import type { Xyz } from '../mesh/TriMesh.ts';
import { isRestWaiting, isStopped, type PrintState } from './printState.ts';

/** What is known of a part where it is printed. */
export interface PrintedPart {
  id: string;
  tag: string;
  state: PrintState;
  /** recuts in force */
  rests: number;
  /** height at which its print stopped, mm */
  failedAtMm: number | null;
  min: Xyz;
  size: Xyz;
}

/** Prints that stopped, and rests of such that wait. */
export const printFindings = (parts: readonly PrintedPart[]): Finding[] =>
  parts.flatMap((p) => {
    const place = { name: p.id, at: middleOf(p), spanMm: p.size.z };
    if (isRestWaiting(p)) return [stageFinding('rest-waits', 'attention', { tag: p.tag }, place)];
    if (!isStopped(p)) return [];
    return [stageFinding('print-stopped', 'failure', { tag: p.tag, heightMm: p.failedAtMm ?? 0 }, place)];
  });
