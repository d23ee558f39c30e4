import Slider from '@mui/material/Slider';
import { styled } from '@mui/material/styles';
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

const Line = styled('label')({
  display: 'grid',
  gridTemplateColumns: '108px 1fr 40px',
  gap: 12,
  alignItems: 'center',
  fontSize: 12,
});

/** What counts in a plan, to be drawn; a plan is made when a slider is let go. */
export function WishSliders({ value, onChange }: { value: Wishes; onChange: (value: Wishes) => void }) {
  const [drawn, setDrawn] = useState(value);
  return (
    <div role="group" aria-label="What counts">
      <span className="label">What counts</span>
      {(Object.keys(words) as (keyof Wishes)[]).map((name) => (
        <Line key={name}>
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
        </Line>
      ))}
    </div>
  );
}
