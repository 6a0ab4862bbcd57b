import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PLAIN_READING } from '#core/reading.ts';
import { nodeLibraries } from '../engine/node/libraries.ts';
import { readPicture } from '../tests/readPicture.ts';
import { DecodeError } from './decodeError.ts';
import { encodeWhole } from './deliver/encodeWhole.ts';
import { restOf } from './deliver/formats/list.ts';
import { buildExifBlock, toRational } from './exifBlock.ts';
import { keepLibraries } from './libraries.ts';
import { readShotData } from './shotData.ts';
import type { VipsModule } from './vipsModule.ts';

const folder = mkdtempSync(join(tmpdir(), 'lusket-'));
const size = { width: 97, height: 61 };
const exif = {
  ExposureTime: 1 / 15,
  FNumber: 11,
  ISO: 200,
  DateTimeOriginal: '2025:10:12 06:41:07',
  FocalLength: 24,
  ExposureBiasValue: -2 / 3,
  Make: 'Nobody',
  Model: 'Box 1',
  LensModel: 'Plain 24',
};

/** A picture without symmetry, in all of 16 bits. */
const picture = Uint16Array.from(
  { length: size.width * size.height * 3 },
  (_, i) => (i * 40503 + (i % 7) * 991) & 0xffff,
);
/** A smooth picture, for formats that lose detail. */
const smooth = Uint16Array.from(
  { length: size.width * size.height * 3 },
  (_, i) => 8000 + (Math.floor(i / 3) % size.width) * 400 + (i % 3) * 3000,
);

const libraries = keepLibraries(nodeLibraries);
let vips: VipsModule;
beforeAll(async () => {
  vips = await libraries.vips();
});
afterAll(() => vips.shutdown());

/** What decoders that know nothing beside the pixels say. */
const NOTHING = { exif: null, shot: {}, headroom: 0 };

interface Decoded {
  size: { format: string; width: number; height: number; bits: number };
  pixels: Uint16Array;
}

async function decode(bytes: Uint8Array, isCancelled = () => false): Promise<Decoded> {
  const { format, width, height, bits, samples } = await readPicture(libraries, bytes, PLAIN_READING, isCancelled);
  const pixels = Uint16Array.from(samples, (value) => (bits === 16 ? value : value * 257));
  return { size: { format, width, height, bits }, pixels };
}

const encode = (image: Uint16Array, format: 'tiff' | 'png' | 'jpeg') =>
  encodeWhole(vips, image, size, {
    file: { ...restOf(format), ...(format === 'jpeg' ? { quality: 95 } : {}) },
    exif,
  });
const rawSharp = (image: Uint16Array) => sharp(image, { raw: { ...size, channels: 3 } }).toColourspace('rgb16');
const codeOf = async (work: () => Promise<unknown>): Promise<string> => {
  try {
    await work();
    return 'none';
  } catch (error) {
    return error instanceof DecodeError ? error.code : `other: ${error}`;
  }
};
const tool = (command: string, ...args: string[]) =>
  execFileSync(command, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
const write = (name: string, bytes: Uint8Array): string => {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  return path;
};

describe('reading', () => {
  const tall = { width: 90, height: 700 };
  const samples = Uint16Array.from({ length: tall.width * tall.height * 3 }, (_, i) => (i * 40503) & 0xffff);
  const from16 = () => sharp(samples, { raw: { ...tall, channels: 3 } }).toColourspace('rgb16');
  const from8 = () =>
    sharp(
      Uint8Array.from(samples, (value) => value >> 8),
      { raw: { ...tall, channels: 3 } },
    );
  it.each([
    ['TIFF', () => from16().tiff({ compression: 'none' })],
    ['TIFF, LZW', () => from16().tiff({ compression: 'lzw' })],
    ['TIFF, deflated, with a predictor', () => from16().tiff({ compression: 'deflate', predictor: 'horizontal' })],
    ['TIFF in tiles', () => from16().tiff({ compression: 'deflate', tile: true, tileWidth: 64, tileHeight: 96 })],
    ['TIFF in JPEG', () => from8().tiff({ compression: 'jpeg', quality: 95 })],
    ['PNG', () => from16().png()],
    ['interlaced PNG', () => from16().png({ progressive: true })],
    ['JPEG', () => from8().jpeg({ quality: 95 })],
    ['progressive JPEG', () => from8().jpeg({ quality: 95, progressive: true })],
  ])('takes a picture taller than one strip from top to bottom: %s', async (_name, made) => {
    const bytes = await made().toBuffer();
    const { size: found, pixels } = await decode(bytes);
    expect([found.width, found.height, pixels.length]).toEqual([tall.width, tall.height, samples.length]);
    const { data } = await sharp(bytes)
      .toColourspace(found.bits === 16 ? 'rgb16' : 'srgb')
      .raw({ depth: found.bits === 16 ? 'ushort' : 'uchar' })
      .toBuffer({ resolveWithObject: true });
    const theirs =
      found.bits === 16
        ? new Uint16Array(data.buffer, data.byteOffset, samples.length)
        : Uint16Array.from(data, (value) => value * 257);
    // Decoders of JPEG may round differently.
    const allowed = /JPEG/.test(_name) ? 3 * 257 : 0;
    for (let i = 0; i < theirs.length; i++)
      if (Math.abs(pixels[i] - theirs[i]) > allowed) expect.unreachable(`sample ${i}: ${pixels[i]}, not ${theirs[i]}`);
  });

  it.each(['none', 'lzw', 'deflate'] as const)(
    'takes a 16-bit TIFF (%s) of another writer sample by sample',
    async (compression) => {
      const bytes = await rawSharp(picture).tiff({ compression }).toBuffer();
      const { size: found, pixels } = await decode(bytes);
      expect(found).toEqual({ format: 'tiff', ...size, bits: 16 });
      expect(pixels).toEqual(picture);
    },
  );

  it('takes a 16-bit PNG of another writer sample by sample', async () => {
    expect((await decode(await rawSharp(picture).png().toBuffer())).pixels).toEqual(picture);
  });

  it('takes a JPEG as another reader does, each 8-bit value spread to 257 times itself', async () => {
    const bytes = await sharp(
      picture.map((v) => v >> 8),
      { raw: { ...size, channels: 3 } },
    )
      .toColourspace('srgb')
      .jpeg({ quality: 90 })
      .toBuffer();
    const theirs = await sharp(bytes).raw().toBuffer();
    const { pixels, size: found } = await decode(bytes);
    expect(found.bits).toBe(8);
    let worst = 0;
    for (let i = 0; i < pixels.length; i++) worst = Math.max(worst, Math.abs(pixels[i] / 257 - theirs[i]));
    expect(worst).toBeLessThanOrEqual(1); // decoders may round the inverse transform differently by one
  });

  it('makes equal channels of grey, and leaves alpha out', async () => {
    const grey = await sharp(Buffer.alloc(12, 100), { raw: { width: 4, height: 3, channels: 1 } })
      .toColourspace('b-w')
      .png()
      .toBuffer();
    expect((await decode(grey)).pixels).toEqual(new Uint16Array(36).fill(100 * 257));
    const clear = await sharp({
      create: { width: 4, height: 3, channels: 4, background: { r: 10, g: 20, b: 30, alpha: 0.5 } },
    })
      .png()
      .toBuffer();
    expect([...(await decode(clear)).pixels.subarray(0, 3)]).toEqual([10 * 257, 20 * 257, 30 * 257]);
  });

  it('turns a picture upright as its EXIF says', async () => {
    const bytes = await sharp({ create: { width: 30, height: 20, channels: 3, background: 'red' } })
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    expect((await decode(bytes)).size).toMatchObject({ width: 20, height: 30 });
  });

  it('converts a picture with another profile to sRGB, as a general image library does', async () => {
    const bytes = await sharp({ create: { width: 8, height: 8, channels: 3, background: { r: 60, g: 180, b: 90 } } })
      .withIccProfile('p3')
      .png()
      .toBuffer();
    const theirs = await sharp(bytes).toColourspace('srgb').raw().toBuffer();
    const { pixels } = await decode(bytes);
    for (let c = 0; c < 3; c++) expect(Math.abs(pixels[c] / 257 - theirs[c])).toBeLessThanOrEqual(1.5);
  });

  it('stops when told to', async () => {
    const bytes = await rawSharp(picture).tiff().toBuffer();
    expect(await codeOf(() => decode(bytes, () => true))).toBe('cancelled');
  });
});

describe('bad files', () => {
  it('are told apart: empty, of another kind, of an unsupported kind', async () => {
    expect(await codeOf(() => decode(new Uint8Array()))).toBe('empty');
    expect(await codeOf(() => decode(new TextEncoder().encode('not a picture at all')))).toBe('unknown-format');
    const float = await sharp(
      Float32Array.from({ length: 48 }, () => 0.5),
      { raw: { width: 4, height: 4, channels: 3 } },
    )
      .tiff()
      .toBuffer()
      .catch(() => undefined);
    if (float) expect(['unsupported', 'none']).toContain(await codeOf(() => decode(float)));
    const cmyk = await sharp({ create: { width: 4, height: 4, channels: 3, background: 'red' } })
      .toColourspace('cmyk')
      .jpeg()
      .toBuffer();
    expect(await codeOf(() => decode(cmyk))).toBe('unsupported');
  });

  it.each(['tiff', 'png', 'jpeg'] as const)(
    'cut short anywhere, a %s is damaged and never half a picture',
    async (format) => {
      const whole = encode(smooth, format);
      // The last bytes of a TIFF and a PNG are not pixels: a picture may be whole without them.
      const pixelsEnd = format === 'jpeg' ? whole.length - 2 : Math.floor(whole.length * 0.6);
      for (let length = 4; length < pixelsEnd; length += Math.max(1, Math.floor(whole.length / 60))) {
        const code = await codeOf(() => decode(whole.subarray(0, length)));
        expect(code, `${length} of ${whole.length} bytes`).toMatch(/^(damaged|unknown-format|unsupported)$/);
      }
    },
  );

  it('with changed bytes give a frame or a named error, never anything else', async () => {
    const whole = encode(smooth, 'png');
    for (let seed = 1; seed < 150; seed++) {
      const broken = whole.slice();
      for (let k = 0; k < 4; k++) broken[(seed * 7919 * (k + 1)) % broken.length] ^= 1 << (seed % 8);
      expect(await codeOf(() => decode(broken))).toMatch(/^(none|damaged|unknown-format|unsupported|too-large)$/);
    }
  });

  it('that claim an absurd size are refused before memory is taken', async () => {
    const png = encode(smooth, 'png').slice();
    new DataView(png.buffer).setUint32(16, 400_000);
    expect(await codeOf(() => decode(png))).toMatch(/too-large|damaged/);
  });
});

describe('shot data', () => {
  it.each(['tiff', 'png', 'jpeg'] as const)('written to a %s comes back', async (format) => {
    const { shot, exif: back } = await readShotData(encode(smooth, format), NOTHING);
    expect(shot).toMatchObject({ exposureTime: 1 / 15, fNumber: 11, iso: 200, takenAt: '2025-10-12T06:41:07' });
    expect(back.LensModel).toBe('Plain 24');
  });

  it('is nulls where there is none', async () => {
    const bytes = await rawSharp(picture).png().toBuffer();
    expect((await readShotData(bytes, NOTHING)).shot).toEqual({
      exposureTime: null,
      fNumber: null,
      iso: null,
      takenAt: null,
      ev: null,
      estimated: false,
    });
    expect((await readShotData(new Uint8Array([1, 2, 3]), NOTHING)).exif).toEqual({});
  });

  it.each([
    [1 / 60, [1, 60]],
    [1 / 8000, [1, 8000]],
    [0.3, [3, 10]],
    [2.5, [25, 10]],
    [30, [30, 1]],
  ])('writes %f as a ratio', (value, ratio) => {
    expect(toRational(value)).toEqual(ratio);
  });
});

describe('writing, read back by the Debian tools', () => {
  it('a TIFF: 16 bits, three samples, a profile and the Exif directory', async () => {
    const path = write('out.tif', encode(picture, 'tiff'));
    const info = tool('tiffinfo', path);
    expect(info).toMatch(/Image Width: 97 Image Length: 61/);
    expect(info).toMatch(/Bits\/Sample: 16/);
    expect(info).toMatch(/Samples\/Pixel: 3/);
    expect(info).toMatch(/ICC Profile/);
    expect((await decode(readFileSync(path))).pixels).toEqual(picture);
  });

  it('a PNG without a fault', async () => {
    const report = tool('pngcheck', '-v', write('out.png', encode(picture, 'png')));
    expect(report).toMatch(/97 x 61 image, 48-bit RGB/);
    expect(report).toMatch(/No errors detected/);
    expect(report).toMatch(/chunk iCCP/);
    expect((await decode(readFileSync(join(folder, 'out.png')))).pixels).toEqual(picture);
  });

  it.each([
    ['tif', 'tiff'],
    ['png', 'png'],
    ['jpg', 'jpeg'],
  ] as const)('the shot data of a .%s', (ending, format) => {
    const path = write(`exif.${ending}`, encode(smooth, format));
    const [tags] = JSON.parse(tool('exiftool', '-j', '-n', path));
    expect(tags.ExposureTime).toBeCloseTo(1 / 15, 6);
    expect(tags).toMatchObject({
      FNumber: 11,
      ISO: 200,
      DateTimeOriginal: '2025:10:12 06:41:07',
      FocalLength: 24,
      Make: 'Nobody',
    });
    expect(tags.ExposureCompensation).toBeCloseTo(-2 / 3, 4);
    expect(tags.ProfileDescription).toMatch(/sRGB/);
    expect(tool('exiftool', '-validate', '-warning', '-error', '-a', path)).not.toMatch(/Error/);
  });

  it('a JPEG close to what went in', async () => {
    const { pixels } = await decode(encode(smooth, 'jpeg'));
    let sum = 0;
    for (let i = 0; i < pixels.length; i++) sum += Math.abs(pixels[i] - smooth[i]);
    expect(sum / pixels.length / 257).toBeLessThan(1.5);
  });

  it('an EXIF block that stands alone', () => {
    const block = buildExifBlock({});
    expect([...block.subarray(0, 4)]).toEqual([0x4d, 0x4d, 0, 42]);
  });
});
