import { z } from 'zod';

/** A file as a scene names it: by what is in it, whatever its name. */
export const FileName = z.strictObject({
  sha256: z.string().length(64),
  name: z.string(),
  bytes: z.number().int().nonnegative(),
});
export type FileName = z.infer<typeof FileName>;

/** How a file is read, where there is a choice. */
export const Reading = z.strictObject({
  /** How the colours of a raw file are filled in: carefully along edges, or quickly. */
  demosaic: z.enum(['fine', 'fast']),
  /** The space that a file without a profile is taken to be in. */
  untagged: z.enum(['srgb', 'display-p3', 'adobe-rgb', 'prophoto']),
  /** The size that a picture of another size is scaled to. */
  scaleTo: z
    .strictObject({ width: z.number().int().positive(), height: z.number().int().positive() })
    .nullable()
    .default(null),
  /** The working space that it is read into. */
  space: z.enum(['srgb', 'bt2020']).default('srgb'),
  /** What becomes of light of a raw file that only some colours of the sensor could still tell apart: it is cut off at white, or kept
   * above white, and the others are rebuilt by the library or, since that can be chosen, continued from those and the hues around. */
  highlights: z.enum(['cut', 'rebuilt', 'continued']).default('cut'),
});
export type Reading = z.infer<typeof Reading>;

/** Formats whose files a camera wrote without developing them. */
export const isRawFormat = (format: string): boolean => format === 'raw' || format === 'dng';

export const PLAIN_READING: Reading = {
  demosaic: 'fine',
  untagged: 'srgb',
  scaleTo: null,
  space: 'srgb',
  highlights: 'cut',
};

/** A reading of a file that nobody has looked into: `fitting` takes the narrowest space that holds its colours. */
export type ReadingWish = Omit<Reading, 'space'> & { space: Reading['space'] | 'fitting' };

export const FIRST_READING: ReadingWish = { ...PLAIN_READING, space: 'fitting', highlights: 'continued' };

/** A reading as a text, different for each way in which a file may be read. */
export const readingText = ({ demosaic, untagged, scaleTo, space, highlights }: Reading): string =>
  [
    demosaic,
    untagged,
    scaleTo ? `${scaleTo.width}x${scaleTo.height}` : '',
    space,
    // Files read before it could be chosen keep their text.
    ...(highlights === 'cut' ? [] : [highlights]),
  ].join(':');
