import { existsSync, openAsBlob, writeFileSync } from 'node:fs';
import { extname } from 'node:path';
import { parseArgs } from 'node:util';
import type { OutputFormat } from '#codecs/encode.ts';
import { readSceneFile, type SceneContents, SceneFileError } from '#codecs/sceneFile.ts';
import { OUTPUT_SPACES, type OutputSpace } from '#core/color/workingSpace.ts';
import { deliveredPicture } from '#core/finish/delivered.ts';
import { filesOf, missingFiles } from '#core/scene/places.ts';
import type { Scene } from '#core/scene/scene.ts';
import { SceneError } from '#core/scene/sceneError.ts';
import type { Codec } from '../engine/codec.ts';
import { startEngine } from '../engine/node/startEngine.ts';
import { CommandError, EXIT } from './exit.ts';
import { findByContent } from './files.ts';

const FORMATS: Record<string, OutputFormat> = {
  '.tif': 'tiff',
  '.tiff': 'tiff',
  '.png': 'png',
  '.jpg': 'jpeg',
  '.jpeg': 'jpeg',
};

/** Renders a scene file to a picture file.
 * @throws {Error} with a message for the user. */
export async function render(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: {
      out: { type: 'string' },
      quality: { type: 'string', default: '92' },
      space: { type: 'string' },
      originals: { type: 'string' },
    },
  });
  const [scenePath] = positionals;
  const format = FORMATS[extname(values.out ?? '').toLowerCase()];
  const quality = Number(values.quality);
  if (!scenePath || !values.out || !format)
    throw new CommandError('render needs a scene file and --out with an ending of .tif, .png or .jpg', EXIT.usage);
  if (!Number.isInteger(quality) || quality < 1 || quality > 100)
    throw new CommandError('--quality is a whole number from 1 to 100', EXIT.usage);
  if (!isOutputSpace(values.space)) throw new CommandError(`--space is one of ${OUTPUT_SPACES.join(', ')}`, EXIT.usage);
  const contents = await open(scenePath);
  await completeOriginals(contents, values.originals);
  const delivered = deliveredPicture(contents.scene);
  if (!delivered) throw new Error('the scene has no frames');
  const { of, size, region } = delivered;
  const { engine, codec, close } = await startEngine(new URL('./', import.meta.url));
  try {
    await loadOriginals(codec, contents);
    for (const [id, points] of contents.strokes) engine.addStrokePoints(id, points);
    engine.setScene(contents.scene);
    const space = values.space ?? contents.scene.workingSpace;
    const image = await engine.render(of, size, region, space, (share) =>
      say(`rendering ${Math.round(share * 100)} %`),
    );
    if (!image) throw new Error('rendering was stopped');
    const exif = baseExif(contents.scene);
    writeFileSync(
      values.out,
      await codec.encode(image.buffer as SharedArrayBuffer, region, { format, quality, space }, exif),
    );
    say(`wrote ${values.out}`, true);
  } finally {
    close();
  }
}

async function open(path: string): Promise<SceneContents> {
  // Opening says nothing of a file that is not there; reading it later would.
  const blob = existsSync(path) ? await openAsBlob(path) : undefined;
  if (!blob) throw new CommandError(`${path} cannot be read`, EXIT.badScene);
  try {
    const contents = await readSceneFile(blob);
    for (const [code, count] of contents.repairs) console.error(`lusket: mended in the scene: ${code} (${count})`);
    return contents;
  } catch (error) {
    const known = error instanceof SceneFileError || error instanceof SceneError;
    throw known ? new CommandError(`${path} cannot be opened: ${error.message}`, EXIT.badScene) : error;
  }
}

/** Finds files that the scene file was written without.
 * @throws {CommandError} that names those that are missing still. */
async function completeOriginals({ scene, originals }: SceneContents, folder: string | undefined): Promise<void> {
  const missing = missingFiles(scene, (sha256) => originals.has(sha256));
  if (folder && missing.length > 0)
    for (const [sha256, file] of await findByContent(folder, missing)) originals.set(sha256, file);
  const still = missingFiles(scene, (sha256) => originals.has(sha256));
  if (still.length === 0) return;
  const names = still.map(({ name }) => name).join(', ');
  const where = folder ? `nor in ${folder}` : 'give the folder they are in with --originals';
  throw new CommandError(`files of the scene are not in the scene file: ${names}; ${where}`, EXIT.missingFiles);
}

const isOutputSpace = (name: string | undefined): name is OutputSpace | undefined =>
  name === undefined || OUTPUT_SPACES.includes(name as OutputSpace);

async function loadOriginals(codec: Codec, { scene, originals }: SceneContents): Promise<void> {
  await Promise.all(
    filesOf(scene).map(async ({ file, reading, width, height }) => {
      const onProgress = (share: number) => say(`reading ${file.name} ${Math.round(share * 100)} %`);
      const original = { file: originals.get(file.sha256) as Blob, name: file.name, reading };
      const frame = await codec.load(original, { width, height }, onProgress);
      if (frame.file.sha256 !== file.sha256)
        throw new Error(`the original of ${file.name} is not the file that the scene was made with`);
    }),
  );
}

function baseExif(scene: Scene) {
  return scene.frames.find(({ id }) => id === scene.base)?.exif ?? {};
}

function say(text: string, last = false): void {
  if (process.stderr.isTTY) process.stderr.write(`\r${text.padEnd(60)}${last ? '\n' : ''}`);
  else if (last) console.error(text);
}
