import sharp from 'sharp';
import { restOf } from '#codecs/deliver/formats/list.ts';
import { type Preset, presetWith } from '#codecs/deliver/preset.ts';
import { NO_TEXTS } from '#codecs/deliver/texts.ts';
import type { Frame } from '#core/scene/frame.ts';
import { deliver } from '../engine/deliver/deliver.ts';
import { asTheyAre } from '../engine/deliver/layeredFile.ts';
import { pictureOptions } from '../engine/deliver/pictureOptions.ts';
import type { Place } from '../engine/deliver/sink.ts';
import { writeToMemory } from '../engine/deliver/writeToMemory.ts';
import { Lane } from '../engine/lanes.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { interleaved, type Measure, wallMs } from './measure.ts';
import { medianWait } from './medianWait.ts';
import { openBusyScene } from './openBusyScene.ts';

/** Wanted: how long a TIFF takes against a general library that merely writes its pixels, plus the render; milliseconds for a preview; how long
 * three presets take against one after the other (that they are rendered once is held by a test). */
const BARS = { tiff: 1.3, preview: 300, together: 1 } as const;

/** A place that keeps nothing. */
export const NOWHERE: Place = {
  open: async (name) => ({
    name,
    write: async () => undefined,
    patch: async () => undefined,
    finish: async () => undefined,
    discard: async () => undefined,
  }),
};
/** As large as the part of a window that shows one half. */
const PIECE = { width: 480, height: 540 };

/** What delivering costs. */
export async function measureDelivering(
  node: NodeEngine,
  frames: readonly Frame[],
  rounds: number,
): Promise<Measure[]> {
  const { engine, codec, loader } = node;
  const { scene, size, region } = openBusyScene(engine, frames);
  const whole = { of: { what: 'result' }, size, region, channels: 3 } as const;
  const anew = (work: () => Promise<unknown>) => {
    loader.table.dropDerived();
    return wallMs(work);
  };
  let pixels: Uint16Array = new Uint16Array();
  const render = async () => {
    const image = await engine.render(whole.of, size, region, 'srgb', () => undefined);
    if (image) {
      pixels = image;
      engine.giveBack(image);
    }
  };
  await render();
  const raw = { ...size, channels: 3 as const };
  const delivering = (presets: readonly Preset[]) => () =>
    deliver(node, { scene, presets, texts: NO_TEXTS, nameOfItem: String, nameOfFrame: String }, NOWHERE);
  const three = [
    presetWith({ id: 'a', name: 'a' }),
    presetWith({ id: 'b', name: 'b', file: restOf('jpeg') }),
    presetWith({ id: 'c', name: 'c', file: restOf('png'), space: 'display-p3' }),
  ];
  const times = await interleaved(rounds, {
    rendering: () => anew(render),
    reference: () =>
      wallMs(() =>
        sharp(pixels, { raw })
          .toColourspace('rgb16')
          .tiff({ compression: 'deflate', predictor: 'horizontal' })
          .toBuffer(),
      ),
    tiff: () => anew(() => writeToMemory(node, whole, asTheyAre(size, 'srgb', restOf('tiff')))),
    together: () => anew(delivering(three)),
    first: () => anew(delivering(three.slice(0, 1))),
    second: () => anew(delivering(three.slice(1, 2))),
    third: () => anew(delivering(three.slice(2))),
  });
  const apart = times.first + times.second + times.third;
  const preset = presetWith({ file: restOf('jpeg') });
  const options = { ...pictureOptions(preset, scene, size), size: PIECE };
  const preview = await medianWait('JPEG preview at 100 %, median', BARS.preview, 3 * rounds, async (run) => {
    const at = { x: 128 * run, y: 200 * run, ...PIECE };
    const image = await engine.render(whole.of, size, at, 'srgb', () => undefined, { lane: Lane.Before });
    if (image) await codec.preview(image.buffer as SharedArrayBuffer, PIECE, options, true);
  });
  return [
    {
      measure: '16-bit TIFF, deflated / a general library that merely writes it, plus the render',
      value: times.tiff / (times.reference + times.rendering),
      unit: 'ratio',
      bar: BARS.tiff,
    },
    preview,
    {
      measure: 'three presets together / one after the other',
      value: times.together / apart,
      unit: 'ratio',
      bar: BARS.together,
    },
    { measure: 'the render alone', value: times.rendering, unit: 'ms' },
    { measure: 'TIFF by the general library alone', value: times.reference, unit: 'ms' },
    { measure: 'render and TIFF', value: times.tiff, unit: 'ms' },
    { measure: 'three presets together', value: times.together, unit: 'ms' },
  ];
}
