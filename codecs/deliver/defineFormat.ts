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
  /** Longest side that a file may have. */
  readonly mostSide?: number;
  /** Most pixels that its encoder has memory for (measured with the library as it is). */
  readonly mostPixels?: (settings: Settings) => number;
  /** Share of its time that reading rows takes, where it looks at all of them before it writes; all of it, if it is not told. */
  readonly readsShare?: number;
  /** Its encoder comes with the part of the library that takes time to start. */
  readonly isLate?: boolean;
  /** Its encoder jumps about in what it has written. */
  readonly jumps?: boolean;
  /** Its colours are those of sRGB: it cannot say others. */
  readonly onlySrgb?: boolean;
  /** The library's writer, by the name that it has in both of its forms. */
  readonly saver: 'tiffsave' | 'pngsave' | 'jpegsave' | 'webpsave' | 'heifsave' | 'jxlsave' | 'radsave';
  /** What the writer is told.
   * @param profile - Path of the picture's profile in the library's file system. */
  readonly options: (settings: Settings, profile: string) => Record<string, string | number | boolean>;
}

/** Describes a kind of file; what is set of it is checked by its own schema. */
export function defineFormat<Shape extends z.ZodRawShape>(
  definition: Omit<FormatDefinition<z.infer<z.ZodObject<Shape>>>, 'settings'> & { settings: z.ZodObject<Shape> },
): FormatDefinition<z.infer<z.ZodObject<Shape>>> {
  return definition as unknown as FormatDefinition<z.infer<z.ZodObject<Shape>>>;
}
