import { toRaw } from 'vue';
import type { ItemId } from '#core/ids.ts';
import { type Frame, relativeEvs } from '#core/scene/frame.ts';
import type { Item } from '#core/scene/item.ts';
import type { Scene } from '#core/scene/scene.ts';
import { everyItem, isWaiting } from '#core/scene/tree.ts';
import { titleOfAdjustment } from './develop/adjustmentWords.ts';
import { sayEv } from './wording.ts';

/** A frame's short label: the user's, else its exposure against the middle frame, with its time where moments differ, or its
 * name where nothing is known. */
export function frameLabel({ frames }: Scene, frameId: string): string {
  const index = frames.findIndex(({ id }) => id === frameId);
  if (index < 0) return '';
  const frame = frames[index];
  if (frame.label) return frame.label;
  const ev = relativeEvs(frames)[index];
  const severalMoments = frames.some(({ moment }) => moment !== frame.moment);
  const exposure = ev === null ? '' : `${frame.shot.estimated ? '≈ ' : ''}${sayEv(ev)} EV`;
  const time = severalMoments ? timeOf(frame) : '';
  return [time, exposure].filter(Boolean).join(' ') || frame.file.name;
}

const timeOf = ({ shot }: Frame): string => shot.takenAt?.slice(11, 16) ?? '';

/** What items are called, of scenes that were asked about. */
const known = new WeakMap<Scene, Map<ItemId, string>>();

/** What an item is called: by the user, or by what it shows, with a number from the second of its kind on. */
export function itemLabel(scene: Scene, item: Item): string {
  const asked = toRaw(scene);
  const labels = known.get(asked) ?? labelsOf(asked);
  known.set(asked, labels);
  return labels.get(item.id) ?? bareLabel(scene, item);
}

function labelsOf(scene: Scene): Map<ItemId, string> {
  const [labels, taken] = [new Map<ItemId, string>(), new Map<string, number>()];
  for (const item of [...everyItem(scene.stack), ...scene.finish]) {
    if (isWaiting(item, scene.base)) continue;
    const bare = bareLabel(scene, item);
    const number = (taken.get(bare) ?? 0) + 1;
    taken.set(bare, number);
    labels.set(item.id, item.label || number === 1 ? bare : `${bare} (${number})`);
  }
  return labels;
}

function bareLabel(scene: Scene, item: Item): string {
  if (item.label) return item.label;
  if (item.item === 'group') return 'Group';
  if (item.item === 'adjustment') return titleOfAdjustment(item.kind);
  const { content } = item;
  if ('frame' in content) return frameLabel(scene, content.frame);
  if ('picture' in content) return content.picture.file.name.replace(/\.[^.]+$/, '');
  return 'below' in content ? 'So far' : 'colour' in content ? 'Colour' : 'Run';
}
