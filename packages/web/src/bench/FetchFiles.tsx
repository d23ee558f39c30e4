import Button from '@mui/material/Button';
import NativeSelect from '@mui/material/NativeSelect';
import { useState } from 'react';
import type { QueryOf } from '@jasmorphe/contracts/routes';
import type { BodyView } from '@jasmorphe/contracts/views';
import { printedApart } from '@jasmorphe/core/trade/joinKinds';
import { forbidsAltered, termsOf } from '@jasmorphe/core/trade/licences';
import { hrefOf } from '../app/addresses.ts';
import { useProjectQuery } from '../app/api.ts';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { lazyPart } from '../app/Boundary.tsx';
import { useAppSelector } from '../app/store.ts';
import { exportFormats } from '@jasmorphe/core/formats/exportFormats';

const AskWord = lazyPart(() => import('../ui/AskWord.tsx'));

type Fetched = 'parts' | 'one' | 'bed' | 'whole' | 'loose';
const fetchWords: Record<Fetched, string> = {
  parts: 'parts, as assembled',
  one: 'the part in hand',
  bed: 'parts, as they lie',
  whole: 'the whole',
  loose: 'dowels',
};
type Wanted = Partial<QueryOf<'GET /bodies/{id}/export'>>;
const fetchQuery: Record<Fetched, Wanted> = {
  parts: {},
  one: { pose: 'bed' },
  bed: { pose: 'bed' },
  whole: { what: 'whole' },
  loose: { what: 'loose' },
};

/** The mesh, or all parts, as files. */
export function FetchFiles({ body }: { body: BodyView }) {
  const [picked, setWhat] = useState<Fetched>('parts');
  const partId = useAppSelector((s) => s.bench.partId);
  const part = body.parts.find((p) => p.id === partId);
  const loose = lastStepOf(body.line, body.cursor, catalogue.divide)?.report.loose ?? [];
  const choices: Fetched[] =
    body.parts.length === 0
      ? ['whole']
      : [
          'parts',
          'bed',
          ...(part ? (['one'] as const) : []),
          'whole',
          ...(loose.some((l) => printedApart.includes(l.kind)) ? (['loose'] as const) : []),
        ];
  const what = choices.includes(picked) ? picked : choices[0];
  const { data: project } = useProjectQuery(body.projectId);
  const [asked, setAsked] = useState<string | null>(null);
  const terms = project ? termsOf(body, project) : body.terms;
  const kept = forbidsAltered(terms) && body.cursor > 1;
  return (
    <div className="fetchFiles">
      {choices.length === 1 ? 'Fetch mesh' : 'Fetch'}
      {choices.length > 1 && (
        <NativeSelect
          value={what}
          inputProps={{ 'aria-label': 'What to fetch' }}
          sx={{ fontSize: 12 }}
          onChange={(e) => setWhat(e.target.value as Fetched)}
        >
          {choices.map((c) => (
            <option key={c} value={c}>
              {fetchWords[c]}
            </option>
          ))}
        </NativeSelect>
      )}
      {exportFormats
        .filter((f) => what !== 'loose' || f === '3mf')
        .map((f) => {
          const wanted: Wanted = { format: f, ...fetchQuery[what], ...(what === 'one' && part && { only: part.tag }) };
          const hrefFor = (more?: Wanted) => hrefOf('GET /bodies/{id}/export', { id: body.id }, { ...wanted, ...more });
          return kept ? (
            <Button key={f} variant="text" className="figure" onClick={() => setAsked(hrefFor({ word: 'yes' }))}>
              {f}
            </Button>
          ) : (
            <Button key={f} variant="text" component="a" className="figure" href={hrefFor()} download>
              {f}
            </Button>
          );
        })}
      {asked !== null && <AskWord href={asked} of={body.name} onClose={() => setAsked(null)} />}
    </div>
  );
}
