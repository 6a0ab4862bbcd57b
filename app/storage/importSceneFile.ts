import { hashOf, readSceneFile, type SceneContents, SceneFileError, type Watch } from '#codecs/sceneFile.ts';
import { StrokeId } from '#core/ids.ts';
import { newHistory } from '#core/scene/history.ts';
import { distinctFiles, withStrokeIds } from '#core/scene/places.ts';
import type { Repairs } from '#core/scene/repairs.ts';
import { whileStoring } from './locks.ts';
import { recordOf } from './sceneRecord.ts';
import { getStroke, putFile, putStroke, saveScene } from './sceneShelf.ts';

/** Share of the work that unpacking is; the rest is checking what came out and storing it. */
const UNPACKING = 0.5;

/** Puts a scene file on the shelf as a new scene. Nothing is stored unless the scene itself is sound.
 * @returns The id of the scene, what had to be mended, and the files of frames that were damaged and left out.
 * @throws {SceneFileError} or {SceneError} */
export async function importSceneFile(
  file: Blob,
  { onProgress, signal }: Watch = {},
): Promise<{ id: string; repairs: Repairs; broken: string[] }> {
  const unpacking = { onProgress: (share: number) => onProgress?.(share * UNPACKING), signal };
  const { scene, strokes, originals, evidence, repairs, broken } = await readSceneFile(file, unpacking);
  let steps = 0;
  const step = () => {
    if (signal?.aborted) throw new SceneFileError('stopped', 'before it was stored');
    onProgress?.(UNPACKING + ((1 - UNPACKING) * steps++) / (2 * originals.size));
  };
  for (const { sha256, name } of distinctFiles(scene)) {
    const blob = originals.get(sha256);
    if (!blob) continue;
    step();
    if ((await hashOf(blob)) === sha256) continue;
    originals.delete(sha256);
    broken.push(name);
  }
  const id = await storeScene({ scene, strokes, originals, evidence }, step);
  return { id, repairs, broken };
}

/** Puts a scene on the shelf as a new one.
 * @param onFile - Before each file that is stored.
 * @returns Its id. */
export async function storeScene(
  { scene, strokes, originals, evidence }: SceneContents,
  onFile: () => void = () => undefined,
): Promise<string> {
  const id = crypto.randomUUID();
  await whileStoring(async () => {
    for (const [sha256, blob] of originals) {
      onFile();
      await putFile(sha256, blob);
    }
    const ids = await storeStrokes(strokes);
    const now = Date.now();
    const history = newHistory(ids.size > 0 ? withStrokeIds(scene, ids) : scene);
    await saveScene(recordOf({ id, createdAt: now, updatedAt: now }, history, evidence, null), true);
  });
  return id;
}

/** Stores strokes. One whose id another stroke has here gets an id of its own, since strokes that are stored never change.
 * @returns The new ids. */
async function storeStrokes(strokes: ReadonlyMap<StrokeId, Float32Array>): Promise<Map<StrokeId, StrokeId>> {
  const ids = new Map<StrokeId, StrokeId>();
  for (const [id, points] of strokes) {
    const there = await getStroke(id);
    if (there && isSame(there, points)) continue;
    const own = there ? StrokeId.parse(crypto.randomUUID()) : id;
    if (there) ids.set(id, own);
    await putStroke(own, points);
  }
  return ids;
}

const isSame = (a: Float32Array, b: Float32Array): boolean =>
  a.length === b.length && a.every((value, at) => Object.is(value, b[at]));
