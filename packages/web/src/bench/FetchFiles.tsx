import Button from '@mui/material/Button';
import NativeSelect from '@mui/material/NativeSelect';
import { useState } from 'react';
import type { BodyView } from '@jasmorphe/contracts/views';
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
      {exportFormats.map((f) => (
        <Button
          key={f}
          variant="text"
          component="a"
          className="figure"
          href={`/api/bodies/${body.id}/export?format=${f}${fetchQuery[what]}`}
          download
        >
          {f}
        </Button>
      ))}
    </div>
  );
}
