import type { MadeKind } from '../../../../trade/joinKinds.ts';
import type { JoinMethod } from '../JoinMethod.ts';
import { bolt } from './bolt.ts';
import { dovetail } from './dovetail.ts';
import { glueGroove } from './groove.ts';
import { magnet } from './magnet.ts';
import { dowel, key, pin, squareDowel } from './pins.ts';
import { tongue } from './tongue.ts';

/** How each kind of join is made. */
export const joinMethods: Record<MadeKind, JoinMethod> = {
  pin,
  dowel,
  key,
  square: squareDowel,
  tongue,
  dovetail,
  magnet,
  bolt,
  groove: glueGroove,
};
