import { z } from 'zod';
import { defineFormat } from '../defineFormat.ts';

/** TIFF 6.0 (Adobe 1992); floats by its section 19, deflate by the technical note of 2002. */
export const tiff = defineFormat({
  format: 'tiff',
  ending: 'tif',
  mediaType: 'image/tiff',
  settings: z.strictObject({
    bits: z.union([z.literal(8), z.literal(16), z.literal(32)]).default(16),
    compression: z.enum(['deflate', 'lzw', 'none']).default('deflate'),
    layout: z.enum(['strips', 'tiles']).default('strips'),
  }),
  rest: { bits: 16, compression: 'deflate', layout: 'strips' },
  choices: [
    { setting: 'bits', values: [8, 16, 32] },
    { setting: 'compression', values: ['deflate', 'lzw', 'none'] },
    { setting: 'layout', values: ['strips', 'tiles'] },
  ],
  numbers: [],
  samples: ({ bits }) => (bits === 32 ? 'light' : bits),
  isLossy: () => false,
  saver: 'tiffsave',
  options: ({ bits, compression, layout }, profile) => ({
    compression,
    predictor: compression === 'none' ? 'none' : bits === 32 ? 'float' : 'horizontal',
    ...(layout === 'tiles' ? { tile: true, tile_width: 256, tile_height: 256 } : {}),
    // A third quicker than the usual level, for less than a hundredth of the size.
    ...(compression === 'deflate' ? { level: 4 } : {}),
    profile,
  }),
});
