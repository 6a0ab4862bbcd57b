import { toRaw } from 'vue';
import type { ItemId } from '#core/ids.ts';
import { type Frame, relativeEvs } from '#core/scene/frame.ts';
import type { Item } from '#core/scene/item.ts';
import type { Scene } from '#core/scene/scene.ts';
import { everyItem, isWaiting } from '#core/scene/tree.ts';
import { titleOfAdjustment } from './develop/adjustmentWords.ts';
import { sayEv } from './wording.ts';

/** What frames are called, of lists that were asked about. */
const ofFrames = new WeakMap<readonly Frame[], string[]>();

/** A frame's short label: the user's, else its exposure against the middle frame, with its time where moments differ, or its
 * name where nothing is known; with a number from the second of the same label on. */
export function frameLabel({ frames }: Scene, frameId: string): string {
  const asked = toRaw(frames);
  const labels = ofFrames.get(asked) ?? numbered(bareLabels(asked), asked);
  ofFrames.set(asked, labels);
  return labels[frames.findIndex(({ id }) => id === frameId)] ?? '';
}

function bareLabels(frames: readonly Frame[]): string[] {
  const evs = relativeEvs(frames);
  const severalMoments = frames.some(({ moment }) => moment !== frames[0].moment);
  return frames.map((frame, index) => {
    if (frame.label) return frame.label;
    const ev = evs[index];
    const exposure = ev === null ? '' : `${frame.shot.estimated ? '≈ ' : ''}${sayEv(ev)} EV`;
    const time = severalMoments ? timeOf(frame) : '';
    return [time, exposure].filter(Boolean).join(' ') || frame.file.name;
  });
}

/** Labels with a number where the same was there before. A name of the user's is taken as it is. */
function numbered(bare: readonly string[], of: readonly { label: string }[]): string[] {
  const taken = new Set<string>();
  return bare.map((label, index) => {
    let name = label;
    for (let number = 2; taken.has(name) && !of[index].label; number++) name = `${label} (${number})`;
    taken.add(name);
    return name;
  });
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
  const items = [...everyItem(scene.stack), ...scene.finish].filter((item) => !isWaiting(item, scene.base));
  const bare = items.map((item) => bareLabel(scene, item));
  const names = numbered(bare, items);
  return new Map(items.map(({ id }, index) => [id, names[index]]));
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
