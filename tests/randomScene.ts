import alea from 'alea';
import { GroupId, LayerId, RecipeId, StencilId, StrokeId } from '#core/ids.ts';
import { WHOLE_RANGE } from '#core/masks/range.ts';
import type { Source } from '#core/masks/source.ts';
import type { Part } from '#core/parts/list.ts';
import { plainPart } from '#core/parts/partBase.ts';
import { AT_REST, type Refinements } from '#core/refinements/list.ts';
import { type Item, type Layer, newLayer } from '#core/scene/item.ts';
import { type Mask, maskOfParts } from '#core/scene/mask.ts';
import type { Scene } from '#core/scene/scene.ts';

/** How rich a scene is. */
export interface SceneSize {
  layers: number;
  /** Parts of a mask at most, most of them with two tables of their own. */
  parts: number;
  /** Whether masks may read frames as developed. */
  developed?: boolean;
}

/** A scene with masks of all that is computed pixel by pixel: tones, colours, shapes, references live and frozen, fills, groups
 * and guards, with every source. Slopes are gentle, so that a rounding stays a rounding.
 * @param seed - Equal seeds, equal scenes. */
export function randomScene(made: Scene, seed: string, { layers, parts, developed = false }: SceneSize): Scene {
  const random = alea(seed);
  const between = (low: number, high: number) => low + (high - low) * random();
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const chance = (share: number) => random() < share;
  const layerIds = Array.from({ length: layers }, (_, i) => LayerId.parse(`layer-${i}`));
  const recipes: Scene['recipes'] = {};
  const stencils: Scene['stencils'] = [];
  let names = 0;

  const sources = (): readonly Source[] => [
    'base',
    'layer',
    'below',
    'result',
    `frame:${pick(made.frames).id}` as Source,
    ...(developed ? (['developed:layer', `developed:frame:${pick(made.frames).id}`] as Source[]) : []),
  ];

  const refine = (): Refinements => ({
    ...AT_REST,
    levels: chance(0.6)
      ? { black: between(0, 0.15), white: between(0.85, 1), gamma: between(0.9, 1.1) }
      : AT_REST.levels,
    curve: chance(0.2)
      ? [
          { x: 0, y: between(0, 0.1) },
          { x: 1, y: between(0.8, 1) },
        ]
      : [],
    inverted: chance(0.2),
    strength: chance(0.5) ? between(0.5, 1) : 1,
  });

  const range = () => {
    const from = between(0, 0.4);
    const wide = { from, to: between(from + 0.2, 1), fromShoulder: between(0.2, 0.5), toShoulder: between(0.2, 0.5) };
    return chance(0.5) ? WHOLE_RANGE : wide;
  };

  /** @param upTo - Layers below this one may be referred to: rings have a test of their own. */
  const partOf = (index: number, upTo: number): Part => {
    const common = { join: index === 0 ? ('add' as const) : pick(JOINS), refine: refine() };
    const id = `part-${index}`;
    const kind = pick(KINDS);
    if (kind === 'colour') {
      const hue = { centre: between(0, 360), width: between(20, 90), shoulder: between(60, 90) };
      const lightness = range();
      return {
        kind,
        ...plainPart(kind, id),
        ...common,
        source: pick(['base', 'layer'] as const),
        hue,
        chroma: WHOLE_RANGE,
        lightness,
      };
    }
    if (kind === 'gradient')
      return {
        kind,
        ...plainPart(kind, id),
        ...common,
        start: { x: between(0, 300), y: between(0, 90) },
        end: { x: between(0, 300), y: between(120, 210) },
        profile: pick(['linear', 'smooth'] as const),
        middle: chance(0.4) ? 0.5 : between(0.3, 0.7),
      };
    if (kind === 'radial')
      return {
        kind,
        ...plainPart(kind, id),
        ...common,
        centre: { x: between(0, 300), y: between(0, 210) },
        radiusX: between(60, 200),
        radiusY: between(60, 200),
        turn: between(-180, 180),
        feather: between(0.4, 1),
      };
    if (kind === 'reference') {
      const others = layerIds.slice(0, upTo);
      const to = [
        ...(others.length > 0 ? [{ item: pick(others) }] : []),
        ...(stencils.length > 0 ? [{ stencil: pick(stencils).id }] : []),
        ...(Object.keys(recipes).length > 0
          ? [{ frozen: RecipeId.parse(pick(Object.keys(recipes))), of: 'before' }]
          : []),
      ];
      if (to.length > 0) return { kind, ...plainPart(kind, id), ...common, to: pick(to) };
    }
    if (kind === 'fill') {
      const stencil = chance(0.7) && Object.keys(recipes).length > 0 ? pick(Object.keys(recipes)) : null;
      const fill = {
        id: StrokeId.parse(`fill-${seed}-${names++}`),
        target: chance(0.5) ? 1 : 0.2,
        strength: between(0.3, 1),
        stencil: stencil === null ? null : RecipeId.parse(stencil),
        fill: true as const,
        outline: null,
        feather: 0,
      };
      return { kind: 'painted', ...plainPart('painted', id), join: common.join, strokes: [fill] };
    }
    return {
      kind: 'tone',
      ...plainPart('tone', id),
      ...common,
      source: pick(sources()),
      measure: pick(MEASURES),
      side: pick(['light', 'dark', 'middle'] as const),
      ...range(),
      narrowing: between(0, 0.6),
    };
  };

  const maskOf = (count: number, upTo: number): Mask => {
    const made = maskOfParts(Array.from({ length: count }, (_, index) => partOf(index, upTo)));
    return chance(0.5) ? made : { ...made, refine: refine() };
  };

  const count = () => 1 + Math.floor(random() * parts);
  const layerAt = (index: number): Layer => {
    const id = layerIds[index];
    if (chance(0.4)) stencils.push({ id: StencilId.parse(`stencil-${index}`), name: '', mask: maskOf(2, index) });
    // Seen from a layer below, or from wherever it is used.
    if (chance(0.6)) {
      const seenFrom = chance(0.5) ? null : pick(layerIds.slice(0, index + 1));
      recipes[`recipe-${index}`] = { of: null, seenFrom, mask: maskOf(2, seenFrom ? layerIds.indexOf(seenFrom) : 0) };
    }
    return {
      ...newLayer(id, pick(made.frames).id),
      mask: maskOf(count(), index),
      guard: chance(0.3) ? maskOf(2, index) : null,
      opacity: chance(0.5) ? 1 : between(0.4, 1),
      visible: chance(0.9),
      yieldsToBase: chance(0.5),
    };
  };

  let next = 0;
  /** Layers one after the other, some of them in groups, and groups in those. */
  const itemsOf = (most: number, depth: number): Item[] => {
    const items: Item[] = [];
    for (const end = Math.min(layers, next + most); next < end; ) {
      const index = next;
      if (index === 0 || index + 1 >= end || depth === 2 || !chance(0.3)) {
        next++;
        items.push(layerAt(index));
        continue;
      }
      // Its masks refer to what there is by then.
      const masks = { mask: maskOf(2, index), guard: chance(0.3) ? maskOf(2, index) : null };
      items.push({
        item: 'group',
        id: GroupId.parse(`group-${index}-${depth}`),
        items: itemsOf(Math.min(end - index, 2 + Math.floor(random() * 2)), depth + 1),
        isolated: false,
        adjustments: [],
        mode: 'normal',
        label: '',
        opacity: between(0.5, 1),
        visible: chance(0.9),
        ...masks,
      });
    }
    return items;
  };
  const stack = itemsOf(layers, 0);
  return { ...made, stack, stencils, recipes };
}

const JOINS = ['add', 'subtract', 'intersect', 'exclude'] as const;
const KINDS = [
  'tone',
  'tone',
  'tone',
  'tone',
  'colour',
  'gradient',
  'radial',
  'reference',
  'reference',
  'fill',
] as const;
const MEASURES = ['luminance', 'lightness', 'brightest', 'red', 'green', 'blue'] as const;
