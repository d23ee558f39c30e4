import { AboutPiece } from './AboutDialog.tsx';

/** Fetched when it is first opened. */
export default AboutPiece;
