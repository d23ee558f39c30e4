import Tooltip from '@mui/material/Tooltip';
import type { ReactElement } from 'react';

/** Says how a figure was got, or what a thing is for, on hover and focus; nothing where there is nothing to say. */
export const Tip = ({ says, children }: { says?: string; children: ReactElement }) =>
  says ? (
    <Tooltip title={says} describeChild enterDelay={400} placement="top-start">
      {children}
    </Tooltip>
  ) : (
    children
  );
