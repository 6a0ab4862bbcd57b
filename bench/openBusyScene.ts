import type { Region, Size } from '#core/raster/size.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { Engine } from '../engine/engine.ts';
import { busyScene } from './scenes.ts';

/** Has an engine show the busy scene of some frames.
 * @returns The scene, its size and all of it. */
export function openBusyScene(engine: Engine, frames: readonly Frame[]): { scene: Scene; size: Size; region: Region } {
  const { scene, strokes } = busyScene(frames);
  for (const { stroke, points } of strokes)
    if (!engine.knowsStroke(stroke.id)) engine.addStrokePoints(stroke.id, points);
  engine.setScene(scene);
  const size = { width: frames[0].width, height: frames[0].height };
  return { scene, size, region: { x: 0, y: 0, ...size } };
}
