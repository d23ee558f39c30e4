import { AboutProject } from './AboutDialog.tsx';

/** Fetched when it is first opened. */
export default AboutProject;
