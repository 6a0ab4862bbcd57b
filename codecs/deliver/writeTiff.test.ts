import { execFileSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, rmSync, statSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { nodeLibraries } from '../../engine/node/libraries.ts';
import { keepLibraries } from '../libraries.ts';
import { keeper, type VipsModule } from '../vipsModule.ts';
import { openRows, type RowFeed } from './rowSource.ts';
import { type Field, firstDirectory, headerBytes, moved } from './tiffFile.ts';
import { TiffTap } from './tiffTap.ts';
import { feedOf } from './writePicture.ts';
import { writeTiff } from './writeTiff.ts';

const folder = mkdtempSync(join(tmpdir(), 'lusket-tiff-'));
let vips: VipsModule;
beforeAll(async () => {
  vips = await keepLibraries(nodeLibraries).vips();
});
afterAll(() => rmSync(folder, { recursive: true }));

const never = (error: unknown) => {
  throw error;
};
const told = (fields: readonly Field[]) => fields.map(({ bytes, ...field }) => ({ ...field, bytes: [...bytes] }));

describe('a TIFF that is handed on as it comes', () => {
  const size = { width: 611, height: 433 };
  const samples = Uint16Array.from(
    { length: size.width * size.height * 3 },
    (_, i) => (i * 40503 + (i % 7) * 991) & 0xffff,
  );

  it.each([
    { compression: 'none' },
    { compression: 'deflate' },
    { compression: 'deflate', bigtiff: true },
    { compression: 'none', tile: true, tile_width: 64, tile_height: 64 },
    { compression: 'lzw', tile: true, tile_width: 64, tile_height: 64 },
  ])('lies where it lies in one piece, however often counting begins anew: %o', (settings) => {
    const { keep, close } = keeper();
    try {
      const image = () => openRows(vips, feedOf(samples, size, 3), keep, never);
      const whole = Buffer.from(image().tiffsaveBuffer(settings));
      const expected = moved(
        firstDirectory((at, length) => whole.subarray(at, at + length)),
        -headerBytes(whole),
      );
      for (const lap of [1000, 33_333, 400_001, 2 ** 30]) {
        const pieces: Uint8Array[] = [];
        const tap = new TiffTap(vips, (bytes) => pieces.push(bytes), lap);
        keep(tap.target);
        image().tiffsaveTarget(tap.target, settings);
        const { fields, length } = tap.finish();
        expect(told(fields)).toEqual(told(expected));
        const all = Buffer.concat(pieces);
        expect(all.length).toBe(length);
        const from = headerBytes(whole);
        // All but the directory, whose places are told of another lap.
        const pixelsEnd = whole.length - from - 2000;
        expect(Buffer.compare(all.subarray(0, pixelsEnd), whole.subarray(from, from + pixelsEnd))).toBe(0);
      }
    } finally {
      close();
    }
  });

  it('that the library made a BigTIFF, and need not be one, is classic', async () => {
    const { keep, close } = keeper();
    try {
      const image = openRows(vips, feedOf(samples, size, 3), keep, never);
      const settings = { compression: 'deflate', tile: true, tile_width: 64, tile_height: 64, bigtiff: true };
      const pieces: Uint8Array[] = [];
      const written = writeTiff(
        vips,
        image,
        { settings, inPieces: true },
        (bytes) => pieces.push(bytes),
        () => undefined,
      );
      if (!written || !('header' in written)) throw new Error('it leads nowhere');
      pieces[0] = written.header;
      const file = Buffer.concat(pieces);
      const types = firstDirectory((at, length) => file.subarray(at, at + length)).map(({ type }) => type);
      expect([file.readUInt16LE(2), types.includes(16)]).toEqual([42, false]);
      // Types in the file itself: a reader of classic files knows none of eight bytes.
      const at = file.readUInt32LE(4);
      const told = Array.from({ length: file.readUInt16LE(at) }, (_, i) => file.readUInt16LE(at + 4 + 12 * i));
      expect(Math.max(...told)).toBeLessThanOrEqual(12);
      const { data } = await sharp(file)
        .toColourspace('rgb16')
        .raw({ depth: 'ushort' })
        .toBuffer({ resolveWithObject: true });
      expect(Buffer.compare(data, Buffer.from(samples.buffer))).toBe(0);
    } finally {
      close();
    }
  });

  it('past four gigabytes is a BigTIFF, which other programs read to its end', async () => {
    const { keep, close } = keeper();
    const path = join(folder, 'big.tif');
    const file = openSync(path, 'w');
    try {
      // Black but for a pixel in its last row; enlarged by the library, since what is handed to it stays below.
      const [width, height, times] = [12_000, 3_800, 4];
      const rows = 100;
      let band = 0;
      const next = () => {
        const samples = new Uint16Array(width * 3 * rows);
        if (++band === height / rows) samples.set([1000, 2000, 3000], samples.length - 3 * 7);
        return samples;
      };
      const feed: RowFeed = { width, height, channels: 3, kind: 'codes', next };
      const image = keep(openRows(vips, feed, keep, never).zoom(times, times));
      let at = 0;
      const nothing = Buffer.alloc(2 ** 22);
      const put = (bytes: Uint8Array) => {
        // What is black leaves a hole, so that the disk holds it.
        for (let from = 0; from < bytes.length; from += nothing.length) {
          const part = bytes.subarray(from, from + nothing.length);
          if (Buffer.compare(part, nothing.subarray(0, part.length)) !== 0) writeSync(file, part, 0, part.length, at);
          at += part.length;
        }
      };
      const written = writeTiff(
        vips,
        image,
        { settings: { compression: 'none' }, inPieces: true },
        put,
        () => undefined,
      );
      if (!written || !('header' in written)) throw new Error('it leads nowhere');
      writeSync(file, written.header, 0, written.header.length, 0);
      const bytes = width * height * times * times * 6;
      expect(bytes).toBeGreaterThan(2 ** 32);
      expect(at).toBeGreaterThan(bytes);
      expect(statSync(path).size).toBe(at);
      expect([...written.header.subarray(0, 4)]).toEqual([0x49, 0x49, 43, 0]);
      expect(execFileSync('tiffinfo', [path], { encoding: 'utf8' })).toMatch(/Image Width: 48000 Image Length: 15200/);
      const corner = { left: (width - 7) * times, top: height * times - 1, width: 5, height: 1 };
      const read = sharp(path, { limitInputPixels: false, ignoreIcc: true }).extract(corner).toColourspace('rgb16');
      const { data } = await read.raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
      const pixels = [...new Uint16Array(data.buffer, data.byteOffset, data.length / 2)];
      const mark = [1000, 2000, 3000];
      expect(pixels).toEqual([...mark, ...mark, ...mark, ...mark, 0, 0, 0]);
    } finally {
      closeSync(file);
      close();
    }
  }, 120_000);
});
