import FormControl from '@mui/material/FormControl';
import FormHelperText from '@mui/material/FormHelperText';
import { useState } from 'react';
import { WordsField } from '../ui/WordsField.tsx';
import { useFieldState } from './hold.ts';

/** Several figures typed as one text. While it is not understood it stays, is marked, and holds the button back. */
export function CodedField<T>({
  label,
  value,
  written,
  read,
  example,
  maxLength,
  onChange,
}: {
  label: string;
  value: T;
  written: (value: T) => string;
  /** null when a text is not understood */
  read: (text: string) => T | null;
  example: string;
  maxLength: number;
  onChange: (value: T) => void;
}) {
  const [text, setText] = useState(() => written(value));
  const wrong = read(text) === null ? `such as ${example}` : null;
  useFieldState(label, wrong);
  return (
    <FormControl error={wrong !== null} variant="standard" sx={{ border: 0 }}>
      <WordsField
        label={label}
        value={text}
        maxLength={maxLength}
        placeholder={example}
        invalid={wrong !== null}
        onChange={(typed) => {
          setText(typed);
          const found = read(typed);
          if (found !== null) onChange(found);
        }}
      />
      {wrong !== null && <FormHelperText role="alert">{wrong}</FormHelperText>}
    </FormControl>
  );
}
