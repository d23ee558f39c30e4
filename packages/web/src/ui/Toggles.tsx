import { styled } from '@mui/material/styles';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { Tip } from './Tip.tsx';

export interface ToggleChoice<T extends string> {
  value: T;
  text: string;
  says?: string;
}

interface TogglesProps<T extends string> {
  /** what is chosen by them, for those who do not see the row */
  label: string;
  /** the same, written before them */
  head?: string;
  choices: readonly ToggleChoice<T>[];
  /** those that are on */
  on: readonly T[];
  onToggle: (value: T, on: boolean) => void;
}

const Line = styled('div')({
  display: 'flex',
  flexWrap: 'wrap',
  alignItems: 'baseline',
  gap: '4px 10px',
  '& > .label': { marginRight: 'auto' },
  '@media (max-width: 900px)': { '& button': { minHeight: 36, minWidth: 28 } },
});

/** Switches in a row, each on or off by itself; who uses them sees to it if only one may be on. */
export function Toggles<T extends string>({ label, head, choices, on, onToggle }: TogglesProps<T>) {
  return (
    <Line role="group" aria-label={label}>
      {head && <span className="label quiet">{head}</span>}
      <ToggleButtonGroup value={on} size="small">
        {choices.map(({ value, text, says }) => (
          <Tip key={value} says={says}>
            <ToggleButton
              value={value}
              selected={on.includes(value)}
              onChange={() => onToggle(value, !on.includes(value))}
            >
              {text}
            </ToggleButton>
          </Tip>
        ))}
      </ToggleButtonGroup>
    </Line>
  );
}
