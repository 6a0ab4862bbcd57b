import { NON_SEPARABLE } from './nonSeparable.ts';
import { SEPARABLE } from './separable.ts';

/** Modes by what they do, in the words of W3C Compositing and Blending Levels 1 and 2. */
export const MODE_GROUPS = {
  plain: ['normal'],
  darken: ['darken', 'multiply', 'color-burn', 'linear-burn'],
  lighten: ['lighten', 'screen', 'color-dodge', 'plus-lighter'],
  contrast: ['soft-light', 'overlay', 'hard-light', 'vivid-light', 'linear-light'],
  compare: ['difference', 'exclusion'],
  colour: ['hue', 'saturation', 'color', 'luminosity'],
} as const;
export type ModeGroup = keyof typeof MODE_GROUPS;
export type ModeName = (typeof MODE_GROUPS)[ModeGroup][number];

/** All modes; the number of one, its place here, is what kernels call it by. */
export const MODES = [
  'normal',
  'plus-lighter',
  ...(Object.keys(SEPARABLE) as (keyof typeof SEPARABLE)[]),
  ...(Object.keys(NON_SEPARABLE) as (keyof typeof NON_SEPARABLE)[]),
] as const satisfies readonly ModeName[];

export const modeNumber = (mode: ModeName): number => MODES.indexOf(mode);

/** The number of the first mode that looks at all channels at once. */
export const FIRST_NON_SEPARABLE: number = modeNumber('hue');
