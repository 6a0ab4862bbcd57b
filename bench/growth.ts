import { cpus } from 'node:os';
import type { Size } from '#core/raster/size.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { SIZES } from './frames.ts';
import { measureInteractive } from './interactive.ts';
import { cpuMs, type Measure } from './measure.ts';
import { busyScene } from './scenes.ts';

type WithFrames = (
  size: Size,
  count: number,
  use: (frames: Frame[]) => Promise<Measure[]>,
) => Promise<{ measures: Measure[]; bytes: number }>;

/** How figures grow with the number of frames and their size, as a Markdown table. */
export async function measureGrowth({ engine, loader }: NodeEngine, withFrames: WithFrames): Promise<string> {
  const columns: { title: string; measures: Measure[] }[] = [];
  for (const megapixels of [6, 24, 45] as const) {
    for (const count of [3, 5, 7]) {
      const size = SIZES[megapixels];
      const { measures, bytes } = await withFrames(size, count, async (frames) => {
        const { scene } = busyScene(frames);
        const interactive = await measureInteractive(engine, frames, 3);
        loader.table.dropDerived();
        engine.setScene(scene);
        const value = await cpuMs(() =>
          engine.render({ what: 'result' }, size, { x: 0, y: 0, ...size }, 'srgb', () => undefined),
        );
        return [...interactive, { measure: 'full export (CPU)', value, unit: 'ms' }];
      });
      const memory: Measure = { measure: 'memory of the frames, MB', value: bytes / 1e6, unit: 'ms' };
      columns.push({ title: `${count} x ${megapixels} MP`, measures: [...measures, memory] });
    }
  }
  const lines = columns[0].measures.map(({ measure }, row) => {
    const cells = columns.map(({ measures }) => measures[row].value.toFixed(measures[row].value < 10 ? 1 : 0));
    return `| ${measure} | ${cells.join(' | ')} |`;
  });
  return [
    `${cpus().length} cores, milliseconds unless said otherwise\n`,
    `| measure | ${columns.map(({ title }) => title).join(' | ')} |`,
    `|---|${columns.map(() => '---|').join('')}`,
    ...lines,
  ].join('\n');
}
