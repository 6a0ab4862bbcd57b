import type { FrameId, ItemId } from '#core/ids.ts';
import { frameOfLayer, type Layer } from '#core/scene/item.ts';
import type { Scene } from '#core/scene/scene.ts';
import { layersOf } from '#core/scene/tree.ts';
import type { Engine } from '#engine/engine.ts';

/** What a scene holds at one of its pixels, 16 bits. */
export interface ProbeReading {
  x: number;
  y: number;
  frames: {
    frameId: FrameId;
    rgb: readonly number[] /** The same as it was taken, where it is developed. */;
    taken: readonly number[] | undefined;
  }[];
  mask: number | null;
  /** How much of the layer counts: by its mask, guard, frame, opacity and groups. */
  effect: number | null;
  stencil: number | null;
  result: readonly number[];
}

/** The frames of a scene, those that matter at the bench first: the selected layer's, the base, those of layers that are seen, from the
 * top of the stack, then the rest. */
export function framesByWeight(scene: Scene, layerId: ItemId | null): FrameId[] {
  const layers = layersOf(scene);
  const ofLayers = (some: readonly Layer[]) => some.flatMap((layer) => frameOfLayer(layer) ?? []);
  const visible = layers.filter((layer) => layer.visible).toReversed();
  return [
    ...new Set([
      ...ofLayers(layers.filter((layer) => layer.id === (layerId as string | null))),
      ...(scene.base ? [scene.base] : []),
      ...ofLayers(visible),
      ...scene.frames.map(({ id }) => id),
    ]),
  ];
}

/** Reads all frames, a layer's mask and stencil, and the result; undefined when it became stale.
 * @param whole - Which result: finished, or the blend alone.
 * @throws {EngineError} */
export async function probeAt(
  engine: Engine,
  { frames }: Scene,
  layerId: ItemId | null,
  x: number,
  y: number,
  whole: 'result' | 'blend' = 'result',
): Promise<ProbeReading | undefined> {
  const masks = layerId ? (['mask', 'effect', 'stencil'] as const).map((what) => ({ what, at: layerId })) : [];
  const pictures = frames.map(({ id }) => ({ what: 'frame', at: id }) as const);
  const developed = frames.filter(({ develop }) => Object.keys(develop).length > 0);
  const takens = developed.map(({ id }) => ({ what: 'frame', at: id, taken: true }) as const);
  const samples = await engine.probe([{ what: whole }, ...pictures, ...masks, ...takens], x, y);
  if (!samples) return undefined;
  const [result, ...rest] = samples;
  const [mask, effect, stencil] = rest.slice(frames.length);
  const takenOf = new Map(developed.map(({ id }, index) => [id, rest[frames.length + masks.length + index] ?? []]));
  return {
    x,
    y,
    frames: frames.map(({ id }, index) => ({ frameId: id, rgb: rest[index] ?? [], taken: takenOf.get(id) })),
    mask: mask?.[0] ?? null,
    effect: effect?.[0] ?? null,
    stencil: stencil?.[0] ?? null,
    result: result ?? [],
  };
}
