import { z } from 'zod';
import { FileName, PLAIN_READING } from '../reading.ts';
import { FrameNode } from '../render/nodes/frameNode.ts';
import { measureOf } from '../render/nodes/measureNode.ts';
import { OklabNode } from '../render/nodes/oklabNode.ts';
import { definePart } from './definePart.ts';
import { partBase } from './partBase.ts';

/** A grey picture from a file, scaled to the scene. */
export const PicturePart = z.strictObject({
  kind: z.literal('picture'),
  ...partBase,
  file: FileName,
  /** The size that it was scaled to when it was read, null where it had the scene's. */
  scaleTo: z.strictObject({ width: z.number().int().positive(), height: z.number().int().positive() }).nullable(),
});
export type PicturePart = z.infer<typeof PicturePart>;

export const picture = definePart({
  schema: PicturePart,
  build: ({ file, scaleTo }, { extent }) => {
    const pixels = new FrameNode(file.sha256, { ...PLAIN_READING, scaleTo }, file.name, extent);
    return measureOf(pixels, 'luminance', 'srgb', () => new OklabNode(pixels, 'srgb'));
  },
  rows: [],
});
