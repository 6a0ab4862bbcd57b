import { readSceneFile, SceneFileError, type Watch } from '#codecs/sceneFile.ts';
import { newHistory, storeHistory } from '#core/scene/history.ts';
import { sha256Of } from '#engine/loadFrameBytes.ts';
import type { SceneRecord } from './database.ts';
import { putFile, putStroke, saveScene } from './sceneShelf.ts';

/** Share of the work that unpacking is; the rest is checking what came out and storing it. */
const UNPACKING = 0.5;

/** Puts a scene file on the shelf as a new scene. Nothing is stored unless all of it is sound.
 * @throws {SceneFileError} or {SceneError} */
export async function importSceneFile(file: Blob, { onProgress, signal }: Watch = {}): Promise<SceneRecord> {
  const unpacking = { onProgress: (share: number) => onProgress?.(share * UNPACKING), signal };
  const { scene, strokes, originals } = await readSceneFile(file, unpacking);
  let steps = 0;
  const step = () => {
    if (signal?.aborted) throw new SceneFileError('stopped', 'before it was stored');
    onProgress?.(UNPACKING + ((1 - UNPACKING) * steps++) / (2 * originals.size));
  };
  for (const [sha256, blob] of originals) {
    step();
    if ((await sha256Of(new Uint8Array(await blob.arrayBuffer()))) !== sha256) {
      throw new SceneFileError('damaged', 'an original is not the file that it should be');
    }
  }
  for (const [sha256, blob] of originals) {
    step();
    await putFile(sha256, blob);
  }
  for (const [id, points] of strokes) await putStroke(id, points);
  const now = Date.now();
  const record: SceneRecord = {
    id: crypto.randomUUID(),
    name: scene.name,
    createdAt: now,
    updatedAt: now,
    frames: scene.frames.length,
    history: storeHistory(newHistory(scene)),
    bench: null,
  };
  await saveScene(record);
  return record;
}
