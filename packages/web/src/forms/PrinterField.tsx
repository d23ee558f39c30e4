import type { PrinterView } from '@jasmorphe/contracts/views';
import { ChoiceField } from './Fields.tsx';

/** Which printer is thought of; nothing where there is no choice. */
export function PrinterField({
  printers,
  value,
  onChange,
}: {
  printers: readonly PrinterView[];
  value: string | undefined;
  onChange: (id: string) => void;
}) {
  if (printers.length < 2) return null;
  return (
    <ChoiceField
      label="Printer"
      value={value ?? printers[0].id}
      onChange={onChange}
      choices={printers.map((p) => ({ value: p.id, text: p.profile.name }))}
    />
  );
}
