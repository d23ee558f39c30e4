import { styled } from '@mui/material/styles';

/** A job, or a batch of them, in a list: what stands at the ends of its head and its foot, and what lies between. */
export const JobFrame = styled('div')({
  padding: '9px 0',
  borderBottom: '1px solid var(--line2)',
  display: 'grid',
  gap: 5,
});
export const JobHead = styled('div')({ display: 'flex', justifyContent: 'space-between', gap: 10 });
export const JobFoot = styled(JobHead)({ fontSize: 12 });
