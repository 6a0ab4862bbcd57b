import alea from 'alea';
import { ItemId } from '#core/ids.ts';
import { MODES, type ModeName } from '#core/modes/list.ts';
import type { Part } from '#core/parts/list.ts';
import { plainPart } from '#core/parts/partBase.ts';
import { newTonePart } from '#core/parts/tone.ts';
import type { Adjustment, Content, Item, Layer } from '#core/scene/item.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import type { Scene } from '#core/scene/scene.ts';
import { randomDevelop } from './randomDevelop.ts';

/** Modes that make much of a rounding: light divided by what is left of it, and colours of what is nearly grey. */
const STEEP: ReadonlySet<ModeName> = new Set([
  'color-dodge',
  'color-burn',
  'vivid-light',
  'hue',
  'saturation',
  'color',
]);
const GENTLE = MODES.filter((mode) => !STEEP.has(mode));
/** Adjustments that look at nothing around a pixel. */
const POINTWISE = ['exposure', 'whiteBalance', 'levels', 'curve', 'colour', 'colourBalance', 'grey'];

/** A scene whose stack is of all kinds: modes, colours, runs of colours, the picture so far, adjustments, groups on their own.
 * @param steep - Modes that make much of a rounding are among them. */
export function randomStack(scene: Scene, seed: string, steep = false): Scene {
  const random = alea(seed);
  const between = (low: number, high: number) => low + (high - low) * random();
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const chance = (share: number) => random() < share;
  const { width, height } = scene.frames[0];
  const colour = (): [number, number, number] => [random(), random(), random()];
  const place = () => ({ x: between(0, width), y: between(0, height) });
  const mode = (): ModeName => (chance(0.4) ? 'normal' : pick(steep ? MODES : GENTLE));
  let made = 0;

  function adjustment(): Adjustment | undefined {
    const settings = Object.entries(randomDevelop(`${seed} ${made}`)).filter(([kind]) => POINTWISE.includes(kind));
    if (settings.length === 0) return undefined;
    const [kind, own] = pick(settings);
    const gradient = { kind: 'gradient' as const, ...plainPart('gradient'), start: place(), end: place() };
    const tones: Part = { ...newTonePart('developed:layer'), join: 'intersect' };
    const parts: Part[] = [{ ...gradient, profile: 'smooth', middle: 0.5 }, ...(chance(0.4) ? [tones] : [])];
    return {
      ...{
        item: 'adjustment',
        stencil: null,
        stencilOn: false,
        id: ItemId.parse(`adjustment-${made++}`),
        kind,
        settings: own as Adjustment['settings'],
      },
      mask: maskOfParts(parts),
      ...{ guard: null, opacity: between(0.3, 1), mode: mode(), visible: chance(0.9), label: '' },
    };
  }

  const range = () => {
    const from = chance(0.5) ? 0 : between(0, 0.4);
    const to = chance(0.5) ? 1 : between(from + 0.3, 1);
    return { from, to, fromShoulder: between(0.2, 0.4), toShoulder: between(0.2, 0.4) };
  };
  const toneWindow = () =>
    chance(0.3)
      ? { measure: pick(['luminance', 'lightness', 'red', 'green', 'blue'] as const), layer: range(), below: range() }
      : null;

  function contentOf(layer: Layer): Content {
    const kind = random();
    if (kind < 0.15) return { colour: colour() };
    if (kind < 0.3) return { gradient: { start: place(), end: place(), from: colour(), to: colour() } };
    return kind < 0.45 ? { below: true } : layer.content;
  }

  /** What is done to an item alone. */
  const own = (): Adjustment[] => [adjustment(), adjustment()].flatMap((made) => (made && chance(0.3) ? [made] : []));

  const itemsOf = (items: readonly Item[]): Item[] =>
    items.flatMap((item): Item[] => {
      const added = chance(0.3) ? adjustment() : undefined;
      if (item.item === 'group') {
        const isolated = chance(0.5);
        const how = { isolated, mode: isolated ? mode() : ('normal' as const), adjustments: own() };
        const group = { ...item, items: itemsOf(item.items), ...how };
        return added ? [group, added] : [group];
      }
      if (item.item !== 'layer') return added ? [item, added] : [item];
      const how = { mode: mode(), toneWindow: toneWindow(), adjustments: own() };
      const layer = { ...item, content: contentOf(item), ...how };
      return added ? [layer, added] : [layer];
    });
  return { ...scene, stack: itemsOf(scene.stack) };
}
