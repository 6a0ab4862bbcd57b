import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { decodeSrgb, encodeSrgb } from '#core/color/srgb.ts';
import { betweenSpaces } from '#core/color/workingSpace.ts';
import { writeProfile } from '#core/color/writeProfile.ts';
import { times3 } from '#core/raster/matrix3.ts';
import { PLAIN_READING } from '#core/reading.ts';
import { nodeLibraries } from '../../engine/node/libraries.ts';
import { readPicture } from '../../tests/readPicture.ts';
import { keepLibraries } from '../libraries.ts';
import type { VipsModule } from '../vipsModule.ts';
import { type FileSettings, FORMAT_NAMES, formatOf, restOf } from './formats/list.ts';
import { writeXmp } from './texts.ts';
import { feedOf, type WriteOptions, writePicture } from './writePicture.ts';

const folder = mkdtempSync(join(tmpdir(), 'lusket-deliver-'));
const size = { width: 97, height: 61 };
const COUNT = size.width * size.height * 3;
/** Smooth, in all of 16 bits, other in each channel. */
const smooth = Uint16Array.from({ length: COUNT }, (_, i) => {
  const pixel = Math.floor(i / 3);
  const [x, y] = [pixel % size.width, Math.floor(pixel / size.width)];
  return Math.round(3000 + x * 500 + (i % 3) * 2500 + y * 91);
});
const rough = Uint16Array.from({ length: COUNT }, (_, i) => (i * 40503 + (i % 7) * 991) & 0xffff);

const libraries = keepLibraries(nodeLibraries);
let vips: VipsModule;
beforeAll(async () => {
  vips = await libraries.vipsMore();
});

const PLAIN: Omit<WriteOptions, 'file'> = {
  size,
  sharpening: { for: 'screen', amount: 0 },
  space: 'srgb',
  dither: false,
};

function write(
  samples: Uint16Array | Float32Array,
  file: FileSettings,
  change: Partial<WriteOptions> = {},
): Uint8Array {
  const pieces: Uint8Array[] = [];
  const written = writePicture(vips, feedOf(samples, size, 3), { ...PLAIN, file, ...change }, (bytes) =>
    pieces.push(bytes),
  );
  if (written && 'header' in written) pieces[0] = written.header;
  return Buffer.concat(pieces);
}

const saved = (name: string, bytes: Uint8Array): string => {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  return path;
};
const tool = (command: string, ...args: string[]): string =>
  execFileSync(command, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
const read = async (bytes: Uint8Array) => readPicture(libraries, bytes, PLAIN_READING);
const worst = (a: ArrayLike<number>, b: ArrayLike<number>): number => {
  let most = a.length === b.length ? 0 : Number.POSITIVE_INFINITY;
  for (let i = 0; i < a.length; i++) most = Math.max(most, Math.abs(a[i] - b[i]));
  return most;
};

describe('formats, by outside readers', () => {
  const light = Float32Array.from(smooth, (code) => 2 * decodeSrgb(code / 65535));
  const settings: [string, FileSettings][] = [
    ['tiff8', { ...restOf('tiff'), bits: 8 }],
    ['tiff16', restOf('tiff')],
    ['tiff16-lzw', { ...restOf('tiff'), compression: 'lzw' }],
    ['tiff16-none-tiles', { ...restOf('tiff'), compression: 'none', layout: 'tiles' }],
    ['tiff32', { ...restOf('tiff'), bits: 32 }],
    ['png8', { ...restOf('png'), bits: 8 }],
    ['png16', restOf('png')],
    ['jpeg', restOf('jpeg')],
    ['jpeg-progressive', { ...restOf('jpeg'), progressive: true, chroma: '4:2:0' }],
    ['webp', restOf('webp')],
    ['webp-lossless', { ...restOf('webp'), lossless: true }],
    ['avif8', { ...restOf('avif'), bits: 8 }],
    ['avif10', restOf('avif')],
    ['avif12', { ...restOf('avif'), bits: 12 }],
    ['jxl8', { ...restOf('jxl'), bits: 8 }],
    ['jxl16-lossless', { ...restOf('jxl'), lossless: true }],
    ['radiance', restOf('radiance')],
  ];
  const exif = {
    values: { Make: 'Nobody', Model: 'Box 1', ExposureTime: 1 / 15, FNumber: 11, ISO: 200 },
    tells: { camera: true, place: false, space: 'srgb' as const },
  };
  const xmp = writeXmp({
    title: 'Föhre am Ufer',
    caption: '夕暮れ',
    keywords: ['é', 'b'],
    creator: 'Ä. Ö.',
    rights: '© niemand',
  });

  it.each(settings)('%s holds the picture', async (name, file) => {
    const format = formatOf(file.format);
    const isLight = format.samples(file) === 'light';
    const bytes = write(isLight ? light : smooth, file, { exif, xmp });
    const path = saved(`${name}.${format.ending}`, bytes);
    const told = JSON.parse(tool('exiftool', '-json', '-n', path))[0];
    if (file.format === 'jxl') expect(tool('jxlinfo', path)).toMatch(/97x61/);
    else expect([told.ImageWidth, told.ImageHeight]).toEqual([97, 61]);
    if (file.format !== 'radiance') {
      expect(told.Make).toBe('Nobody');
      expect(told.ISO).toBe(200);
      expect(told.Title).toBe('Föhre am Ufer');
      expect(told.Description).toBe('夕暮れ');
      expect(told.Subject).toEqual(['é', 'b']);
      expect(told.Creator).toBe('Ä. Ö.');
      expect(told.Rights).toBe('© niemand');
    }
    const back = await read(bytes);
    const levels = back.bits === 8 ? Uint16Array.from(back.samples, (value) => value * 257) : back.samples;
    const lossless = !format.isLossy(file);
    const bits = format.samples(file);
    const allowed = isLight ? 65535 * 0.02 : lossless ? (bits === 16 ? 0 : 129) : 65535 * 0.04;
    // Light above white comes back darkened by as many thirds of a stop as it takes.
    const expected = isLight
      ? Uint16Array.from(light, (value) => 65535 * encodeSrgb(value * 2 ** -back.headroom))
      : smooth;
    expect(worst(levels, expected)).toBeLessThanOrEqual(allowed);
  });

  it.each(settings)('%s in pieces is the same file', (_, file) => {
    const samples = formatOf(file.format).samples(file) === 'light' ? light : smooth;
    const whole = write(samples, file, { exif, xmp });
    expect(Buffer.compare(write(samples, file, { exif, xmp, inPieces: true }), whole)).toBe(0);
  });

  it('is what tiffinfo, pngcheck, heif-info, webpinfo and djxl take', () => {
    const info = tool(
      'tiffinfo',
      saved('a.tif', write(rough, { ...restOf('tiff'), layout: 'tiles', compression: 'lzw' })),
    );
    expect(info).toMatch(/Tile Width: 256/);
    expect(info).toMatch(/LZW/);
    expect(tool('pngcheck', saved('a.png', write(rough, restOf('png'))))).toMatch(/^OK/);
    const avif = saved('a.avif', write(smooth, { ...restOf('avif'), bits: 12 }));
    expect(tool('avifdec', '--info', avif)).toMatch(/Bit Depth\s*: 12/);
    expect(tool('heif-info', avif)).toMatch(/image: 97x61/);
    expect(tool('webpinfo', saved('a.webp', write(smooth, restOf('webp'))))).toMatch(/No error detected/);
    const jxl = saved('a.jxl', write(rough, { ...restOf('jxl'), lossless: true }));
    tool('djxl', jxl, join(folder, 'djxl.ppm'));
    const ppm = readFileSync(join(folder, 'djxl.ppm'));
    const pixels = ppm.subarray(ppm.length - COUNT * 2);
    let off = 0;
    for (let i = 0; i < COUNT; i++) off = Math.max(off, Math.abs(pixels.readUInt16BE(2 * i) - rough[i]));
    expect(off).toBe(0);
  });

  it('says which format cannot hold a picture', () => {
    const huge = { width: 16_384, height: 2 };
    expect(() => write(smooth, restOf('webp'), { size: huge })).toThrow(/webp holds at most 16383/);
    const vast = { width: 10_000, height: 10_000 };
    expect(() => write(smooth, restOf('avif'), { size: vast })).toThrow(/up to 24 megapixels/);
  });

  it('knows every format', () => expect(FORMAT_NAMES).toHaveLength(7));
});

describe('size', () => {
  it('scales in light as a general library does, by Lanczos', async () => {
    const small = { width: 31, height: 20 };
    const back = await read(write(smooth, restOf('png'), { size: small }));
    expect([back.width, back.height]).toEqual([31, 20]);
    // sharp on light in 16 bits, encoded afterwards.
    const light = Uint16Array.from(smooth, (code) => Math.round(65535 * decodeSrgb(code / 65535)));
    const other = await sharp(light, { raw: { ...size, channels: 3 } })
      .toColourspace('rgb16')
      .resize(small.width, small.height, { kernel: 'lanczos3', fit: 'fill' })
      .raw({ depth: 'ushort' })
      .toBuffer();
    const reference = new Uint16Array(other.buffer, other.byteOffset, other.length / 2);
    const encoded = Uint16Array.from(reference, (value) => 65535 * encodeSrgb(value / 65535));
    expect(worst(back.samples, encoded)).toBeLessThan(0.004 * 65535);
  });

  it('keeps the mean of light, not of encoded values', async () => {
    const stripes = Uint16Array.from({ length: COUNT }, (_, i) => (Math.floor(i / 3) % 2 === 0 ? 65535 : 0));
    const back = await read(write(stripes, restOf('png'), { size: { width: 9, height: 6 } }));
    const middle = back.samples[3 * (3 * 9 + 4)] / 65535;
    expect(decodeSrgb(middle)).toBeCloseTo(0.5, 1);
  });

  it('sharpens more with each step, and colours nothing', async () => {
    const edge = Uint16Array.from({ length: COUNT }, (_, i) => (Math.floor(i / 3) % size.width < 48 ? 20000 : 40000));
    const reach = [];
    for (const amount of [0, 1, 2, 3]) {
      const { samples } = await read(write(edge, restOf('png'), { sharpening: { for: 'print', amount } }));
      reach.push(Math.max(...samples) - Math.min(...samples));
      const [r, g, b] = samples.slice(3 * 48, 3 * 49);
      expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThanOrEqual(1);
    }
    expect(reach).toEqual([...reach].sort((a, b) => a - b));
    expect(new Set(reach).size).toBe(4);
  });
});

describe('dither', () => {
  /** A sky that has nine levels over its width. */
  const sky = Uint16Array.from({ length: COUNT }, (_, i) => 20000 + (Math.floor(i / 3) % size.width) * 24);
  const columns = async (dither: boolean) => {
    const { samples } = await read(write(sky, { ...restOf('png'), bits: 8 }, { dither }));
    return Array.from({ length: size.width }, (_, x) => {
      let sum = 0;
      for (let y = 0; y < size.height; y++) sum += samples[3 * (y * size.width + x)];
      return sum / size.height;
    });
  };

  it('follows a ramp between its levels, where plain rounding makes bands', async () => {
    const exact = Array.from({ length: size.width }, (_, x) => (20000 + x * 24) / 257);
    const off = (means: number[]) => Math.max(...means.map((mean, x) => Math.abs(mean - exact[x])));
    const [plain, dithered] = [await columns(false), await columns(true)];
    expect(off(plain)).toBeGreaterThan(0.4);
    // 61 rows of noise of half a level's deviation, doubled by rounding: five deviations of their mean.
    expect(off(dithered)).toBeLessThan(0.45);
    const rms = (means: number[]) => Math.hypot(...means.map((mean, x) => mean - exact[x])) / Math.sqrt(means.length);
    expect(rms(dithered)).toBeLessThan(rms(plain) / 2.5);
  });

  it('is the same each time', () => {
    const file = { ...restOf('png'), bits: 8 };
    expect(Buffer.compare(write(sky, file, { dither: true }), write(sky, file, { dither: true }))).toBe(0);
  });
});

describe('spaces', () => {
  it('writes opRGB with its own curve, as Little CMS reads it', async () => {
    const bytes = write(smooth, restOf('tiff'), { space: 'oprgb' });
    // Its numbers are those of a profile of the same space that a distribution carries.
    vips.FS.writeFile('/outside.icc', readFileSync('/usr/share/color/icc/colord/AdobeRGB1998.icc'));
    const numbers = vips.Image.newFromBuffer(bytes);
    const outside = numbers.iccTransform('srgb', { input_profile: '/outside.icc', embedded: false, depth: 16 });
    const memory = outside.writeToMemory();
    const shown = new Uint16Array(memory.buffer.slice(memory.byteOffset, memory.byteOffset + memory.byteLength));
    const matrix = betweenSpaces('oprgb', 'srgb');
    const expected = new Uint16Array(COUNT);
    for (let i = 0; i < COUNT; i += 3)
      for (const [channel, light] of times3(
        matrix,
        [0, 1, 2].map((at) => decodeSrgb(smooth[i + at] / 65535)),
      ).entries())
        expected[i + channel] = Math.round(65535 * encodeSrgb(Math.min(1, Math.max(0, light))));
    expect(worst(shown, expected)).toBeLessThan(257);
    const told = tool('exiftool', '-s', '-s', '-s', '-ProfileDescription', saved('op.tif', bytes));
    expect(told.trim()).toBe('opRGB');
    // Greys are the same in both.
    const grey = Uint16Array.from({ length: COUNT }, (_, i) => 6000 + Math.floor(i / 3) * 9);
    const back = await read(write(grey, restOf('tiff'), { space: 'oprgb' }));
    expect(worst(back.samples, grey)).toBeLessThan(40);
  });

  it("converts to the user's profile", async () => {
    const own = { profile: writeProfile('display-p3'), intent: 'relative', blackPoint: true } as const;
    const bytes = write(smooth, restOf('tiff'), { own });
    expect(tool('exiftool', '-s', '-s', '-s', '-ProfileDescription', saved('own.tif', bytes)).trim()).toBe(
      'Display P3',
    );
    // Read back it is the picture again: sRGB lies within.
    const back = await read(bytes);
    expect(worst(back.samples, smooth)).toBeLessThan(600);
  });
});
