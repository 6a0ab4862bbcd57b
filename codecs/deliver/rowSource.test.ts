import alea from 'alea';
import { beforeAll, describe, expect, it } from 'vitest';
import { nodeLibraries } from '../../engine/node/libraries.ts';
import { DecodeError } from '../decodeError.ts';
import { keeper, type VipsModule } from '../vipsModule.ts';
import { FORMAT_NAMES, formatOf, restOf } from './formats/list.ts';
import { openRows, type RowFeed, type RowKind } from './rowSource.ts';
import { type WriteOptions, writePicture } from './writePicture.ts';

let vips: VipsModule;
beforeAll(async () => {
  vips = await nodeLibraries.vipsMore();
});

/** Noise whose rows come in one piece of memory again and again, in bands of uneven height. */
function unevenFeed(width: number, height: number, channels: number, kind: RowKind) {
  const random = alea(`${width} ${height} ${channels} ${kind}`);
  const count = width * height * channels;
  const samples =
    kind === 'codes'
      ? Uint16Array.from({ length: count }, () => random() * 65536)
      : Float32Array.from({ length: count }, () => random() * 5 - 1);
  const most = 1 + Math.floor(height / 3);
  const memory = samples.slice(0, most * width * channels);
  let row = 0;
  const next = () => {
    const rows = Math.min(height - row, 1 + ((row * 5) % most));
    const part = samples.subarray(row * width * channels, (row + rows) * width * channels);
    memory.fill(0);
    memory.set(part as never);
    row += rows;
    return memory.subarray(0, part.length);
  };
  const feed: RowFeed = { width, height, channels, kind, next };
  return { samples, feed };
}

describe('rows that come one band after the other', () => {
  // Wide ones have few rows to what is read at a time, and bands end within it.
  it.each([
    [7, 1, 3, 'codes'],
    [33, 901, 1, 'codes'],
    [3001, 700, 3, 'codes'],
    [2001, 1100, 4, 'codes'],
    [1501, 640, 3, 'light'],
    [1001, 350, 1, 'light'],
    [300_001, 5, 4, 'codes'],
  ] as const)('%i x %i with %i channels of %s are the picture', (width, height, channels, kind) => {
    const { samples, feed } = unevenFeed(width, height, channels, kind);
    const { keep, close } = keeper();
    try {
      const image = openRows(vips, feed, keep, (error) => {
        throw error;
      });
      expect([image.width, image.height, image.bands]).toEqual([width, height, channels]);
      const bytes = image.writeToMemory();
      const read = kind === 'codes' ? new Uint16Array(bytes.slice().buffer) : new Float32Array(bytes.slice().buffer);
      expect(read.length).toBe(samples.length);
      let wrong = 0;
      for (let i = 0; i < read.length; i++) if (read[i] !== samples[i]) wrong++;
      expect(wrong).toBe(0);
    } finally {
      close();
    }
  });

  it('of more than four gigabytes are read as well', () => {
    const { keep, close } = keeper();
    try {
      const [width, height, channels] = [60_000, 10_000, 4];
      const band = new Uint16Array(width * channels * 4);
      band[1] = 40_000;
      const feed: RowFeed = { width, height, channels, kind: 'codes', next: () => band };
      const image = openRows(vips, feed, keep, (error) => {
        throw error;
      });
      expect([image.width, image.height, image.bands]).toEqual([width, height, channels]);
      // Only as much is read as is looked at.
      expect(keep(image.crop(0, 0, 8, 2)).getpoint(0, 0)).toEqual([0, 40_000, 0, 0]);
    } finally {
      close();
    }
  });

  it.each(FORMAT_NAMES)('and stop in the middle stop %s, which says why', (format) => {
    const file = restOf(format);
    const kind = formatOf(format).samples(file) === 'light' ? 'light' : 'codes';
    const size = { width: 2000, height: 3000 };
    let asked = 0;
    const next = () => {
      if (asked++ > 0) throw new DecodeError('cancelled', 'after a band');
      return new (kind === 'light' ? Float32Array : Uint16Array)(size.width * 3 * 300);
    };
    const feed: RowFeed = { ...size, channels: 3, kind, next };
    const options: WriteOptions = {
      file,
      size,
      sharpening: { for: 'screen', amount: 0 },
      space: 'srgb',
      dither: false,
    };
    expect(() => writePicture(vips, feed, options, () => undefined)).toThrow(/cancelled: after a band/);
    expect(asked).toBe(2);
  });
});
