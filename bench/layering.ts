import { presetWith } from '#codecs/deliver/preset.ts';
import { NO_TEXTS } from '#codecs/deliver/texts.ts';
import { planLayers, plannedLayers } from '#core/deliver/layers.ts';
import type { Frame } from '#core/scene/frame.ts';
import { deliver } from '../engine/deliver/deliver.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { NOWHERE } from './delivering.ts';
import { cpuMs, interleaved, type Measure, wallMs } from './measure.ts';
import { openBusyScene } from './openBusyScene.ts';

/** Wanted: seconds of processors for a hundred megapixels of layers beyond rendering them. */
const BAR = 8;

/** What layers cost that are written to an OpenRaster file.
 * @param what - The frames are. */
export async function measureLayers(
  { engine, codec, loader }: NodeEngine,
  frames: readonly Frame[],
  rounds: number,
  what: string,
): Promise<Measure[]> {
  const { scene, size, region } = openBusyScene(engine, frames);
  const layers = [...plannedLayers(planLayers(scene).layers)];
  const rendering = async () => {
    for (const { of, covers } of [...layers, { of: { what: 'result' } as const, covers: undefined }]) {
      const image = new SharedArrayBuffer(size.width * size.height * (covers ? 8 : 6));
      await engine.write({ of, covers, size, region, forms: [{ space: 'srgb', kind: 'codes', image }] });
    }
  };
  const writing = () =>
    deliver(
      { engine, codec },
      { scene, presets: [presetWith({ what: 'layers' })], texts: NO_TEXTS, nameOfItem: String, nameOfFrame: String },
      NOWHERE,
    );
  const anew = (work: () => Promise<unknown>, measured = cpuMs) => {
    loader.table.dropDerived();
    return measured(work);
  };
  const times = await interleaved(rounds, {
    rendering: () => anew(rendering),
    writing: () => anew(writing),
    waiting: () => anew(writing, wallMs),
  });
  const megapixels = (size.width * size.height * (layers.length + 1)) / 1e6;
  return [
    {
      measure: `OpenRaster of ${layers.length} layers of ${what} frames, seconds (CPU) beyond rendering for 100 MP of layers`,
      value: (times.writing - times.rendering) / 1000 / (megapixels / 100),
      unit: 'ratio',
      bar: BAR,
    },
    { measure: `OpenRaster of ${what} frames (CPU)`, value: times.writing, unit: 'ms' },
    { measure: `rendering its layers alone (CPU)`, value: times.rendering, unit: 'ms' },
    { measure: `OpenRaster of ${what} frames, from the press to the file`, value: times.waiting, unit: 'ms' },
  ];
}
