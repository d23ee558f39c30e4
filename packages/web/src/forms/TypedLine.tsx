import FormControl from '@mui/material/FormControl';
import FormHelperText from '@mui/material/FormHelperText';
import FormLabel from '@mui/material/FormLabel';
import Input from '@mui/material/Input';
import { useEffect, useId, useRef, useState } from 'react';
import { Tip } from '../ui/Tip.tsx';
import { useFieldState } from './hold.ts';

/** What every field of a card has. */
export interface LineProps {
  label: string;
  /** what it is for, or why the figure is a usual one */
  hint?: string;
  /** stands in a table that says what it is */
  hideLabel?: boolean;
}

interface TypedLineProps extends LineProps {
  /** the value that holds, as text */
  shown: string;
  placeholder?: string;
  /** why a text is not understood; null when it is */
  wrongOf: (text: string) => string | null;
  /** why what was understood is not taken; null when it is */
  refused?: string | null;
  /** called with texts that are understood */
  onType: (text: string) => void;
  onBegin?: () => void;
  /** words rather than a figure */
  words?: boolean;
  maxLength?: number;
}

/** A field that is typed into: what is not understood or not taken stays, is marked, and holds the button back. */
export function TypedLine({
  label,
  hint,
  hideLabel = false,
  shown,
  placeholder,
  wrongOf,
  refused = null,
  onType,
  onBegin,
  words = false,
  maxLength,
}: TypedLineProps) {
  const [text, setText] = useState(shown);
  const [editing, setEditing] = useState(false);
  const id = useId();
  const why = wrongOf(text) ?? refused;
  const understands = useRef(wrongOf);
  useEffect(() => void (understands.current = wrongOf));
  useEffect(() => {
    if (!editing) setText((old) => (understands.current(old) === null ? shown : old));
  }, [shown, editing]);
  const { submit } = useFieldState(label, why);
  return (
    <FormControl
      error={why !== null}
      variant="standard"
      sx={hideLabel ? { border: 0, minHeight: 0, justifyContent: 'flex-end' } : {}}
    >
      {!hideLabel && (
        <Tip says={hint}>
          <FormLabel htmlFor={id}>{label}</FormLabel>
        </Tip>
      )}
      <Input
        id={id}
        value={text}
        placeholder={placeholder}
        sx={{ width: hideLabel ? 92 : 150 }}
        slotProps={{
          input: {
            inputMode: words ? 'text' : 'decimal',
            maxLength,
            // the sentence below is no part of its name
            'aria-label': label,
            'aria-invalid': why !== null,
          },
        }}
        onFocus={(e) => {
          setEditing(true);
          onBegin?.();
          e.target.select();
        }}
        onBlur={() => setEditing(false)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return;
          e.preventDefault();
          if (why === null) submit();
        }}
        onChange={(e) => {
          setText(e.target.value);
          if (wrongOf(e.target.value) === null) onType(e.target.value);
        }}
      />
      {why !== null && editing && <FormHelperText role="alert">{why}</FormHelperText>}
    </FormControl>
  );
}
