import { z } from 'zod';
import { defineFormat } from '../defineFormat.ts';

/** JPEG XL (ISO/IEC 18181-1:2024). */
export const jxl = defineFormat({
  format: 'jxl',
  ending: 'jxl',
  mediaType: 'image/jxl',
  settings: z.strictObject({
    bits: z.union([z.literal(8), z.literal(16)]).default(16),
    lossless: z.boolean().default(false),
    quality: z.number().int().min(1).max(100).default(90),
  }),
  rest: { bits: 16, lossless: false, quality: 90 },
  choices: [
    { setting: 'bits', values: [8, 16] },
    { setting: 'lossless', values: [false, true] },
  ],
  numbers: [{ setting: 'quality', min: 1, max: 100, when: { setting: 'lossless', is: [false] } }],
  samples: ({ bits }) => bits,
  isLossy: ({ lossless }) => !lossless,
  isLate: true,
  readsShare: 0.4,
  jumps: true,
  saver: 'jxlsave',
  options: ({ lossless, quality }, profile) => ({ ...(lossless ? { lossless } : { Q: quality }), effort: 3, profile }),
});
