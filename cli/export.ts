import { basename, extname } from 'node:path';
import { parseArgs } from 'node:util';
import { type Preset, presetWith } from '#codecs/deliver/preset.ts';
import { deliverScene, type Told } from './deliveries.ts';
import { CommandError, EXIT } from './exit.ts';
import { filePlace, folderPlace } from './folderPlace.ts';
import { formatOfEnding, presetCalled, presetOfFormat, textsOf, withWishes } from './presets.ts';

const COMMON = {
  originals: { type: 'string' },
  texts: { type: 'string' },
  json: { type: 'boolean', default: false },
} as const;
const WISHES = {
  space: { type: 'string' },
  size: { type: 'string' },
  quality: { type: 'string' },
  bits: { type: 'string' },
} as const;

/** Parses what follows a command.
 * @throws {CommandError} for what it does not know. */
function parsed<T extends Parameters<typeof parseArgs>[0] & object>(config: T) {
  try {
    return parseArgs(config);
  } catch (error) {
    throw new CommandError((error as Error).message.split('\n')[0], EXIT.usage);
  }
}

/** Exports scenes by presets to a folder.
 * @throws {Error} with a message for the user. */
export async function exportScenes(args: string[]): Promise<void> {
  const { values, positionals } = parsed({
    args,
    allowPositionals: true,
    options: { ...COMMON, ...WISHES, preset: { type: 'string', multiple: true }, out: { type: 'string' } },
  });
  if (positionals.length === 0 || !values.out)
    throw new CommandError('export needs scene files and --out FOLDER', EXIT.usage);
  const presets = (values.preset ?? ['print']).map((name) => withWishes(presetCalled(name), values));
  await deliverAll(positionals, presets, values, folderPlace(values.out));
}

/** Writes a scene's layers to one file.
 * @throws {Error} with a message for the user. */
export async function layers(args: string[]): Promise<void> {
  const { values, positionals } = parsed({
    args,
    allowPositionals: true,
    options: { ...COMMON, ora: { type: 'string' }, tiff: { type: 'string' } },
  });
  const out = values.ora ?? values.tiff;
  if (positionals.length !== 1 || !out)
    throw new CommandError('layers needs a scene file and --ora FILE or --tiff FILE', EXIT.usage);
  const preset = presetWith({ id: 'layers', name: 'Layers', what: 'layers', layersAs: values.ora ? 'ora' : 'tiff' });
  await deliverAll(positionals, [preset], values, filePlace(out));
}

/** Writes the masks of scenes, a grey picture each.
 * @throws {Error} with a message for the user. */
export async function masks(args: string[]): Promise<void> {
  const { values, positionals } = parsed({
    args,
    allowPositionals: true,
    options: {
      ...COMMON,
      out: { type: 'string' },
      format: { type: 'string', default: 'png' },
      of: { type: 'string', multiple: true },
    },
  });
  if (positionals.length === 0 || !values.out)
    throw new CommandError('masks needs scene files and --out FOLDER', EXIT.usage);
  if (values.format !== 'png' && values.format !== 'tiff')
    throw new CommandError('--format of masks is png or tiff', EXIT.usage);
  const preset = presetOfFormat(values.format, {
    id: 'masks',
    name: 'Masks',
    what: 'masks',
    pattern: '{scene} {item}',
  });
  await deliverAll(positionals, [preset], values, folderPlace(values.out), values.of);
}

/** Writes the frames of scenes as they are placed.
 * @throws {Error} with a message for the user. */
export async function frames(args: string[]): Promise<void> {
  const { values, positionals } = parsed({
    args,
    allowPositionals: true,
    options: {
      ...COMMON,
      ...WISHES,
      out: { type: 'string' },
      format: { type: 'string', default: 'tiff' },
      taken: { type: 'boolean', default: false },
    },
  });
  if (positionals.length === 0 || !values.out)
    throw new CommandError('frames needs scene files and --out FOLDER', EXIT.usage);
  const change = { id: 'frames', name: 'Frames', what: 'frames', space: 'scene', pattern: '{scene} {item}' } as const;
  const preset = presetOfFormat(values.format, { ...change, frames: values.taken ? 'taken' : 'developed' });
  await deliverAll(positionals, [withWishes(preset, values)], values, folderPlace(values.out));
}

/** Renders a scene to one picture file, whose ending says the format.
 * @throws {Error} with a message for the user. */
export async function render(args: string[]): Promise<void> {
  const { values, positionals } = parsed({
    args,
    allowPositionals: true,
    options: { ...COMMON, ...WISHES, out: { type: 'string' } },
  });
  const format = formatOfEnding(
    extname(values.out ?? '')
      .slice(1)
      .toLowerCase(),
  );
  if (positionals.length !== 1 || !values.out || !format)
    throw new CommandError('render needs a scene file and --out with the ending of a format', EXIT.usage);
  const preset = withWishes(
    presetOfFormat(format, { id: 'render', name: basename(values.out), space: 'scene' }),
    values,
  );
  await deliverAll(positionals, [preset], values, filePlace(values.out));
}

async function deliverAll(
  paths: readonly string[],
  presets: readonly Preset[],
  { originals, texts, json }: { originals?: string; texts?: string; json?: boolean },
  place: ReturnType<typeof folderPlace>,
  only?: readonly string[],
): Promise<void> {
  const told: Told[] = [];
  const written = textsOf(texts);
  for (const path of paths) told.push(await deliverScene({ path, presets, texts: written, place, originals, only }));
  if (json) console.log(JSON.stringify(told, null, 2));
  else for (const line of told.flatMap(linesOf)) console.log(line);
  if (told.some(({ failures }) => failures.length > 0)) process.exitCode = EXIT.failed;
}

const linesOf = ({ files }: Told): string[] =>
  files.flatMap(({ name, bytes, width, height, notes }) => [
    `${name}  ${width} x ${height}  ${(bytes / 1e6).toFixed(1)} MB`,
    ...notes.map((note) => `  ${note}`),
  ]);
