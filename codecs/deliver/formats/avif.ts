import { z } from 'zod';
import { defineFormat } from '../defineFormat.ts';

/** AVIF (AOMedia, version 1.1.0) in a HEIF container (ISO/IEC 23008-12). */
export const avif = defineFormat({
  format: 'avif',
  ending: 'avif',
  mediaType: 'image/avif',
  settings: z.strictObject({
    bits: z.union([z.literal(8), z.literal(10), z.literal(12)]).default(10),
    quality: z.number().int().min(1).max(100).default(70),
    chroma: z.enum(['4:4:4', '4:2:0']).default('4:4:4'),
  }),
  rest: { bits: 10, quality: 70, chroma: '4:4:4' },
  choices: [
    { setting: 'bits', values: [8, 10, 12] },
    { setting: 'chroma', values: ['4:4:4', '4:2:0'] },
  ],
  numbers: [{ setting: 'quality', min: 1, max: 100 }],
  samples: ({ bits }) => bits,
  isLossy: () => true,
  mostSide: 16_384,
  mostPixels: ({ bits }) => (bits === 8 ? 32e6 : 24e6),
  readsShare: 0.1,
  isLate: true,
  saver: 'heifsave',
  options: ({ bits, quality, chroma }, profile) => ({
    compression: 'av1',
    bitdepth: bits,
    Q: quality,
    effort: 2,
    subsample_mode: chroma === '4:4:4' ? 'off' : 'on',
    profile,
  }),
});
