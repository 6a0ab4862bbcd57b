import { z } from 'zod';
import { defineFormat } from '../defineFormat.ts';

/** PNG, third edition (W3C 2025). */
export const png = defineFormat({
  format: 'png',
  ending: 'png',
  mediaType: 'image/png',
  settings: z.strictObject({
    bits: z.union([z.literal(8), z.literal(16)]).default(16),
    effort: z.number().int().min(0).max(9).default(6),
  }),
  rest: { bits: 16, effort: 6 },
  choices: [{ setting: 'bits', values: [8, 16] }],
  numbers: [{ setting: 'effort', min: 0, max: 9 }],
  samples: ({ bits }) => bits,
  isLossy: () => false,
  saver: 'pngsave',
  options: ({ effort }, profile) => ({
    compression: effort,
    filter: effort > 4 ? 'all' : effort > 0 ? 'sub' : 'none',
    profile,
  }),
});
