import { levelCount, levelForScale, type Size } from '#core/raster/size.ts';
import type { LayerId } from '#core/scene/ids.ts';
import type { AlignRequest } from '#engine/codecProtocol.ts';
import { drawnView } from '../../bench/drawnView.ts';
import { useEngine } from '../../stores/engine.ts';

/** Longest side at which a mask says where to look. */
const SIDE = 512;

/** A layer's mask as a small picture of where to look, or where not to. */
export async function lookOnly(layerId: LayerId, size: Size, way: 'only' | 'not'): Promise<AlignRequest['wanted']> {
  const { engine } = await useEngine().start();
  const level = levelForScale(SIDE / Math.max(size.width, size.height), levelCount(size));
  const drawn = await drawnView(engine, { kind: 'grey', layerId, of: 'mask' }, size, level);
  if (!drawn) return null;
  const { width, height, rgba } = drawn;
  const seen = (value: number) => (way === 'only' ? value : 255 - value);
  return { width, height, levels: Uint8Array.from({ length: width * height }, (_, i) => seen(rgba[i * 4])) };
}
