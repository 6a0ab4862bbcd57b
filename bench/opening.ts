import sharp from 'sharp';
import type { Codec } from '../engine/codec.ts';
import { interleaved, type Measure, wallMs } from './measure.ts';

/** Opening files with their pyramids against a general library that merely decodes them. */
export async function measureOpening(
  codec: Codec,
  title: string,
  files: readonly Buffer[],
  rounds: number,
  bar?: number,
): Promise<Measure[]> {
  const blobs = files.map((file) => new Blob([file as Uint8Array<ArrayBuffer>]));
  const loadAll = () =>
    Promise.all(blobs.map((blob, index) => codec.load(blob, `${index}`, undefined, () => undefined)));
  const drop = (loaded: Awaited<ReturnType<typeof loadAll>>) =>
    Promise.all(loaded.map(({ file, width, height }) => codec.drop(file.sha256, { width, height })));
  await drop(await loadAll()); // the threads start when they are needed for the first time
  const { open, decode } = await interleaved(rounds, {
    open: async () => {
      let loaded: Awaited<ReturnType<typeof loadAll>> = [];
      const ms = await wallMs(async () => {
        loaded = await loadAll();
      });
      await drop(loaded);
      return ms;
    },
    decode: () =>
      wallMs(async () => {
        for (const file of files) await sharp(file).raw({ depth: 'ushort' }).toBuffer();
      }),
  });
  return [
    { measure: `opening ${title} / sharp merely decoding them`, value: open / decode, unit: 'ratio', bar },
    { measure: `opening ${title}`, value: open, unit: 'ms' },
  ];
}
