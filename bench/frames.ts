import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { FrameId } from '#core/ids.ts';
import type { Size } from '#core/raster/size.ts';
import { keyOfText, keyText } from '#core/raster/tileKey.ts';
import { PLAIN_READING } from '#core/reading.ts';
import { frameKey } from '#core/render/nodes/frameNode.ts';
import { type FrameLoader, IncomingFrame } from '#core/render/tiles/loadFrame.ts';
import { type Frame, newFrame } from '#core/scene/frame.ts';
import type { Codec } from '../engine/codec.ts';

const SOURCE = 'demo/frames/tarn';
const OUT = 'demo/out/bench';

/** Sizes that the bench speaks of, 3 : 2. */
export const SIZES: Record<6 | 12 | 24 | 45, Size> = {
  6: { width: 3000, height: 2000 },
  12: { width: 4248, height: 2832 },
  24: { width: 6000, height: 4000 },
  45: { width: 8256, height: 5504 },
};

interface Source extends Size {
  rgb: Uint16Array;
}

const sources = new Map<number, Promise<Source>>();

/** A frame of the demo, by number; there are as many as one likes, since they are taken in turn. */
function sourceOf(index: number): Promise<Source> {
  const names = readdirSync(SOURCE).filter((name) => name.endsWith('.jpg'));
  const which = index % names.length;
  let source = sources.get(which);
  if (!source) {
    source = sharp(join(SOURCE, names[which]))
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true })
      .then(({ data, info }) => ({
        width: info.width,
        height: info.height,
        rgb: new Uint16Array(data.buffer, data.byteOffset, data.length / 2),
      }));
    sources.set(which, source);
  }
  return source;
}

/** A row of a frame enlarged to a size. `grainy`: it is noisy as sensors are: the lower bits of real 16-bit pictures are noise,
 * and files of them hardly get smaller. */
function enlargedRow({ width, height, rgb }: Source, size: Size, y: number, grainy: boolean, out: Uint16Array): void {
  const from = Math.floor((y * height) / size.height) * width;
  const step = width / size.width;
  let grain = y * 2654435761;
  for (let x = 0, at = 0, place = 0; x < size.width; x++, place += step) {
    const pixel = (from + Math.floor(place)) * 3;
    for (let channel = 0; channel < 3; channel++) {
      grain = (Math.imul(grain, 1664525) + 1013904223) | 0;
      const noise = grainy ? (grain >>> 8) & 511 : 0;
      out[at++] = Math.min(65535, rgb[pixel + channel] + noise);
    }
  }
}

/** Lays frames of the demo, enlarged, straight into memory.
 * @param grainy - As noisy as sensors are. */
export async function layFrames(loader: FrameLoader, size: Size, count: number, grainy = false): Promise<Frame[]> {
  const frames: Frame[] = [];
  const row = new Uint16Array(size.width * 3);
  for (let index = 0; index < count; index++) {
    const source = await sourceOf(index);
    const sha256 = keyText(keyOfText(`${size.width}:${index}${grainy ? ' grainy' : ''}`))
      .padEnd(64, '0')
      .slice(0, 64);
    const incoming = new IncomingFrame(loader, frameKey(sha256), size, 16);
    const rowOf = (y: number) => Math.floor((y * source.height) / size.height);
    for (let y = 0; y < size.height; y++) {
      // Rows of the picture are repeated downwards: one without grain is made, and laid as often as it comes.
      const isNew = grainy || y === 0 || rowOf(y) !== rowOf(y - 1);
      if (isNew) enlargedRow(source, size, y, grainy, row);
      incoming.add(new Uint8Array(row.buffer));
    }
    incoming.buildPyramid();
    frames.push(
      newFrame({
        id: FrameId.parse(`bench-${size.width}-${index}`),
        file: { sha256, name: `bench-${index}`, bytes: 1 },
        ...size,
        bits: 16,
        shot: { exposureTime: 2 ** index, fNumber: 8, iso: 100, takenAt: null, ev: index, estimated: false },
        exif: {},
      }),
    );
  }
  return frames;
}

/** Opens the frames of a folder as the application does.
 * @param folder - TIFFs, as `npm run demo:big` makes them. */
export async function openFrames(codec: Codec, folder: string): Promise<Frame[]> {
  const names = readdirSync(folder).filter((name) => name.endsWith('.tif'));
  if (names.length === 0) throw new Error(`no TIFF in ${folder}: npm run demo:big makes sets of frames`);
  const frames: Frame[] = [];
  for (const name of names.sort()) {
    const { buffer, byteOffset, byteLength } = await readFile(join(folder, name));
    const file = buffer.slice(byteOffset, byteOffset + byteLength) as ArrayBuffer;
    frames.push(await codec.load({ file, name, reading: PLAIN_READING }, undefined, () => undefined));
  }
  return frames;
}

/**
 * Paths of five 16-bit TIFFs of an enlarged frame of the demo, written once. All hold the same picture, for writing a deflated one
 * takes longer than all that is measured of it; a byte behind the picture makes each a file of its own.
 */
export async function tiffPaths(size: Size, compression: 'none' | 'deflate'): Promise<string[]> {
  const folder = join(OUT, `${size.width}-${compression}`);
  mkdirSync(folder, { recursive: true });
  const paths = Array.from({ length: 5 }, (_, index) => join(folder, `${index}.tif`));
  if (paths.every((path) => existsSync(path))) return paths;
  const source = await sourceOf(0);
  const rgb = new Uint16Array(size.width * size.height * 3);
  for (let y = 0; y < size.height; y++)
    enlargedRow(source, size, y, true, rgb.subarray(y * size.width * 3, (y + 1) * size.width * 3));
  const file = await sharp(rgb, { raw: { ...size, channels: 3 } })
    .toColourspace('rgb16')
    .tiff({ compression, predictor: compression === 'none' ? 'none' : 'horizontal' })
    .toBuffer();
  await Promise.all(paths.map((path, index) => writeFile(path, Buffer.concat([file, Buffer.of(index)]))));
  return paths;
}

/** The files' bytes. */
export async function tiffFiles(size: Size, compression: 'none' | 'deflate'): Promise<Buffer<ArrayBuffer>[]> {
  return Promise.all((await tiffPaths(size, compression)).map((path) => readFile(path)));
}
