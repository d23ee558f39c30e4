import Slider from '@mui/material/Slider';
import type { Wishes } from '@jasmorphe/core/params/Wishes';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useState } from 'react';

const words: Record<keyof Wishes, string> = {
  parts: 'Few parts',
  seam: 'Clean skin',
  support: 'Little support',
  time: 'Soon printed',
  symmetry: 'In mirrored pairs',
};

/** What counts in a plan, to be drawn; a plan is made when a slider is let go. */
export function WishSliders({ value, onChange }: { value: Wishes; onChange: (value: Wishes) => void }) {
  const [drawn, setDrawn] = useState(value);
  return (
    <div className="wishes" role="group" aria-label="What counts">
      <span className="label">What counts</span>
      {(Object.keys(words) as (keyof Wishes)[]).map((name) => (
        <label key={name}>
          <span>{words[name]}</span>
          <Slider
            size="small"
            min={0}
            max={1}
            step={0.05}
            value={drawn[name] ?? 0}
            aria-label={words[name]}
            onChange={(_e, share) => setDrawn({ ...drawn, [name]: share })}
            onChangeCommitted={(_e, share) => onChange({ ...drawn, [name]: share })}
          />
          <span className="figure">{fixed(drawn[name] ?? 0, 2)}</span>
        </label>
      ))}
    </div>
  );
}
