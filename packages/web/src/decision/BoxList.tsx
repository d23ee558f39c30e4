import IconButton from '@mui/material/IconButton';
import type { CleanBox } from '@jasmorphe/core/planning/cuts/CleanBox';
import { acrossOf, grown } from '../bench/boxes.ts';
import { LengthField } from '../forms/Fields.tsx';
import { CloseIcon } from '../ui/icons.tsx';
import { Row, Rows } from '../ui/Rows.ts';

/** Places that were picked on the bench, each to be made larger or let go. */
export function BoxList({
  boxes,
  words,
  onChange,
}: {
  boxes: readonly CleanBox[];
  /** what the list is called, each of it with its number, what for, and how one is let go */
  words: { list: string; one: string; hint: string; drop: string };
  onChange: (boxes: CleanBox[]) => void;
}) {
  if (boxes.length === 0) return null;
  return (
    <Rows aria-label={words.list}>
      {boxes.map((box, i) => (
        <Row key={i} sx={{ border: 0 }}>
          <LengthField
            label={`${words.one}, ${i + 1}`}
            hint={words.hint}
            mm={acrossOf(box)}
            above0
            onChange={(mm) => mm !== null && onChange(boxes.map((b, k) => (k === i ? grown(b, mm) : b)))}
          />
          <IconButton
            size="small"
            aria-label={`${words.drop} ${i + 1}`}
            onClick={() => onChange(boxes.filter((_, k) => k !== i))}
          >
            <CloseIcon fontSize="inherit" />
          </IconButton>
        </Row>
      ))}
    </Rows>
  );
}
