import { faultOf } from '../develop/list.ts';
import type { Item } from './item.ts';
import { maskOwners } from './places.ts';
import type { Scene } from './scene.ts';
import { ownAdjustments } from './tree.ts';

/** What the document knows and the render does not yet: each a test of the whole scene, or of an item. */
const OF_SCENE: Record<string, (scene: Scene) => boolean> = {
  'adjustments of a finishing step alone': ({ finish }) => finish.some((step) => ownAdjustments(step).length > 0),
};
const OF_ITEM: Record<string, (item: Item) => boolean> = {
  'modes of groups through which what lies below shows': (item) =>
    item.item === 'group' && !item.isolated && item.mode !== 'normal',
};

/** Names what of a scene this program cannot compute yet; undefined when it can all. */
export function beyondThisProgram(scene: Scene): string | undefined {
  const items = maskOwners(scene);
  const uses = [
    ...Object.entries(OF_SCENE).filter(([, test]) => test(scene)),
    ...Object.entries(OF_ITEM).filter(([, test]) => items.some(test)),
  ].map(([name]) => name);
  const faults = [
    ...scene.frames.flatMap(({ develop }) => faultOf(develop, 'frame') ?? []),
    ...items.flatMap((item) =>
      item.item === 'adjustment' ? (faultOf({ [item.kind]: item.settings }, 'picture') ?? []) : [],
    ),
  ];
  const found = [...faults, ...uses];
  return found.length > 0 ? found.join(', ') : undefined;
}
