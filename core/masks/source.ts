import { z } from 'zod';
import { FrameId } from '../ids.ts';

/** Where a mask looks: the base, the layer's own frame, the picture below the layer, the finished picture but for the layer,
 * or any frame as it is placed, `frame:` and its id. Frames are read as they were taken, so that developing them moves no mask, or as
 * developed, `developed:` and what is read. */
export const Source = z.union([
  z.enum(['base', 'layer', 'below', 'result', 'developed:base', 'developed:layer']),
  z.templateLiteral(['frame:', z.string().min(1)]),
  z.templateLiteral(['developed:frame:', z.string().min(1)]),
]);
export type Source = z.infer<typeof Source>;

const DEVELOPED = 'developed:';

/** Whether a source is read as it is developed. */
export const isDeveloped = (source: Source): boolean => source.startsWith(DEVELOPED);

/** The same source as it was taken. */
export const asTaken = (source: Source): Source =>
  isDeveloped(source) ? (source.slice(DEVELOPED.length) as Source) : source;

/** Whether a source is a frame, which can be read either way; pictures of the blend are always made of developed frames. */
export const mayBeDeveloped = (source: Source): boolean => !['below', 'result'].includes(source);

/** The same source as it is developed. */
export const asDeveloped = (source: Source): Source =>
  mayBeDeveloped(source) && !isDeveloped(source) ? (`${DEVELOPED}${source}` as Source) : source;

/** The frame that a source names, or undefined for the others. */
export function frameOfSource(source: Source): FrameId | undefined {
  const taken = asTaken(source);
  return taken.startsWith('frame:') ? FrameId.parse(taken.slice(6)) : undefined;
}
