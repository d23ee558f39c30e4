import Button from '@mui/material/Button';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';

export interface StudyProps {
  body: BodyView;
  printers: PrinterView[];
  onClose: () => void;
}

/** The way back from a look to the size. */
export const BackToSize = ({ onClose }: { onClose: () => void }) => (
  <Button variant="text" onClick={onClose}>
    Back to the size
  </Button>
);
