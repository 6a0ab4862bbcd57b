import { allTiles } from '#core/raster/region.ts';
import { levelCount, levelForScale } from '#core/raster/size.ts';
import { developFrames } from '#core/scene/edits/developing.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { Engine } from '../engine/engine.ts';
import { Lane } from '../engine/lanes.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { fitOf } from './canvas.ts';
import { exportTimes } from './exportTimes.ts';
import { type Measure, quantile, wallMs } from './measure.ts';
import { Pace } from './pace.ts';
import { busyScene } from './scenes.ts';

type Change = Parameters<typeof developFrames>[0]['change'];

/** Longest side of the first, coarse picture. */
const COARSE = 700;

/** Six adjustments at work. */
const SIX: Change = {
  whiteBalance: { kelvin: 5600, tint: 4 },
  exposure: { stops: 0.4 },
  ends: { darks: { stops: 1.2, reach: -3 }, brights: { stops: -0.8, reach: -2.5 } },
  contrast: { slope: 1.15, middle: -2.5, of: 'base' },
  colour: {
    saturation: 0.2,
    spare: 0.5,
    ranges: [{ centre: 250, width: 20, shoulder: 30, turn: 6, saturation: 0.1, lightness: -0.1 }],
  },
  colourBalance: {
    ...{ darks: { hue: 250, chroma: 0.02 }, middle: { hue: 0, chroma: 0 }, brights: { hue: 80, chroma: 0.02 } },
    ...{ lower: 0.35, upper: 0.7, softness: 0.3, strength: 1 },
  },
};
const NOISE = (run: number): Change => ({
  noise: { brightness: 0.5 + run / 100, colour: 0.5, measured: { brightness: 0.01, colour: 0.01 } },
});
const HAZE = (run: number): Change => ({
  haze: { amount: 0.3 + run / 100, veil: { red: 0.8, green: 0.8, blue: 0.85 } },
});

const LENS = (run: number): Change => ({
  lens: { k1: -0.02 - run / 1000, k2: 0.004, k3: 0, corners: { stops: 0.6, late: 0.5 } },
});

const developed = (scene: Scene, frames: readonly Frame[], change: Change): Scene =>
  applyEdit(scene, developFrames({ frameIds: frames.map(({ id }) => id), change }));

/** What a hand waits for that develops a frame: sliders to the fitted picture, and to the first, coarse one. */
export async function measureDeveloping(engine: Engine, frames: readonly Frame[], runs: number): Promise<Measure[]> {
  const { width, height } = frames[0];
  const size = { width, height };
  const { scene, strokes } = busyScene(frames);
  for (const { stroke, points } of strokes) engine.addStrokePoints(stroke.id, points);
  const levels = levelCount(size);
  const fit = fitOf(size);
  const coarse = levelForScale(COARSE / 4 / width, levels);
  const [frame] = frames;
  const draw = (level: number) =>
    engine.draw(Lane.View, { show: { what: 'frame', at: frame.id } }, level, allTiles(size, level), () => undefined);
  const start = developed(scene, [frame], SIX);
  const measures: Measure[] = [];
  const slide = async (measure: string, bar: number, level: number, change: (run: number) => Change) => {
    const pace = new Pace(20);
    engine.setScene(developed(start, [frame], change(0)));
    await draw(level);
    const waits: number[] = [];
    for (let run = 1; run <= runs; run++) {
      await pace.tick();
      waits.push(
        await wallMs(async () => {
          engine.setScene(developed(start, [frame], change(run)));
          await draw(level);
        }),
      );
    }
    measures.push({ measure, value: quantile(waits, 0.5), unit: 'ms', bar, pace });
  };
  const light = (run: number): Change => ({ exposure: { stops: 0.4 + run / 50 } });
  const what = 'of a frame with six adjustments';
  await slide(`exposure ${what} to the fitted picture, median`, 60, fit, light);
  await slide(`exposure ${what} to the first, coarse picture, median`, 16, coarse, light);
  await slide(`strength of noise ${what} to the fitted picture, median`, 150, fit, NOISE);
  await slide(`bending of the lens ${what} to the fitted picture, median`, 150, fit, LENS);
  await slide(`haze ${what} to the fitted picture, median`, 150, fit, HAZE);
  return measures;
}

/** A full export with six adjustments on each frame against the same without: from a press of the button to the file, as people wait
 * for it (16-bit TIFF, which the stage and the command line write unless told otherwise), and the picture alone. */
export async function measureDevelopedExport(
  node: NodeEngine,
  frames: readonly Frame[],
  rounds: number,
): Promise<Measure[]> {
  const { scene, strokes } = busyScene(frames);
  for (const { stroke, points } of strokes) node.engine.addStrokePoints(stroke.id, points);
  const scenes = { plain: scene, six: developed(scene, frames, SIX) };
  const { computing, exporting } = await exportTimes(node, scenes, rounds);
  return [
    {
      measure: 'full export to a 16-bit TIFF with six adjustments on each of five frames / without (CPU)',
      value: exporting.six / exporting.plain,
      unit: 'ratio',
      bar: 1.6,
    },
    { measure: 'the same without six adjustments (CPU)', value: exporting.plain, unit: 'ms' },
    {
      measure: 'the picture alone, not written: with six / without (CPU)',
      value: computing.six / computing.plain,
      unit: 'ratio',
    },
    { measure: 'the picture alone without six adjustments (CPU)', value: computing.plain, unit: 'ms' },
  ];
}
