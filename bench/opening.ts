import sharp from 'sharp';
import { PLAIN_READING } from '#core/reading.ts';
import type { Codec } from '../engine/codec.ts';
import { interleaved, type Measure, wallMs } from './measure.ts';

/** Opening files with their pyramids against a general library that merely decodes them. */
export async function measureOpening(
  codec: Codec,
  title: string,
  files: readonly Buffer<ArrayBuffer>[],
  rounds: number,
  bar?: number,
): Promise<Measure[]> {
  const loadAll = (copies: readonly ArrayBuffer[]) =>
    Promise.all(
      copies.map((bytes, index) =>
        codec.load({ file: bytes, name: `${index}`, reading: PLAIN_READING }, undefined, () => undefined),
      ),
    );
  const copied = (some = files) =>
    some.map(({ buffer, byteOffset, length }) => buffer.slice(byteOffset, byteOffset + length));
  const drop = (loaded: Awaited<ReturnType<typeof loadAll>>) => Promise.all(loaded.map((frame) => codec.drop(frame)));
  await drop(await loadAll(copied(files.slice(0, codec.lanes)))); // the threads start when they are needed for the first time
  const { open, decode } = await interleaved(rounds, {
    open: async () => {
      let loaded: Awaited<ReturnType<typeof loadAll>> = [];
      const bytes = copied();
      const ms = await wallMs(async () => {
        loaded = await loadAll(bytes);
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
