import { z } from 'zod';
import { defineFormat } from '../defineFormat.ts';

/** JPEG (ITU-T T.81, 1992). */
export const jpeg = defineFormat({
  format: 'jpeg',
  ending: 'jpg',
  mediaType: 'image/jpeg',
  settings: z.strictObject({
    quality: z.number().int().min(1).max(100).default(92),
    chroma: z.enum(['4:4:4', '4:2:0']).default('4:4:4'),
    progressive: z.boolean().default(false),
  }),
  rest: { quality: 92, chroma: '4:4:4', progressive: false },
  choices: [
    { setting: 'chroma', values: ['4:4:4', '4:2:0'] },
    { setting: 'progressive', values: [false, true] },
  ],
  numbers: [{ setting: 'quality', min: 1, max: 100 }],
  samples: () => 8,
  isLossy: () => true,
  mostSide: 65_535,
  saver: 'jpegsave',
  options: ({ quality, chroma, progressive }, profile) => ({
    Q: quality,
    optimize_coding: true,
    interlace: progressive,
    subsample_mode: chroma === '4:4:4' ? 'off' : 'on',
    profile,
  }),
});
