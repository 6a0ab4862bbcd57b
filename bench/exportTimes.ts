import { deliveredPicture } from '#core/finish/delivered.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { cpuMs, interleaved, quantile } from './measure.ts';

/** How long full exports take, in milliseconds of all processors: to compute the picture of each scene, and to write one, which takes as long
 * whatever is in it. */
export async function exportTimes<Name extends string>(
  { engine, codec, loader }: NodeEngine,
  scenes: Record<Name, Scene>,
  rounds: number,
): Promise<{ computing: Record<Name, number>; writing: number }> {
  let writing: number[] = [];
  const exportOf = (of: Scene) => async () => {
    loader.table.dropDerived();
    engine.setScene(of);
    let image: Uint16Array | undefined;
    const delivered = deliveredPicture(of);
    if (!delivered) throw new Error('the scene has no frames');
    const { region } = delivered;
    const computing = await cpuMs(async () => {
      image = await engine.render(delivered.of, delivered.size, region, 'srgb', () => undefined);
    });
    if (!image) throw new Error('the export was stopped');
    const { buffer } = image;
    const options = { format: 'tiff', quality: 92, space: 'srgb' } as const;
    writing.push(await cpuMs(() => codec.encode(buffer as SharedArrayBuffer, region, options, {})));
    engine.giveBack(image);
    return computing;
  };
  const exports = Object.fromEntries(
    Object.entries<Scene>(scenes).map(([name, scene]) => [name, exportOf(scene)]),
  ) as Record<Name, () => Promise<number>>;
  for (const each of Object.values<() => Promise<number>>(exports)) await each();
  writing = [];
  const computing = await interleaved(rounds, exports);
  return { computing, writing: quantile(writing, 0.5) };
}
