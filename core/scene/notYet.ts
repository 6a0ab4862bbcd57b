import { faultOf, isOfFrames } from '../develop/list.ts';
import type { Adjustment, Item } from './item.ts';
import { PLAIN_GEOMETRY, type Scene } from './scene.ts';
import { everyItem } from './tree.ts';

/** What the document knows and the render does not yet: each a test of the whole scene, or of an item. */
const OF_SCENE: Record<string, (scene: Scene) => boolean> = {
  retouching: ({ retouch }) => retouch.length > 0,
  'finishing steps': ({ finish }) => finish.length > 0,
  'straightening and perspective': ({ geometry }) =>
    JSON.stringify({ ...geometry, crop: null }) !== JSON.stringify(PLAIN_GEOMETRY),
};
const OF_ITEM: Record<string, (item: Item) => boolean> = {
  'modes of groups through which what lies below shows': (item) =>
    item.item === 'group' && !item.isolated && item.mode !== 'normal',
};

/** Names what of a scene this program cannot compute yet; undefined when it can all. */
export function beyondThisProgram(scene: Scene): string | undefined {
  const items = [...everyItem(scene.stack)];
  const uses = [
    ...Object.entries(OF_SCENE).filter(([, test]) => test(scene)),
    ...Object.entries(OF_ITEM).filter(([, test]) => items.some(test)),
  ].map(([name]) => name);
  const faults = [
    ...scene.frames.flatMap(({ develop }) => faultOf(develop) ?? []),
    ...items.flatMap((item) => (item.item === 'adjustment' ? (faultOfAdjustment(item) ?? []) : [])),
  ];
  const found = [...faults, ...uses];
  return found.length > 0 ? found.join(', ') : undefined;
}

const faultOfAdjustment = ({ kind, settings }: Adjustment): string | undefined =>
  isOfFrames(kind) ? `the adjustment “${kind}” of something else than a frame` : faultOf({ [kind]: settings });
