import { allTiles } from '#core/raster/region.ts';
import { levelCount, levelForScale, levelSize, type Size, TILE } from '#core/raster/size.ts';
import type { LayerId } from '#core/scene/ids.ts';
import type { AlignRequest } from '#engine/codecProtocol.ts';
import { Lane } from '#engine/lanes.ts';
import { useEngine } from '../../stores/engine.ts';

/** Longest side at which a mask says where to look. */
const SIDE = 512;

/** A layer's mask as a small picture of where to look, or where not to. */
export async function lookOnly(layerId: LayerId, size: Size, way: 'only' | 'not'): Promise<AlignRequest['wanted']> {
  const { engine } = await useEngine().start();
  const level = levelForScale(SIDE / Math.max(size.width, size.height), levelCount(size));
  const { width, height } = levelSize(size, level);
  const levels = new Uint8Array(width * height);
  await engine.draw(Lane.Thumbs, { kind: 'grey', layerId, of: 'mask' }, level, allTiles(size, level), (tiles) => {
    for (const { tx, ty, rgba } of tiles)
      for (let y = 0; rgba && y < TILE && ty * TILE + y < height; y++)
        for (let x = 0; x < TILE && tx * TILE + x < width; x++) {
          const value = rgba[(y * TILE + x) * 4];
          levels[(ty * TILE + y) * width + tx * TILE + x] = way === 'only' ? value : 255 - value;
        }
  });
  return { width, height, levels };
}
