import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import {
  type FileSettings,
  FORMAT_NAMES,
  type FormatName,
  formatOf,
  restOf,
  FileSettings as Settings,
} from '#codecs/deliver/formats/list.ts';
import type { OutputSize } from '#codecs/deliver/outputSize.ts';
import { FIRST_PRESETS, faultOf, type Preset, presetWith, readPreset } from '#codecs/deliver/preset.ts';
import { NO_TEXTS, Texts } from '#codecs/deliver/texts.ts';
import { readIccProfile } from '#core/color/iccProfile.ts';
import { OUTPUT_SPACES, type OutputSpace } from '#core/color/workingSpace.ts';
import { CommandError, EXIT } from './exit.ts';

/** What the command line says of presets besides their names. */
export interface PresetWishes {
  space?: string;
  size?: string;
  quality?: string;
  bits?: string;
}

const usage = (message: string): CommandError => new CommandError(message, EXIT.usage);

/** A preset by the name of one that is there from the start, or from a file that the application saved.
 * @throws {CommandError} when it is neither. */
export function presetCalled(name: string): Preset {
  const known = FIRST_PRESETS.find(({ id, name: called }) => id === name || called === name);
  if (known) return known;
  let text: string;
  try {
    text = readFileSync(name, 'utf8');
  } catch {
    throw usage(`${name} is no file, and no preset: ${FIRST_PRESETS.map(({ id }) => id).join(', ')}`);
  }
  try {
    return readPreset(JSON.parse(text));
  } catch (error) {
    throw usage(`${name} is no preset: ${faultOf(error)}`);
  }
}

/** A preset for files of one format.
 * @throws {CommandError} for one that is not known. */
export function presetOfFormat(format: string, change: Partial<Preset> = {}): Preset {
  if (!(FORMAT_NAMES as readonly string[]).includes(format))
    throw usage(`there is no format ${format}; there are ${FORMAT_NAMES.join(', ')}`);
  return presetWith({ file: restOf(format as FormatName), ...change });
}

/** The format that an ending stands for; undefined for others. */
export function formatOfEnding(ending: string): FormatName | undefined {
  const plain = { tiff: 'tif', jpeg: 'jpg' }[ending] ?? ending;
  return FORMAT_NAMES.find((name) => formatOf(name).ending === plain);
}

/** A preset as the command line wants it otherwise.
 * @throws {CommandError} for what no preset can be. */
export function withWishes(preset: Preset, { space, size, quality, bits }: PresetWishes): Preset {
  return {
    ...preset,
    ...(space !== undefined ? spaceOf(space) : {}),
    ...(size !== undefined ? { size: sizeOf(size) } : {}),
    file: fileWith(preset.file, { quality, bits }),
  };
}

function spaceOf(space: string): Partial<Preset> {
  if ((OUTPUT_SPACES as readonly string[]).includes(space)) return { space: space as OutputSpace };
  let bytes: Buffer;
  try {
    bytes = readFileSync(space);
  } catch {
    throw usage(`--space is one of ${OUTPUT_SPACES.join(', ')}, or an ICC profile`);
  }
  const profile = readIccProfile(bytes);
  if (!profile || profile.kind === 'other' || profile.kind === 'grey')
    throw usage(`${space} is no profile of an RGB display or printer`);
  return { space: 'own', profile: { name: basename(space), base64: bytes.toString('base64') } };
}

/** `full`, `2048` for the long side, `12mp`, `50%`. */
function sizeOf(size: string): OutputSize {
  const found = /^(\d+(?:\.\d+)?)(mp|%|px)?$/.exec(size);
  if (size === 'full') return { by: 'full', value: 100, enlarge: false };
  if (!found || Number(found[1]) <= 0)
    throw usage('--size is full, pixels of the long side (2048), megapixels (12mp) or per cent (50%)');
  const by = { mp: 'megapixels', '%': 'percent', px: 'long' } as const;
  return { by: by[(found[2] ?? 'px') as keyof typeof by], value: Number(found[1]), enlarge: false };
}

function fileWith(file: FileSettings, wishes: { quality?: string; bits?: string }): FileSettings {
  const definition = formatOf(file.format);
  let changed = file;
  for (const [name, typed] of Object.entries(wishes)) {
    if (typed === undefined) continue;
    if (!(name in definition.rest)) continue; // a preset of several, which has no such setting
    const parsed = Settings.safeParse({ ...changed, [name]: Number(typed) });
    if (!parsed.success) throw usage(`--${name} ${typed}: ${faultOf(parsed.error)}`);
    changed = parsed.data;
  }
  return changed;
}

/** Texts from a file; none where no file is told.
 * @throws {CommandError} */
export function textsOf(path: string | undefined): Texts {
  if (path === undefined) return NO_TEXTS;
  try {
    return Texts.parse(JSON.parse(readFileSync(path, 'utf8')));
  } catch (error) {
    throw usage(`${path} holds no texts: ${faultOf(error)}`);
  }
}
