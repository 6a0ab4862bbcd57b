import { deliveredFrom } from '#core/finish/turning.ts';
import { allTiles } from '#core/raster/region.ts';
import { levelCount, levelForScale, levelSize, TILE } from '#core/raster/size.ts';
import { type Scene, sceneSize } from '#core/scene/scene.ts';
import type { Engine } from '#engine/engine.ts';
import { Lane } from '#engine/lanes.ts';
import { canvasSpaceOf, tileImage } from './canvasSpace.ts';

const SIDE = 480;

/** A small JPEG of the picture of the scene that the engine has, as it is delivered; undefined when it cannot be drawn. */
export async function pictureOfScene(engine: Engine, scene: Scene): Promise<Blob | undefined> {
  const whole = sceneSize(scene);
  if (!whole) return undefined;
  const { size } = deliveredFrom(scene.geometry, whole);
  const level = levelForScale(SIDE / Math.max(size.width, size.height), levelCount(size));
  const { width, height } = levelSize(size, level);
  const space = canvasSpaceOf(scene.workingSpace);
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { colorSpace: space }) as OffscreenCanvasRenderingContext2D;
  try {
    await engine.draw(
      Lane.Thumbs,
      { show: { what: 'result', turned: 'finished' } },
      level,
      allTiles(size, level),
      (tiles) => {
        for (const { tx, ty, rgba } of tiles)
          if (rgba) context.putImageData(tileImage(rgba, space), tx * TILE, ty * TILE);
      },
    );
  } catch {
    return undefined; // a frame may be missing; the list then shows the scene without a picture
  }
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.85 });
}
