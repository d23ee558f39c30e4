import { useState } from 'react';
import type { BodyView } from '@jasmorphe/contracts/views';
import { useKeys } from '../app/keys.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import {
  look,
  setExplode,
  setSection,
  toggleCompanion,
  toggleLaid,
  toggleSection,
  type BenchView,
} from './benchSlice.ts';

const views: BenchView[] = ['front', 'right', 'top', 'corner'];
const axisNames = ['x', 'y', 'z'] as const;

/** What can be done with the bench: look, cut, take apart, hold something of known size beside it, fetch the file. */
export function BenchTools({ body, atPrinter }: { body: BodyView; atPrinter: boolean }) {
  const dispatch = useAppDispatch();
  const { section, explode, companion, view, laid } = useAppSelector((s) => s.bench);
  const parts = body.parts.length > 0;
  const nextView = views[(views.indexOf(view.name) + 1) % views.length];
  const slide = (by: number) =>
    section && dispatch(setSection({ ...section, share: Math.min(1, Math.max(0, section.share + by)) }));
  const turnSection = () =>
    section && dispatch(setSection({ ...section, axis: ((section.axis + 1) % 3) as 0 | 1 | 2 }));
  useKeys({
    ' ': () => dispatch(look('fit')),
    v: () => dispatch(look(nextView)),
    s: () => dispatch(toggleSection()),
    a: turnSection,
    h: () => dispatch(toggleCompanion()),
    b: () => atPrinter && dispatch(toggleLaid()),
    x: () => parts && dispatch(setExplode(explode > 0 ? 0 : 0.6)),
    ArrowLeft: () => slide(-0.02),
    ArrowRight: () => slide(0.02),
    'Shift+ArrowLeft': () => slide(-0.002),
    'Shift+ArrowRight': () => slide(0.002),
  });
  return (
    <div className="benchTools" role="toolbar" aria-label="Bench">
      <button type="button" className="tool" onClick={() => dispatch(look('fit'))}>
        All <span className="key">space</span>
      </button>
      <button type="button" className="tool" onClick={() => dispatch(look(nextView))}>
        View <span className="key">V</span>
      </button>
      <button
        type="button"
        className={`tool${section ? ' on' : ''}`}
        aria-pressed={section !== null}
        onClick={() => dispatch(toggleSection())}
        data-testid="section"
      >
        Section <span className="key">S</span>
      </button>
      {section && (
        <span className="tool wide">
          <button
            type="button"
            className="plain figure"
            aria-label={`Section along ${axisNames[section.axis]}, turn`}
            onClick={turnSection}
          >
            {axisNames[section.axis]}
          </button>
          <input
            type="range"
            min={0}
            max={1}
            step={0.001}
            value={section.share}
            aria-label="Place of the section"
            onChange={(e) => dispatch(setSection({ ...section, share: Number(e.target.value) }))}
          />
        </span>
      )}
      <button
        type="button"
        className={`tool${companion ? ' on' : ''}`}
        aria-pressed={companion}
        onClick={() => dispatch(toggleCompanion())}
      >
        Beside <span className="key">H</span>
      </button>
      {atPrinter && (
        <button
          type="button"
          className={`tool${laid ? ' on' : ''}`}
          aria-pressed={laid}
          onClick={() => dispatch(toggleLaid())}
          data-testid="laid"
        >
          On the bed <span className="key">B</span>
        </button>
      )}
      {parts && !(atPrinter && laid) && (
        <span className="tool wide">
          <label htmlFor="explode">Apart</label>
          <input
            id="explode"
            type="range"
            min={0}
            max={1}
            step={0.01}
            value={explode}
            onChange={(e) => dispatch(setExplode(Number(e.target.value)))}
          />
          <span className="key">X</span>
        </span>
      )}
    </div>
  );
}

type Fetched = 'parts' | 'bed' | 'whole';
const fetchWords: Record<Fetched, string> = {
  parts: 'parts, as assembled',
  bed: 'parts, as they lie',
  whole: 'the whole',
};
const fetchQuery: Record<Fetched, string> = { parts: '', bed: '&pose=bed', whole: '&what=whole' };

/** The mesh, or all parts, as files. */
export function FetchFiles({ body }: { body: BodyView }) {
  const [picked, setWhat] = useState<Fetched>('parts');
  const choices: Fetched[] = body.parts.length > 0 ? ['parts', 'bed', 'whole'] : ['whole'];
  const what = choices.includes(picked) ? picked : choices[0];
  return (
    <div className="fetchFiles">
      Fetch
      {choices.length > 1 && (
        <select aria-label="What to fetch" value={what} onChange={(e) => setWhat(e.target.value as Fetched)}>
          {choices.map((c) => (
            <option key={c} value={c}>
              {fetchWords[c]}
            </option>
          ))}
        </select>
      )}
      {choices.length === 1 && ' mesh'}
      {(['3mf', 'stl', 'obj', 'ply'] as const).map((f) => (
        <a
          key={f}
          className="plain accent figure"
          href={`/api/bodies/${body.id}/export?format=${f}${fetchQuery[what]}`}
          download
        >
          {f}
        </a>
      ))}
    </div>
  );
}
