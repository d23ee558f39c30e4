import Alert, { type AlertProps } from '@mui/material/Alert';

type Tone = 'attention' | 'advice' | 'failure';

const severities = { attention: 'warning', advice: 'success', failure: 'error' } as const;

/** Something to be read in its place: advice, a caution, or what went wrong. */
export function Note({ tone = 'attention', role = 'note', ...props }: { tone?: Tone } & Omit<AlertProps, 'severity'>) {
  return <Alert severity={severities[tone]} icon={false} role={role} {...props} />;
}
