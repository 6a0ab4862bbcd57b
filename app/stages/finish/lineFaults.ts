import type { LinesFault } from '#core/finish/uprights.ts';

/** Why lines that were drawn turn nothing, and what to do. */
export const LINE_FAULTS: Record<LinesFault, string> = {
  cross: 'Two of the lines cross: they cannot both be upright, or level. Forget them and draw anew.',
  short: 'A line is too short to tell a direction. Draw it along something longer.',
  'too-much':
    'These lines ask for more than a picture can be tilted. Draw them along things that are nearly upright, or level.',
};
