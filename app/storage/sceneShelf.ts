import type { StrokeId } from '#core/ids.ts';
import { renameScene } from '#core/scene/edits/frames.ts';
import { dispatch, present } from '#core/scene/history.ts';
import { filesOf } from '#core/scene/places.ts';
import { openDatabase, type StrokeUnderWay } from './database.ts';
import { withScene } from './locks.ts';
import { type OpenedRecord, openRecord, RecordHead, recordOf, type SceneRecord } from './sceneRecord.ts';
import { tellOtherTabs } from './shelfNews.ts';
import { StorageError } from './storageError.ts';

/** A stored scene in a list. */
export interface ListedScene {
  head: RecordHead;
  /** Bytes that its originals take. */
  bytes: number;
  /** Why it cannot be opened. */
  problem?: unknown;
}

/** All stored scenes, last changed first. One that is damaged is among them, with what is wrong. */
export async function listScenes(): Promise<ListedScene[]> {
  const db = await openDatabase();
  const [keys, records] = await Promise.all([db.getAllKeys('scenes'), db.getAll('scenes')]);
  return records.map((raw, index) => listed(keys[index], raw)).sort((a, b) => b.head.updatedAt - a.head.updatedAt);
}

function listed(id: string, raw: unknown): ListedScene {
  try {
    const opened = openRecord(raw);
    return { head: opened.head, bytes: bytesOf(opened) };
  } catch (problem) {
    const head = RecordHead.safeParse(raw);
    const { name = 'Scene without a name' } = RecordHead.partial().safeParse(raw).data ?? {};
    const updatedAt = head.data?.updatedAt ?? 0;
    return { head: { id, name, createdAt: updatedAt, updatedAt, frames: head.data?.frames ?? 0 }, bytes: 0, problem };
  }
}

/** Bytes of originals that a scene names at any step of its history. */
function bytesOf({ history }: OpenedRecord): number {
  const scenes = [history.origin, ...history.steps.map(({ after }) => after), present(history)];
  const files = new Map(scenes.flatMap((scene) => filesOf(scene).map(({ file }) => [file.sha256, file.bytes])));
  return [...files.values()].reduce((sum, bytes) => sum + bytes, 0);
}

/** A stored scene, checked; undefined when there is none.
 * @throws {SceneError} when it cannot be opened. */
export async function loadScene(id: string): Promise<OpenedRecord | undefined> {
  const raw = await rawScene(id);
  return raw === undefined ? undefined : openRecord(raw);
}

/** A record as it lies there, damaged or not. */
export const rawScene = async (id: string): Promise<unknown> => (await openDatabase()).get('scenes', id);

/** Stores a scene.
 * @param isNew - There is none of this id yet; otherwise there must be one still.
 * @throws {StorageError} `gone` when it was deleted meanwhile. */
export async function saveScene(record: SceneRecord, isNew = false): Promise<void> {
  const transaction = (await openDatabase()).transaction('scenes', 'readwrite');
  const isThere = (await transaction.store.getKey(record.id)) !== undefined;
  if (isThere || isNew) await transaction.store.put(record);
  await transaction.done;
  if (!isThere && !isNew) throw new StorageError('gone');
}

/** Copies a scene under another name; files and strokes are shared, since neither ever changes. */
export async function duplicateScene(id: string): Promise<void> {
  const source = await loadScene(id);
  if (!source) return;
  const now = Date.now();
  const head = { id: crypto.randomUUID(), createdAt: now, updatedAt: now };
  const history = dispatch(source.history, renameScene({ name: `${source.head.name} copy` }));
  await saveScene(recordOf(head, history, source.evidence, source.bench), true);
  const db = await openDatabase();
  const thumb = await db.get('thumbs', id);
  if (thumb) await db.put('thumbs', thumb, head.id);
}

/** Gives a stored scene another name, as a step that can be undone in it.
 * @throws {StorageError} `in-use` when a tab has it open. */
export async function renameStored(id: string, name: string): Promise<void> {
  await withScene(id, async () => {
    const source = await loadScene(id);
    if (!source) return;
    const history = dispatch(source.history, renameScene({ name }));
    await saveScene(recordOf({ ...source.head, updatedAt: Date.now() }, history, source.evidence, source.bench));
  });
}

/** Takes a scene off the shelf, and says so to tabs that have it open. Its files and strokes stay until they are swept away.
 * @returns What it takes to bring it back. */
export async function removeScene(id: string): Promise<unknown> {
  const db = await openDatabase();
  const record = await db.get('scenes', id);
  await db.delete('scenes', id);
  tellOtherTabs({ what: 'deleted', sceneId: id });
  return record;
}

/** Puts a scene back as it was when it was removed. */
export async function bringBack(record: unknown): Promise<void> {
  const { id } = record as { id: string };
  await (await openDatabase()).put('scenes', record as { id: string });
  tellOtherTabs({ what: 'brought-back', sceneId: id });
}

export async function putFile(sha256: string, file: Blob): Promise<void> {
  await putStamped('files', sha256, file);
}

export async function getFile(sha256: string): Promise<Blob | undefined> {
  return (await openDatabase()).get('files', sha256);
}

export async function putStroke(id: StrokeId, points: Float32Array): Promise<void> {
  await putStamped('strokes', id, points);
}

export async function getStroke(id: StrokeId): Promise<Float32Array | undefined> {
  return (await openDatabase()).get('strokes', id);
}

/** Stores something with the time: what is fresh is not swept away, whether a scene names it yet or not. */
async function putStamped(store: 'files' | 'strokes', key: string, value: Blob | Float32Array): Promise<void> {
  const transaction = (await openDatabase()).transaction([store, 'stamps'], 'readwrite');
  await Promise.all([
    transaction.objectStore(store as 'files').put?.(value as Blob, key),
    transaction.objectStore('stamps').put?.(Date.now(), `${store}/${key}`),
  ]);
  await transaction.done;
}

/** Keeps how far the stroke under way has come; undefined when it has ended. */
export async function keepUnderWay(sceneId: string, stroke: StrokeUnderWay | undefined): Promise<void> {
  const db = await openDatabase();
  if (stroke) await db.put('underWay', stroke, sceneId);
  else await db.delete('underWay', sceneId);
}

/** The stroke that was under way when a scene was last left without warning, as it lies there. */
export async function getUnderWay(sceneId: string): Promise<unknown> {
  return (await openDatabase()).get('underWay', sceneId);
}

export async function putThumb(sceneId: string, thumb: Blob): Promise<void> {
  await (await openDatabase()).put('thumbs', thumb, sceneId);
}

export async function getThumb(sceneId: string): Promise<Blob | undefined> {
  return (await openDatabase()).get('thumbs', sceneId);
}
