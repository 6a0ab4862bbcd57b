import { cpus } from 'node:os';
import sharp from 'sharp';
import type { FrameLoader } from '#core/render/tiles/loadFrame.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { setItem } from '#core/scene/edits/items.ts';
import type { Frame } from '#core/scene/frame.ts';
import { layersOf } from '#core/scene/tree.ts';
import type { Engine } from '../engine/engine.ts';
import { cpuMs, interleaved, type Measure } from './measure.ts';
import { busyScene } from './scenes.ts';

const WARMING_RUNS = 3;

/** A full export with all masks to compute, and with masks ready, against a general library that lays as many pictures over
 * each other without any masks.
 * @param prepared - What else is being made ready: awaited before anything is measured. */
export async function measureExport(
  engine: Engine,
  loader: FrameLoader,
  frames: readonly Frame[],
  rounds: number,
  prepared: Promise<unknown>,
): Promise<Measure[]> {
  const size = { width: frames[0].width, height: frames[0].height };
  const { scene, strokes } = busyScene(frames);
  for (const { stroke, points } of strokes) engine.addStrokePoints(stroke.id, points);
  const render = async () => {
    const image = await engine.render({ what: 'result' }, size, { x: 0, y: 0, ...size }, 'srgb', () => undefined);
    if (image) engine.giveBack(image);
  };
  // All opacities changed: masks are known, and every pixel has to be mixed anew.
  const paler = layersOf(scene).reduce(
    (now, { id }) => applyEdit(now, setItem({ id: id, change: { opacity: 0.9 } })),
    scene,
  );
  sharp.concurrency(cpus().length);
  sharp.cache(false);
  // Each in memory of its own, as frames are.
  const pictures = [noiseRgba(size.width * size.height * 4)];
  while (pictures.length < frames.length) pictures.push(pictures[0].slice());
  const raw = { ...size, channels: 4 as const };
  // The engine's own code is compiled while it runs for the first time, which is no part of an export.
  for (let run = 0; run < WARMING_RUNS; run++) {
    loader.table.dropDerived();
    engine.setScene(run % 2 === 0 ? scene : paler);
    await render();
  }
  await prepared;
  const { fresh, cached, reference } = await interleaved(rounds, {
    reference: () =>
      cpuMs(() =>
        sharp(pictures[0], { raw })
          .composite(pictures.slice(1).map((input) => ({ input: input as unknown as Buffer, raw })))
          .toColourspace('rgb16')
          .raw({ depth: 'ushort' })
          .toBuffer(),
      ),
    fresh: async () => {
      loader.table.dropDerived();
      engine.setScene(scene);
      return cpuMs(render);
    },
    cached: async () => {
      engine.setScene(paler);
      return cpuMs(render);
    },
  });
  return [
    {
      measure: 'full export, tone and painted masks and a gradient / sharp laying as many pictures without masks (CPU)',
      value: fresh / reference,
      unit: 'ratio',
      bar: 0.6,
    },
    { measure: 'the same with masks cached', value: cached / reference, unit: 'ratio', bar: 0.3 },
    { measure: 'full export (CPU)', value: fresh, unit: 'ms' },
    { measure: 'sharp laying as many pictures (CPU)', value: reference, unit: 'ms' },
  ];
}

function noiseRgba(samples: number): Uint16Array {
  const out = new Uint16Array(samples);
  for (let i = 0; i < samples; i++) out[i] = Math.imul(i, 2654435761) >>> 16;
  return out;
}
