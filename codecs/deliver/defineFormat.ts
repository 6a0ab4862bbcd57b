import type Vips from 'wasm-vips';
import type { z } from 'zod';

/** What a file holds for each channel: levels of so many bits, or light in floats. */
export type SampleKind = 8 | 10 | 12 | 16 | 'light';

/** A setting that is one of a few, as an editor shows it. */
export interface ChoiceRow {
  readonly setting: string;
  readonly values: readonly (string | number | boolean)[];
  /** It is of use only where another setting has one of these values. */
  readonly when?: { readonly setting: string; readonly is: readonly (string | number | boolean)[] };
}

/** A setting that is a whole number in a range. */
export interface NumberRow {
  readonly setting: string;
  readonly min: number;
  readonly max: number;
  readonly when?: ChoiceRow['when'];
}

/** A kind of picture file: its settings, what its editor shows, and how it is written. */
export interface FormatDefinition<Settings extends object = object> {
  readonly format: string;
  readonly ending: string;
  readonly mediaType: string;
  /** What is set, at rest, and what may be. */
  readonly settings: z.ZodObject<z.ZodRawShape>;
  readonly rest: Settings;
  readonly choices: readonly ChoiceRow[];
  readonly numbers: readonly NumberRow[];
  readonly samples: (settings: Settings) => SampleKind;
  /** Detail is lost: it is worth looking at before it is written. */
  readonly isLossy: (settings: Settings) => boolean;
  /** Longest side, and most pixels, that a file may have: by the format, or by the memory that its encoder takes. */
  readonly mostSide?: number;
  readonly mostPixels?: number;
  /** Its encoder comes with the part of the library that takes time to start. */
  readonly isLate?: boolean;
  /** Its colours are those of sRGB: it cannot say others. */
  readonly onlySrgb?: boolean;
  /** Writes a picture whose samples are what `samples` says.
   * @param profile - Path of its profile in the library's file system.
   * @returns The file, in the library's own memory. */
  readonly save: (image: Vips.Image, settings: Settings, profile: string) => Uint8Array;
}

/** Describes a kind of file; what is set of it is checked by its own schema. */
export function defineFormat<Shape extends z.ZodRawShape>(
  definition: Omit<FormatDefinition<z.infer<z.ZodObject<Shape>>>, 'settings'> & { settings: z.ZodObject<Shape> },
): FormatDefinition<z.infer<z.ZodObject<Shape>>> {
  return definition as unknown as FormatDefinition<z.infer<z.ZodObject<Shape>>>;
}
