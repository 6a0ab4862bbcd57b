import sharp from 'sharp';
import type { VipsModule } from '#codecs/vipsModule.ts';
import { frameKey } from '#core/render/frameNode.ts';
import { dropFrame, type LoadingDesk } from '#core/render/loadFrame.ts';
import { loadFiles } from '../engine/node/loadFiles.ts';
import { interleaved, type Measure, wallMs } from './measure.ts';

/** Opening files with their pyramids against a general library that merely decodes them. */
export async function measureOpening(
  vips: VipsModule,
  desk: LoadingDesk,
  title: string,
  files: readonly Buffer[],
  rounds: number,
): Promise<Measure[]> {
  const bytes = files.map((file) => new Uint8Array(file.buffer as ArrayBuffer, file.byteOffset, file.length));
  const { open, decode } = await interleaved(rounds, {
    open: async () => {
      const named = bytes.map((each, index) => ({ name: `${index}`, read: async () => each }));
      let loaded: Awaited<ReturnType<typeof loadFiles>> = [];
      const ms = await wallMs(async () => {
        loaded = await loadFiles(vips, desk, named);
      });
      for (const { file, width, height } of loaded) dropFrame(desk.table, frameKey(file.sha256), { width, height });
      return ms;
    },
    decode: () =>
      wallMs(async () => {
        for (const file of files) await sharp(file).raw({ depth: 'ushort' }).toBuffer();
      }),
  });
  return [
    { measure: `opening ${title} / sharp merely decoding them`, value: open / decode, unit: 'ratio', bar: 1.5 },
    { measure: `opening ${title}`, value: open, unit: 'ms' },
  ];
}
