import type { ItemId } from '../ids.ts';
import type { Item, Mode } from './item.ts';
import { openMask } from './mask.ts';
import type { Scene } from './scene.ts';
import { everyItem, isStep, mapItem } from './tree.ts';

/** How an item is looked at for a moment, as if it were so: in another mode, by itself over the base, or everywhere at half strength. */
export type Trial = { mode: Mode } | 'alone' | 'half';

/** The scene with an item as if it were so; the scene itself stays as it is. */
export function tried(scene: Scene, id: ItemId, trial: Trial): Scene {
  if (trial === 'alone') {
    // A finishing step is judged over the blend.
    const stack = isStep(scene, id) ? scene.stack : scene.stack.map((item) => onlyWith(item, id));
    return { ...scene, stack, finish: scene.finish.map((step) => onlyWith(step, id)) };
  }
  const change = (item: Item): Item =>
    trial === 'half'
      ? { ...item, visible: true, opacity: 0.5, mask: openMask(), guard: null }
      : withMode(item, trial.mode);
  return mapItem(scene, id, change);
}

/** A group in a mode is one that is on its own. */
export const withMode = (item: Item, mode: Mode): Item =>
  item.item === 'group' && mode !== 'normal' ? { ...item, mode, isolated: true } : { ...item, mode };

/** An item of which nothing shows but what is or holds the one at hand, or lies in it. */
function onlyWith<T extends Item>(item: T, id: ItemId): T {
  if (item.id === id) return { ...item, visible: true };
  if (![...everyItem([item])].some((each) => each.id === id)) return { ...item, visible: false };
  const shown = { ...item, visible: true };
  if (shown.item === 'adjustment') return shown;
  const adjustments = shown.adjustments.map((own) => onlyWith(own, id));
  if (shown.item === 'layer') return { ...shown, adjustments };
  const isOfGroup = shown.adjustments.some((own) => own.id === id);
  return { ...shown, adjustments, items: isOfGroup ? shown.items : shown.items.map((each) => onlyWith(each, id)) };
}
