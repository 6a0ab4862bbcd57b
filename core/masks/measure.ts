import { z } from 'zod';

/** What is read of a pixel: luminance (of the encoded values), lightness L*, its brightest channel, one channel, or its chroma in
 * Oklab. */
export const Measure = z.enum(['luminance', 'lightness', 'brightest', 'red', 'green', 'blue', 'chroma']);
export type Measure = z.infer<typeof Measure>;
