import Box from '@mui/material/Box';
import OutlinedInput from '@mui/material/OutlinedInput';
import { useId } from 'react';

/** Words, with what they are above them. */
export function WordsField({
  label,
  value,
  onChange,
  maxLength,
  rows,
  placeholder,
  invalid = false,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  maxLength: number;
  /** lines, where there may be several */
  rows?: number;
  placeholder?: string;
  invalid?: boolean;
}) {
  const id = useId();
  return (
    <Box sx={{ display: 'grid', gap: '3px', fontSize: 12 }}>
      <label htmlFor={id} className="quiet">
        {label}
      </label>
      <OutlinedInput
        id={id}
        fullWidth
        value={value}
        placeholder={placeholder}
        multiline={rows !== undefined}
        minRows={rows}
        maxRows={rows === undefined ? undefined : 2 * rows}
        error={invalid}
        inputProps={{ maxLength }}
        sx={rows === undefined ? {} : { height: 'auto', padding: '6px' }}
        onChange={(e) => onChange(e.target.value)}
      />
    </Box>
  );
}
