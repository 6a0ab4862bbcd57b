import { DecodeError } from '#codecs/decodeError.ts';
import type { Preset } from '#codecs/deliver/preset.ts';
import type { Texts } from '#codecs/deliver/texts.ts';
import type { LayerNote } from '#core/deliver/layers.ts';
import type { ItemId } from '#core/ids.ts';
import { frameOfLayer, type Item } from '#core/scene/item.ts';
import type { Scene } from '#core/scene/scene.ts';
import { everyItem, findItem } from '#core/scene/tree.ts';
import { type DeliveryReport, deliver } from '../engine/deliver/deliver.ts';
import type { Place } from '../engine/deliver/sink.ts';
import { startEngine } from '../engine/node/startEngine.ts';
import { CommandError, EXIT } from './exit.ts';
import { errorOf } from './files.ts';
import { completeOriginals, loadOriginals, openScene, say } from './opening.ts';

/** What a scene file is delivered as. */
export interface SceneDelivery {
  path: string;
  presets: readonly Preset[];
  texts: Texts;
  place: Place;
  originals: string | undefined;
  /** Names of the items whose masks are written; all, if none is told. */
  only?: readonly string[];
}

/** What is told of a scene that was delivered. */
export interface Told {
  scene: string;
  files: { preset: string; name: string; bytes: number; width: number; height: number; notes: string[] }[];
  failures: { preset: string; name: string; code: string; detail: string }[];
}

/** Delivers one scene file.
 * @throws {CommandError} when it cannot be opened, files of it are missing, or it was stopped. */
export async function deliverScene({ path, presets, texts, place, originals, only }: SceneDelivery): Promise<Told> {
  const contents = await openScene(path);
  await completeOriginals(contents, originals);
  const { scene } = contents;
  if (scene.frames.length === 0) throw new CommandError(`${path} has no frames`);
  const { engine, codec, close } = await startEngine(new URL('./', import.meta.url));
  const stopping = new AbortController();
  const onInterrupt = () => stopping.abort();
  process.once('SIGINT', onInterrupt);
  process.once('SIGTERM', onInterrupt);
  try {
    await loadOriginals(codec, contents);
    for (const [id, points] of contents.strokes) engine.addStrokePoints(id, points);
    engine.setScene(scene);
    const masksOf = only && itemsCalled(scene, only);
    const delivery = {
      scene,
      presets,
      texts,
      masksOf,
      nameOfItem: (id: ItemId) => nameOfItem(scene, id),
      nameOfFrame: (id: string) => nameOfFrame(scene, id),
    };
    const onProgress = (share: number) => say(`writing ${Math.round(share * 100)} %`);
    const report = await deliver({ engine, codec }, delivery, place, { onProgress, signal: stopping.signal });
    for (const { name } of report.files) say(`wrote ${name}`, true);
    for (const { name, error } of report.failures) console.error(`lusket: ${name}: ${errorOf(error).detail}`);
    return toldOf(scene, report);
  } catch (error) {
    if (error instanceof DecodeError && error.code === 'cancelled')
      throw new CommandError('stopped; nothing half-written is left', EXIT.failed);
    throw error;
  } finally {
    process.off('SIGINT', onInterrupt);
    process.off('SIGTERM', onInterrupt);
    close();
  }
}

function toldOf(scene: Scene, { files, failures }: DeliveryReport): Told {
  return {
    scene: scene.name,
    files: files.map(({ notes, ...file }) => ({ ...file, notes: notes.map((note) => noteOf(scene, note)) })),
    failures: failures.map(({ preset, name, error }) => ({ preset, name, ...errorOf(error) })),
  };
}

const noteOf = (scene: Scene, note: LayerNote): string =>
  'at' in note ? `${note.code}: ${nameOfItem(scene, note.at)}` : note.code;

const nameOfFrame = ({ frames }: Scene, frameId: string): string => {
  const frame = frames.find(({ id }) => id === frameId);
  return frame ? frame.label || frame.file.name.replace(/\.[^.]+$/, '') : frameId;
};

function nameOfItem(scene: Scene, id: ItemId): string {
  const item = findItem(scene, id);
  return (item && (item.label || whatItIs(scene, item))) ?? id;
}

function whatItIs(scene: Scene, item: Item): string {
  if (item.item === 'group') return 'group';
  if (item.item === 'adjustment') return item.kind;
  const frame = frameOfLayer(item);
  if (frame !== undefined) return nameOfFrame(scene, frame);
  return 'picture' in item.content ? item.content.picture.file.name : Object.keys(item.content)[0];
}

function itemsCalled(scene: Scene, names: readonly string[]): ItemId[] {
  const all = [...everyId(scene)];
  const found = all.filter((id) => names.includes(id) || names.includes(nameOfItem(scene, id)));
  if (found.length === 0)
    throw new CommandError(
      `no item is called ${names.join(', ')}; there are ${all.map((id) => nameOfItem(scene, id)).join(', ')}`,
      EXIT.usage,
    );
  return found;
}

function* everyId({ stack, finish }: Scene): Generator<ItemId> {
  for (const item of everyItem(stack)) yield item.id;
  for (const { id } of finish) yield id;
}
