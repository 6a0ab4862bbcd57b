import { existsSync, openAsBlob } from 'node:fs';
import { basename, extname } from 'node:path';
import { DecodeError } from '#codecs/decodeError.ts';
import { type ReadContents, readSceneFile, type SceneContents, SceneFileError } from '#codecs/sceneFile.ts';
import { filesOf, missingFiles } from '#core/scene/places.ts';
import { SceneError } from '#core/scene/sceneError.ts';
import type { Codec } from '../engine/codec.ts';
import { readOpenRaster } from '../engine/deliver/readOpenRaster.ts';
import { startEngine } from '../engine/node/startEngine.ts';
import { CommandError, EXIT } from './exit.ts';
import { findByContent } from './files.ts';

/** Opens a scene file.
 * @throws {CommandError} when it cannot be. */
export async function openScene(path: string): Promise<ReadContents> {
  // Opening says nothing of a file that is not there; reading it later would.
  const blob = existsSync(path) ? await openAsBlob(path) : undefined;
  if (!blob) throw new CommandError(`${path} cannot be read`, EXIT.badScene);
  if (/\.ora$/i.test(path)) return openLayers(path, blob);
  try {
    const contents = await readSceneFile(blob);
    for (const [code, count] of contents.repairs) console.error(`lusket: mended in the scene: ${code} (${count})`);
    for (const name of contents.broken) console.error(`lusket: ${name} is damaged in the scene file`);
    return contents;
  } catch (error) {
    const known = error instanceof SceneFileError || error instanceof SceneError;
    throw known ? new CommandError(`${path} cannot be opened: ${error.message}`, EXIT.badScene) : error;
  }
}

/** Layers of another program as a scene. */
async function openLayers(path: string, blob: Blob): Promise<ReadContents> {
  const { codec, close } = await startEngine(new URL('./', import.meta.url));
  try {
    const name = basename(path, extname(path));
    const { scene, originals, unknownModes } = await readOpenRaster(codec, blob, name);
    for (const mode of unknownModes) console.error(`lusket: layers in ${mode} are laid normally`);
    return { scene, originals, strokes: new Map(), evidence: new Map(), repairs: new Map(), broken: [] };
  } catch (error) {
    const told = error instanceof DecodeError ? error.detail : undefined;
    throw told === undefined ? error : new CommandError(`${path} cannot be opened: ${told}`, EXIT.badScene);
  } finally {
    close();
  }
}

/** Finds files that the scene file was written without.
 * @throws {CommandError} that names those that are missing still. */
export async function completeOriginals(
  { scene, originals }: SceneContents,
  folder: string | undefined,
): Promise<void> {
  const missing = missingFiles(scene, (sha256) => originals.has(sha256));
  if (folder && missing.length > 0)
    for (const [sha256, file] of await findByContent(folder, missing)) originals.set(sha256, file);
  const still = missingFiles(scene, (sha256) => originals.has(sha256));
  if (still.length === 0) return;
  const names = still.map(({ name }) => name).join(', ');
  const where = folder ? `nor in ${folder}` : 'give the folder they are in with --originals';
  throw new CommandError(`files of the scene are not in the scene file: ${names}; ${where}`, EXIT.missingFiles);
}

/** Reads the pictures of a scene into memory. */
export async function loadOriginals(codec: Codec, { scene, originals }: SceneContents): Promise<void> {
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

/** Tells on a terminal how far something is. */
export function say(text: string, last = false): void {
  if (process.stderr.isTTY) process.stderr.write(`\r${text.padEnd(60)}${last ? '\n' : ''}`);
  else if (last) console.error(text);
}
