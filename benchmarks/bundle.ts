import { firstLoad, mostKb } from '../scripts/firstLoad.mjs';
import { say } from './common.ts';

const { initialKb, projectKb, onDemandKb } = firstLoad('packages/web/dist');
say(
  `JavaScript of the shelf ${initialKb.toFixed(0)} kB gzipped, of a project ${projectKb.toFixed(0)} kB, ${(projectKb / mostKb).toFixed(2)} of ${mostKb} kB; on demand ${onDemandKb.toFixed(0)} kB more`,
);
