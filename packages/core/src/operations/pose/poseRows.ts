import type { SchoolPose } from '../../planning/pose/posesOf.ts';
import { figures } from '../../trade/figures.ts';
import {
  areaBrief,
  fixed,
  lengthBrief,
  massText,
  secondsText,
  volumeBrief,
  whole,
  type Speaker,
} from '../../words/numbers.ts';

/** One figure of a pose, as cards and the command line list it. */
export interface PoseRow {
  label: string;
  method?: string;
  of: (pose: SchoolPose, say: Speaker) => string;
  brief?: (pose: SchoolPose, say: Speaker) => string;
  bad?: (pose: SchoolPose) => boolean;
  when?: (pose: SchoolPose, kind: 'filament' | 'resin') => boolean;
}

export const upText = ({ up }: SchoolPose): string => [up.x, up.y, up.z].map((c) => fixed(c, 3)).join(', ');

const tipText = (deg: number): string => (deg < 0 ? 'by itself' : `${fixed(deg, 0)}°`);

/** What a pose comes to, a row a figure. */
export const poseRows: readonly PoseRow[] = [
  {
    label: 'Fits the bed',
    of: (p) => (p.fits ? 'yes' : 'no'),
    bad: (p) => !p.fits,
    when: (p) => !p.fits,
  },
  {
    label: 'Height',
    of: (p, { length }) => length(p.heightMm),
    brief: (p, { length }) => lengthBrief(p.heightMm, length),
  },
  {
    label: 'Foot',
    of: (p, { area }) => area(p.footMm2),
    brief: (p, say) => areaBrief(p.footMm2, say),
    method: 'what the first layer lays on the bed',
  },
  {
    label: 'Tips over at',
    of: (p) => tipText(p.tipDeg),
    bad: (p) => p.tipDeg < figures.tipDeg.value,
    method:
      'how far it may lean on its foot, from the middle of its flesh to the side of that; its support not counted',
  },
  {
    label: 'with support',
    of: (p) => tipText(p.heldDeg),
    bad: (p) => p.heldDeg < figures.tipDeg.value,
    method: 'the same with the support that stands on the bed, for as long as that holds',
    when: (p) => Math.abs(p.heldDeg - p.tipDeg) > 0.5,
  },
  {
    label: 'Support',
    of: (p, { volume }) => volume(p.supportMm3),
    brief: (p, say) => volumeBrief(p.supportMm3, say),
    method:
      'room under overhangs, down to the bed or to the part; along lines at most a three-hundredth of its length apart',
  },
  {
    label: 'on the part',
    of: (p, { volume }) => volume(p.toPartMm3),
    brief: (p, say) => volumeBrief(p.toPartMm3, say),
    method: 'of that, what stands on the part itself and leaves marks at both ends',
    when: (p) => p.toPartMm3 > 0,
  },
  {
    label: 'shut inside',
    of: (p, { volume }) => volume(p.insideMm3),
    method: 'in cavities without a way out: it stays there, and is not counted',
    when: (p) => p.insideMm3 > 0,
  },
  {
    label: 'Bridged',
    of: (p, { area }) => area(p.bridgedMm2),
    brief: (p, say) => areaBrief(p.bridgedMm2, say),
    method: `overhang that spans up to ${figures.bridgeMm.value} mm between two sides: it needs nothing`,
    when: (p) => p.bridgedMm2 > 0,
  },
  {
    label: 'Kept bare',
    of: (p, { area }) => area(p.bareMm2),
    method: 'overhang in boxes in which nothing may stand',
    when: (p) => p.bareMm2 > 0,
  },
  {
    label: 'Skin marked',
    of: (p, { area }) => area(p.scarMm2),
    brief: (p, say) => areaBrief(p.scarMm2, say),
    method: 'skin that is seen, touched by support; faces that are glued do not count',
  },
  {
    label: 'Steps',
    of: (p, { fine }) => fine(p.stepMm),
    brief: (p, { fine }) => fine(p.stepMm, 2),
    method: 'mean height of the steps of the layers on skin that is seen (cusp height)',
  },
  {
    label: 'In mid-air',
    of: (p) => whole(p.islands),
    method: 'islands: areas of a layer that start with nothing under them',
  },
  {
    label: 'Largest peel',
    of: (p, { area }) => area(p.maxPeelMm2),
    brief: (p, say) => areaBrief(p.maxPeelMm2, say),
    method: 'area of the largest layer',
    when: (_, kind) => kind === 'resin',
  },
  {
    label: 'Largest jump',
    of: (p, { length, area }) => `${area(p.peelJumpMm2)} at ${length(p.peelJumpAtMm)}`,
    brief: (p, say) => areaBrief(p.peelJumpMm2, say),
    method: 'by how much a layer is larger than the one below it',
    when: (_, kind) => kind === 'resin',
  },
  {
    label: 'Cups',
    of: (p, { volume }) =>
      p.cups.length === 0
        ? 'none'
        : `${whole(p.cups.length)}, ${volume(
            p.cups.reduce((a, c) => a + c.volumeMm3, 0),
            true,
          )}`,
    method: 'hollows shut off against the film while they are laid: they pull at it, and hold resin',
    brief: (p) => (p.cups.length === 0 ? 'none' : whole(p.cups.length)),
    bad: (p) => p.cups.length > 0,
    when: (_, kind) => kind === 'resin',
  },
  {
    label: 'Print',
    of: (p) => secondsText(p.durationS),
    method: 'from its layers, with support',
  },
  { label: 'Material', of: (p) => massText(p.materialG), method: 'with support' },
  {
    label: 'Your hands',
    of: (p) => secondsText(p.handS),
    method: `support off and sanded at ${figures.handSPerCm2.value} s a cm², steps at ${figures.stepSandSPerCm2.value} s a cm² for each 0.1 mm: our own judgement`,
  },
];
