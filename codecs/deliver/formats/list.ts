import { z } from 'zod';
import type { FormatDefinition } from '../defineFormat.ts';
import { avif } from './avif.ts';
import { jpeg } from './jpeg.ts';
import { jxl } from './jxl.ts';
import { png } from './png.ts';
import { radiance } from './radiance.ts';
import { tiff } from './tiff.ts';
import { webp } from './webp.ts';

const FORMATS = { tiff, png, jpeg, webp, avif, jxl, radiance } as const;

export type FormatName = keyof typeof FORMATS;
export const FORMAT_NAMES = Object.keys(FORMATS) as FormatName[];

/** A kind of file with what is set of it. */
export const FileSettings = z.discriminatedUnion('format', [
  tiff.settings.extend({ format: z.literal('tiff') }),
  png.settings.extend({ format: z.literal('png') }),
  jpeg.settings.extend({ format: z.literal('jpeg') }),
  webp.settings.extend({ format: z.literal('webp') }),
  avif.settings.extend({ format: z.literal('avif') }),
  jxl.settings.extend({ format: z.literal('jxl') }),
  radiance.settings.extend({ format: z.literal('radiance') }),
]) as unknown as z.ZodType<FileSettings>;
export type FileSettings = { format: FormatName } & Readonly<Record<string, string | number | boolean>>;

export const formatOf = (name: FormatName): FormatDefinition => FORMATS[name] as unknown as FormatDefinition;

/** A kind of file as it is before anything is set. */
export const restOf = (format: FormatName): FileSettings => ({ ...formatOf(format).rest, format });
