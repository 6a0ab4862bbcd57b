import { z } from 'zod';
import { FrameId } from '../ids.ts';

/** Where a mask looks: the base, the layer's own frame, the picture below the layer, the finished picture but for the layer,
 * or any frame as it is placed, `frame:` and its id. */
export const Source = z.union([
  z.enum(['base', 'layer', 'below', 'result']),
  z.templateLiteral(['frame:', z.string().min(1)]),
]);
export type Source = z.infer<typeof Source>;

/** The frame that a source names, or undefined for the others. */
export const frameOfSource = (source: Source): FrameId | undefined =>
  source.startsWith('frame:') ? FrameId.parse(source.slice(6)) : undefined;
