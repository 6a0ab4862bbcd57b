import { type ItemId, StrokeId } from '#core/ids.ts';
import { plainStroke, type Stroke } from '#core/masks/stroke.ts';
import { levelSize } from '#core/raster/size.ts';
import { compilePlan, type RenderPlan } from '#core/render/plan/plan.ts';
import type { PlanMemory } from '#core/render/plan/planMemory.ts';
import type { RenderRequest } from '#core/render/plan/request.ts';
import type { TileNode } from '#core/render/tiles/renderContext.ts';
import type { EditRecord } from '#core/scene/edit.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { layerIdOf } from '#core/scene/edits/layersOfFrames.ts';
import type { Scene } from '#core/scene/scene.ts';
import { type PixelSource, planeOfNode, type SmallScene, smallScene } from './smallScene.ts';

export const size = { width: 300, height: 210 };
export const clamp = (value: number) => Math.min(65535, Math.max(0, Math.round(value)));
/** Three frames of one made view, two stops apart in a way: a ramp, a texture, and clipping at the bright end. */
const view =
  (gain: number): PixelSource =>
  (x, y) => {
    const tone = gain * (8000 + x * 90 + 4000 * Math.sin(x / 7) * Math.cos(y / 5) + y * 30);
    return [clamp(tone), clamp(tone * 0.8), clamp(tone * 0.6 + 500)];
  };
export const sources = [view(0.5), view(1), view(2)];

let lastStroke = 0;
/** A stroke through points, known to the context. */
export function paint(
  made: SmallScene,
  points: readonly (readonly [number, number])[],
  change: Partial<Stroke> = {},
): Stroke {
  const id = StrokeId.parse(`stroke-${++lastStroke}`);
  made.context.strokes.append(id, Float32Array.from(points.flatMap(([x, y]) => [x, y, 1, 0])));
  return { ...plainStroke(id), size: 80, hardness: 0.3, ...change };
}

export const plan = (scene: Scene): RenderPlan => compilePlan(scene) as RenderPlan;

/** The node of what a request names in a scene that has it. */
export function nodeOf(scene: Scene, request: RenderRequest, memory?: PlanMemory): TileNode {
  const node = compilePlan(scene, memory)?.node(request);
  if (!node) throw new RangeError(`The scene has no ${request.what}`);
  return node;
}

export const resultOf = (scene: Scene, memory?: PlanMemory): TileNode => nodeOf(scene, { what: 'result' }, memory);
export const edit = (scene: Scene, ...records: EditRecord[]): Scene => records.reduce(applyEdit, scene);
export const maskOf = (scene: Scene, id: ItemId): TileNode => nodeOf(scene, { what: 'mask', at: id });

/** A context with a scene of three frames, the layers of the outer two, and whole planes of any node. */
export function setUp() {
  const made = smallScene(size, sources);
  const dark = layerIdOf(made.frameIds[0]);
  const bright = layerIdOf(made.frameIds[2]);
  const whole = (node: TileNode, plane = 0, level = 0) =>
    planeOfNode(node, plane, level, levelSize(size, level), made.context);
  return { made, dark, bright, whole };
}
