import Button from '@mui/material/Button';
import NativeSelect from '@mui/material/NativeSelect';
import { useState } from 'react';
import type { BodyView } from '@jasmorphe/contracts/views';
import { forbidsAltered, termsOf } from '@jasmorphe/core/trade/licences';
import { useProjectQuery } from '../app/api.ts';
import { AskWord } from '../ui/AskWord.tsx';
import { exportFormats } from '@jasmorphe/core/formats/exportFormats';

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
      {exportFormats.map((f) => {
        const href = `/api/bodies/${body.id}/export?format=${f}${fetchQuery[what]}`;
        return kept ? (
          <Button key={f} variant="text" className="figure" onClick={() => setAsked(`${href}&word=yes`)}>
            {f}
          </Button>
        ) : (
          <Button key={f} variant="text" component="a" className="figure" href={href} download>
            {f}
          </Button>
        );
      })}
      {asked !== null && <AskWord href={asked} of={body.name} onClose={() => setAsked(null)} />}
    </div>
  );
}
