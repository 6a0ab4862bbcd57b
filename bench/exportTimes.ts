import { restOf } from '#codecs/deliver/formats/list.ts';
import { deliveredPicture } from '#core/finish/delivered.ts';
import type { Scene } from '#core/scene/scene.ts';
import { asTheyAre } from '../engine/deliver/layeredFile.ts';
import { writeToMemory } from '../engine/deliver/writeToMemory.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { cpuMs, interleaved } from './measure.ts';

/** How long full exports take, in milliseconds of all processors: of the picture of each scene alone, and of each from the press to the deflated
 * TIFF, whose rows are written while others are computed. */
export async function exportTimes<Name extends string>(
  machine: NodeEngine,
  scenes: Record<Name, Scene>,
  rounds: number,
): Promise<{ computing: Record<Name, number>; exporting: Record<Name, number> }> {
  const { engine, loader } = machine;
  const pictureOf = (of: Scene) => {
    loader.table.dropDerived();
    engine.setScene(of);
    const delivered = deliveredPicture(of);
    if (!delivered) throw new Error('the scene has no frames');
    return delivered;
  };
  const computingOf = (of: Scene) => async () => {
    const delivered = pictureOf(of);
    return cpuMs(async () => {
      const image = await engine.render(delivered.of, delivered.size, delivered.region, 'srgb', () => undefined);
      if (image) engine.giveBack(image);
    });
  };
  const exportOf = (of: Scene) => async () => {
    const delivered = pictureOf(of);
    const options = asTheyAre(delivered.region, 'srgb', restOf('tiff'));
    return cpuMs(() => writeToMemory(machine, { ...delivered, channels: 3 }, options));
  };
  const each = (work: (of: Scene) => () => Promise<number>) =>
    Object.fromEntries(Object.entries<Scene>(scenes).map(([name, scene]) => [name, work(scene)])) as Record<
      Name,
      () => Promise<number>
    >;
  const [computing, exporting] = [each(computingOf), each(exportOf)];
  for (const run of Object.values<() => Promise<number>>(exporting)) await run();
  return { computing: await interleaved(rounds, computing), exporting: await interleaved(rounds, exporting) };
}
