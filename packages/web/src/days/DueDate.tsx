import { AdapterDayjs } from '@mui/x-date-pickers/AdapterDayjs';
import { DatePicker } from '@mui/x-date-pickers/DatePicker';
import { LocalizationProvider } from '@mui/x-date-pickers/LocalizationProvider';
import dayjs from 'dayjs';

/** A day that may be left open. */
export function DueDate({
  label,
  value,
  onChange,
}: {
  label: string;
  /** such as 2026-12-18 */
  value: string | null;
  onChange: (day: string | null) => void;
}) {
  return (
    <LocalizationProvider dateAdapter={AdapterDayjs}>
      <DatePicker
        label={label}
        value={value === null ? null : dayjs(value)}
        format="YYYY-MM-DD"
        disablePast
        onAccept={(day, { validationError }) => {
          // one that is none, or past, is marked and changes nothing; emptied, there is none
          if (validationError === null) onChange(day === null ? null : day.format('YYYY-MM-DD'));
        }}
        slotProps={{ field: { clearable: true }, textField: { size: 'small', fullWidth: true } }}
      />
    </LocalizationProvider>
  );
}
