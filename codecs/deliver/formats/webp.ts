import { z } from 'zod';
import { defineFormat } from '../defineFormat.ts';

/** WebP (RFC 9649). */
export const webp = defineFormat({
  format: 'webp',
  ending: 'webp',
  mediaType: 'image/webp',
  settings: z.strictObject({
    lossless: z.boolean().default(false),
    quality: z.number().int().min(1).max(100).default(85),
  }),
  rest: { lossless: false, quality: 85 },
  choices: [{ setting: 'lossless', values: [false, true] }],
  numbers: [{ setting: 'quality', min: 1, max: 100, when: { setting: 'lossless', is: [false] } }],
  samples: () => 8,
  isLossy: ({ lossless }) => !lossless,
  mostSide: 16_383,
  readsShare: 0.2,
  saver: 'webpsave',
  options: ({ lossless, quality }, profile) => ({ lossless, Q: quality, smart_subsample: true, exact: true, profile }),
});
