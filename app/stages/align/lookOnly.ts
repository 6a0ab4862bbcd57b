import { levelCount, levelForScale, type Size } from '#core/raster/size.ts';
import type { PlaneRequest } from '#core/render/plan/request.ts';
import type { Layer } from '#core/scene/item.ts';
import type { Mask } from '#core/scene/mask.ts';
import { maskOfItem } from '#core/scene/places.ts';
import type { Scene } from '#core/scene/scene.ts';
import { layersOf } from '#core/scene/tree.ts';
import type { AlignRequest } from '#engine/alignProtocol.ts';
import { drawnView } from '../../drawing/drawnView.ts';
import { itemLabel } from '../../frameLabel.ts';
import { plain } from '../../plain.ts';
import { useEngine } from '../../stores/engine.ts';

/** A mask of the scene that may say where to look. */
export interface Guide {
  /** Different for every mask. */
  key: string;
  label: string;
  request: PlaneRequest;
}

const covers = ({ parts }: Mask): boolean =>
  parts.some((part) => part.enabled && (part.kind !== 'painted' || part.strokes.length > 0));

const OF = { mask: 'mask', guard: 'guard', stencil: 'stencil' } as const;

/** All masks of a scene that cover anything: of layers, their guards and stencils, and those saved by name. */
export function guidesOf(scene: Scene): Guide[] {
  const ofLayer = (layer: Layer): Guide[] =>
    Object.values(OF).flatMap((of) => {
      const mask = maskOfItem(layer, of);
      const request = { what: of, at: layer.id };
      return mask && covers(mask)
        ? [{ key: `${of}:${layer.id}`, label: `${of} of ${itemLabel(scene, layer)}`, request }]
        : [];
    });
  const layers = layersOf(scene);
  const [first] = layers;
  const saved = first
    ? scene.stencils.map(
        ({ id, name, mask }): Guide => ({
          key: `saved:${id}`,
          label: name || 'saved stencil',
          request: { what: 'recipe', recipe: mask, at: first.id },
        }),
      )
    : [];
  return [...layers.flatMap(ofLayer), ...saved];
}

/** Longest side at which a mask says where to look. */
const SIDE = 512;

/** A mask as a small picture of where to look, or where not to. */
export async function lookOnly({ request }: Guide, size: Size, way: 'only' | 'not'): Promise<AlignRequest['wanted']> {
  const { engine } = await useEngine().start();
  const level = levelForScale(SIDE / Math.max(size.width, size.height), levelCount(size));
  const drawn = await drawnView(engine, { show: plain(request) }, size, level);
  if (!drawn) return null;
  const { width, height, rgba } = drawn;
  const seen = (value: number) => (way === 'only' ? value : 255 - value);
  return { width, height, levels: Uint8Array.from({ length: width * height }, (_, i) => seen(rgba[i * 4])) };
}
