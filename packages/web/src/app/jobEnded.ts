import { createAction } from '@reduxjs/toolkit';
import type { JobView } from '@jasmorphe/contracts/views';

/** The server said that a job has ended, one way or another. */
export const jobEnded = createAction<JobView>('job/ended');
