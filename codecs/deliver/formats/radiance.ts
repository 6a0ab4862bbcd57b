import { z } from 'zod';
import { defineFormat } from '../defineFormat.ts';

/** Radiance pictures (G. Ward, "Real Pixels", Graphics Gems II, 1991): light with a shared exponent, 1 % a step. */
export const radiance = defineFormat({
  format: 'radiance',
  ending: 'hdr',
  mediaType: 'image/vnd.radiance',
  settings: z.strictObject({}),
  rest: {},
  choices: [],
  numbers: [],
  samples: () => 'light',
  isLossy: () => true,
  onlySrgb: true,
  saver: 'radsave',
  options: () => ({}),
});
