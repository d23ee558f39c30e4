import { firstLoad, mostKb } from '../scripts/firstLoad.mjs';
import { say } from './common.ts';

const { initialKb, onDemandKb } = firstLoad('packages/web/dist');
say(
  `initial JavaScript ${initialKb.toFixed(0)} kB gzipped, ${(initialKb / mostKb).toFixed(2)} of ${mostKb} kB; on demand ${onDemandKb.toFixed(0)} kB more`,
);
