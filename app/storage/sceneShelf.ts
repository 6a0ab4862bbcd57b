import { restoreHistory } from '#core/scene/history.ts';
import type { StrokeId } from '#core/scene/ids.ts';
import { filesOf, strokesOf } from '#core/scene/places.ts';
import { readScene } from '#core/scene/readScene.ts';
import type { Scene } from '#core/scene/scene.ts';
import { openDatabase, type SceneRecord, type StrokeUnderWay } from './database.ts';

/** All stored scenes, last changed first. */
export async function listScenes(): Promise<SceneRecord[]> {
  const db = await openDatabase();
  return (await db.getAll('scenes')).sort((a, b) => b.updatedAt - a.updatedAt);
}

export async function loadScene(id: string): Promise<SceneRecord | undefined> {
  return (await openDatabase()).get('scenes', id);
}

export async function saveScene(record: SceneRecord): Promise<void> {
  await (await openDatabase()).put('scenes', record);
}

/** Copies a scene under another name; files and strokes are shared, since neither ever changes. */
export async function duplicateScene(id: string): Promise<SceneRecord | undefined> {
  const db = await openDatabase();
  const record = await db.get('scenes', id);
  if (!record) return undefined;
  const now = Date.now();
  const name = `${record.name} copy`;
  const copy = {
    ...record,
    id: crypto.randomUUID(),
    name,
    createdAt: now,
    updatedAt: now,
    history: renamed(record.history, name),
  };
  await db.put('scenes', copy);
  const thumb = await db.get('thumbs', id);
  if (thumb) await db.put('thumbs', thumb, copy.id);
  return copy;
}

/** A history whose every scene has another name; steps that gave it names are kept and then overridden. */
function renamed(history: SceneRecord['history'], name: string): SceneRecord['history'] {
  const rename = { kind: 'scene.rename', params: { name } };
  if (history.done < history.steps.length || history.steps.some(({ kind }) => kind === 'scene.rename')) {
    return { ...history, steps: [...history.steps.slice(0, history.done), rename], done: history.done + 1 };
  }
  return { ...history, origin: { ...history.origin, name } };
}

/** Takes a scene off the shelf. Its files and strokes stay until {@link sweep}. */
export async function removeScene(id: string): Promise<SceneRecord | undefined> {
  const db = await openDatabase();
  const record = await db.get('scenes', id);
  await db.delete('scenes', id);
  return record;
}

/** Frees files, strokes and thumbs that no stored scene needs, at any step of its history. */
export async function sweep(): Promise<void> {
  const db = await openDatabase();
  const records = await db.getAll('scenes');
  const files = new Set<string>();
  const strokes = new Set<string>();
  for (const { history } of records) {
    for (const scene of scenesOf(history)) {
      for (const { file } of filesOf(scene)) files.add(file.sha256);
      for (const id of strokesOf(scene)) strokes.add(id);
    }
  }
  const scenes = new Set(records.map(({ id }) => id));
  for (const key of await db.getAllKeys('files')) if (!files.has(key)) await db.delete('files', key);
  for (const key of await db.getAllKeys('strokes')) if (!strokes.has(key)) await db.delete('strokes', key);
  for (const key of await db.getAllKeys('thumbs')) if (!scenes.has(key)) await db.delete('thumbs', key);
}

function scenesOf(history: SceneRecord['history']): Scene[] {
  const { origin, steps } = restoreHistory({ ...history, origin: readScene(history.origin) });
  return [origin, ...steps.map(({ after }) => after)];
}

export async function putFile(sha256: string, file: Blob): Promise<void> {
  await (await openDatabase()).put('files', file, sha256);
}

export async function getFile(sha256: string): Promise<Blob | undefined> {
  return (await openDatabase()).get('files', sha256);
}

export async function putStroke(id: StrokeId, points: Float32Array): Promise<void> {
  await (await openDatabase()).put('strokes', points, id);
}

export async function getStroke(id: StrokeId): Promise<Float32Array | undefined> {
  return (await openDatabase()).get('strokes', id);
}

/** Keeps how far the stroke under way has come; undefined when it has ended. */
export async function keepUnderWay(sceneId: string, stroke: StrokeUnderWay | undefined): Promise<void> {
  const db = await openDatabase();
  if (stroke) await db.put('underWay', stroke, sceneId);
  else await db.delete('underWay', sceneId);
}

/** The stroke that was under way when a scene was last left without warning. */
export async function getUnderWay(sceneId: string): Promise<StrokeUnderWay | undefined> {
  return (await openDatabase()).get('underWay', sceneId);
}

/** Bytes that a scene's originals take, at any step of its history. */
export function bytesOfScene({ history }: SceneRecord): number {
  const files = new Map(
    scenesOf(history).flatMap((scene) => filesOf(scene).map(({ file }) => [file.sha256, file.bytes])),
  );
  return [...files.values()].reduce((sum, bytes) => sum + bytes, 0);
}

export async function putThumb(sceneId: string, thumb: Blob): Promise<void> {
  await (await openDatabase()).put('thumbs', thumb, sceneId);
}

export async function getThumb(sceneId: string): Promise<Blob | undefined> {
  return (await openDatabase()).get('thumbs', sceneId);
}
