import { useState } from 'react';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { massText, whole } from '@jasmorphe/core/words/numbers';
import { useLength } from '../app/useLength.ts';
import { usePrinter } from '../app/usePrinter.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { pickPart } from '../bench/benchSlice.ts';

type Column = 'tag' | 'size' | 'mass' | 'state';

const stateWords: Record<PartView['state'], string> = {
  planned: '—',
  printing: 'printing',
  printed: 'printed',
  failed: 'stopped',
  aside: 'set aside',
};

/** All parts with what matters of each; a click on a head sorts, a click on a row picks the part on the bench. */
export function PartsTable({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const { density } = usePrinter(printers);
  const dispatch = useAppDispatch();
  const picked = useAppSelector((s) => s.bench.partId);
  const length = useLength();
  const [sort, setSort] = useState<{ by: Column; down: boolean }>({ by: 'tag', down: false });
  const [only, setOnly] = useState('');
  const largest = (p: PartView) => Math.max(p.mesh.facts.size.x, p.mesh.facts.size.y, p.mesh.facts.size.z);
  const mass = (p: PartView) => ((p.mesh.facts.volumeMm3 ?? 0) / 1000) * density;
  const value = (p: PartView): number | string =>
    sort.by === 'size' ? largest(p) : sort.by === 'mass' ? mass(p) : sort.by === 'state' ? p.state : p.tag;
  const compare = (a: PartView, b: PartView): number => {
    const [u, v] = [value(a), value(b)];
    const order =
      typeof u === 'number' && typeof v === 'number'
        ? u - v
        : String(u).localeCompare(String(v), undefined, { numeric: true });
    return (order || a.tag.localeCompare(b.tag, undefined, { numeric: true })) * (sort.down ? -1 : 1);
  };
  const rows = body.parts
    .filter(
      (p) => p.tag.toLowerCase().startsWith(only.trim().toLowerCase()) || p.state.startsWith(only.trim().toLowerCase()),
    )
    .sort(compare);
  const head = (by: Column, text: string) => (
    <th aria-sort={sort.by === by ? (sort.down ? 'descending' : 'ascending') : 'none'}>
      <button type="button" onClick={() => setSort({ by, down: sort.by === by && !sort.down })}>
        {text}
        {sort.by === by ? (sort.down ? ' ↓' : ' ↑') : ''}
      </button>
    </th>
  );
  return (
    <div className="partsTable">
      <div className="panelHead">
        <b>Parts</b>
        <input
          className="plainInput narrow"
          aria-label="Show only"
          placeholder="tag or state"
          value={only}
          onChange={(e) => setOnly(e.target.value)}
        />
        <span className="figure">
          {whole(rows.length)} of {whole(body.parts.length)}
        </span>
      </div>
      <table>
        <thead>
          <tr>
            {head('tag', 'Tag')}
            {head('size', 'Longest')}
            {head('mass', 'Mass')}
            {head('state', 'Print')}
          </tr>
        </thead>
        <tbody>
          {rows.map((p) => (
            <tr
              key={p.id}
              className={`${picked === p.id ? 'picked' : ''} ${p.state}`}
              onClick={() => dispatch(pickPart(picked === p.id ? null : p.id))}
            >
              <td>
                <button type="button" className="plain" aria-pressed={picked === p.id}>
                  {p.tag}
                </button>
              </td>
              <td className="figure">
                {!p.fits && p.rests === 0 ? (
                  <span className="cellFailed">{length(largest(p), false)} too long</span>
                ) : (
                  length(largest(p), false)
                )}
              </td>
              <td className="figure">{massText(mass(p))}</td>
              <td className="figure">
                {p.state === 'failed' && p.failedAtMm !== null
                  ? `at ${length(p.failedAtMm, false)}`
                  : p.rests > 0 && p.state === 'planned'
                    ? 'rest to print'
                    : stateWords[p.state]}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
