import type { FrameId, LayerId } from '#core/ids.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { Engine } from '#engine/engine.ts';

/** What a scene holds at one of its pixels, 16 bits. */
export interface ProbeReading {
  x: number;
  y: number;
  frames: { frameId: FrameId; rgb: readonly number[] }[];
  mask: number | null;
  /** How much of the layer counts: by its mask, guard, frame, opacity and groups. */
  effect: number | null;
  stencil: number | null;
  result: readonly number[];
}

/** Reads all frames, a layer's mask and stencil, and the result; undefined when it became stale.
 * @throws {EngineError} */
export async function probeAt(
  engine: Engine,
  { frames }: Scene,
  layerId: LayerId | null,
  x: number,
  y: number,
): Promise<ProbeReading | undefined> {
  const masks = layerId ? (['mask', 'effect', 'stencil'] as const).map((what) => ({ what, at: layerId })) : [];
  const pictures = frames.map(({ id }) => ({ what: 'frame', at: id }) as const);
  const samples = await engine.probe([{ what: 'result' }, ...pictures, ...masks], x, y);
  if (!samples) return undefined;
  const [result, ...rest] = samples;
  const [mask, effect, stencil] = rest.slice(frames.length);
  return {
    x,
    y,
    frames: frames.map(({ id }, index) => ({ frameId: id, rgb: rest[index] ?? [] })),
    mask: mask?.[0] ?? null,
    effect: effect?.[0] ?? null,
    stencil: stencil?.[0] ?? null,
    result: result ?? [],
  };
}
