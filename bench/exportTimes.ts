import type { Frame } from '#core/scene/frame.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { cpuMs, interleaved, quantile } from './measure.ts';

/** How long full exports take, in milliseconds of all processors: to compute the picture of each scene, and to write one, which takes as long
 * whatever is in it. */
export async function exportTimes<Name extends string>(
  { engine, codec, loader }: NodeEngine,
  [{ width, height }]: readonly Frame[],
  scenes: Record<Name, Scene>,
  rounds: number,
): Promise<{ computing: Record<Name, number>; writing: number }> {
  const size = { width, height };
  let writing: number[] = [];
  const exportOf = (of: Scene) => async () => {
    loader.table.dropDerived();
    engine.setScene(of);
    let image: Uint16Array | undefined;
    const computing = await cpuMs(async () => {
      image = await engine.render({ what: 'result' }, size, { x: 0, y: 0, ...size }, 'srgb', () => undefined);
    });
    if (!image) throw new Error('the export was stopped');
    const { buffer } = image;
    const options = { format: 'tiff', quality: 92, space: 'srgb' } as const;
    writing.push(await cpuMs(() => codec.encode(buffer as SharedArrayBuffer, size, options, {})));
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
