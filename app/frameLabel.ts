import { type Frame, relativeEvs } from '#core/scene/frame.ts';
import type { Item } from '#core/scene/item.ts';
import type { Scene } from '#core/scene/scene.ts';
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

/** What an item is called: by the user, or by what it shows. */
export function itemLabel(scene: Scene, item: Item): string {
  if (item.label) return item.label;
  if (item.item === 'group') return 'Group';
  if (item.item === 'adjustment') return titleOfAdjustment(item.kind);
  const { content } = item;
  if ('frame' in content) return frameLabel(scene, content.frame);
  if ('picture' in content) return content.picture.file.name.replace(/\.[^.]+$/, '');
  return 'below' in content ? 'So far' : 'colour' in content ? 'Colour' : 'Run';
}
