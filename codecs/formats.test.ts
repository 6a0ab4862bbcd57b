import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { decodeSrgb, encodeSrgb } from '#core/color/srgb.ts';
import { betweenSpaces } from '#core/color/workingSpace.ts';
import { times3 } from '#core/raster/matrix3.ts';
import { PLAIN_READING, type Reading } from '#core/reading.ts';
import { encodeDng } from '../demo/camera/dng.ts';
import { nodeLibraries } from '../engine/node/libraries.ts';
import { readPicture } from '../tests/readPicture.ts';
import { recogniseFormat } from './format.ts';
import { keepLibraries } from './libraries.ts';
import { readShotData } from './shotData.ts';
import type { VipsModule } from './vipsModule.ts';

const libraries = keepLibraries(nodeLibraries);
const folder = mkdtempSync(join(tmpdir(), 'lusket-'));
const size = { width: 97, height: 61 };
const COUNT = size.width * size.height * 3;
const picture = Uint16Array.from({ length: COUNT }, (_, i) => (i * 40503 + (i % 7) * 991) & 0xffff);

let vips: VipsModule;
beforeAll(async () => {
  vips = await libraries.vipsMore();
});

const read = (bytes: Uint8Array, reading?: Reading) => readPicture(libraries, bytes, reading);

const worst = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0);

/** A picture in the writer's library, of 16 bits or of floats. */
const rgb16 = () =>
  vips.Image.newFromMemory(picture, size.width, size.height, 3, vips.BandFormat.ushort).copy({
    interpretation: 'rgb16',
  });
const floats = (samples: Float32Array) =>
  vips.Image.newFromMemory(samples, size.width, size.height, 3, vips.BandFormat.float).copy({
    interpretation: 'scrgb',
  });
const rgb8 = () =>
  sharp(
    Uint8Array.from(picture, (value) => value >> 8),
    { raw: { ...size, channels: 3 } },
  );

describe('formats of pictures', () => {
  it('WebP without loss', async () => {
    const { format, bits, samples } = await read(await rgb8().webp({ lossless: true }).toBuffer());
    expect([format, bits]).toEqual(['webp', 8]);
    expect(
      worst(
        samples,
        Uint8Array.from(picture, (value) => value >> 8),
      ),
    ).toBe(0);
  });

  it('JPEG XL of 16 bits without loss', async () => {
    const { format, fileBits, samples } = await read(rgb16().writeToBuffer('.jxl', { lossless: true }));
    expect([format, fileBits]).toEqual(['jxl', 16]);
    expect(worst(samples, picture)).toBe(0);
  });

  it('AVIF of 12 bits, its white being white', async () => {
    const white = vips.Image.newFromMemory(
      new Uint16Array(COUNT).fill(65535),
      size.width,
      size.height,
      3,
      vips.BandFormat.ushort,
    );
    const { format, samples } = await read(
      white.copy({ interpretation: 'rgb16' }).writeToBuffer('.avif', { bitdepth: 12, lossless: true }),
    );
    expect(format).toBe('avif');
    expect(worst(samples, new Uint16Array(COUNT).fill(65535))).toBe(0);
    const deep = await read(rgb16().writeToBuffer('.avif', { bitdepth: 12, lossless: true }));
    expect(worst(deep.samples, picture)).toBeLessThan(2 * 16);
  });

  it('AVIF of 8 bits as another reader has it', async () => {
    const bytes = await rgb8().avif({ lossless: true }).toBuffer();
    const theirs = await sharp(bytes).raw().toBuffer();
    expect(worst((await read(bytes)).samples, theirs)).toBeLessThanOrEqual(1);
  });

  it('HEIC as the maker of another program meant it', async () => {
    const [png, heic] = [join(folder, 'a.png'), join(folder, 'a.heic')];
    const even = { width: 96, height: 60 };
    const smooth = Uint8Array.from({ length: even.width * even.height * 3 }, (_, i) => ((i / 3) % 96) * 2 + 20);
    writeFileSync(
      png,
      await sharp(smooth, { raw: { ...even, channels: 3 } })
        .png()
        .toBuffer(),
    );
    execFileSync('heif-enc', ['-q', '95', png, '-o', heic], { stdio: 'ignore' });
    const { format, width, height, samples } = await read(readFileSync(heic));
    expect([format, width, height]).toEqual(['heic', 96, 60]);
    expect(worst(samples, smooth)).toBeLessThanOrEqual(4);
  });
});

describe('light beyond white', () => {
  const light = Float32Array.from({ length: COUNT }, (_, i) => ((i % 501) / 500) ** 2 * 5);
  const brightest = 5;

  it.each([
    ['TIFF of floats', '.tif', 0],
    ['JPEG XL of floats', '.jxl', 0.0003], // its profile of linear light has rounded numbers
    ['Radiance', '.hdr', 0.01],
  ])('of a %s is kept by darkening the frame in thirds of a stop', async (_title, ending, loss) => {
    const image = ending === '.hdr' ? floats(light).float2rad() : floats(light);
    const bytes = image.writeToBuffer(ending, ending === '.jxl' ? { lossless: true } : {});
    const { headroom, fileBits, bits, samples } = await read(bytes);
    expect(bits).toBe(16);
    if (ending !== '.hdr') expect(fileBits).toBe(32);
    expect(headroom).toBeGreaterThanOrEqual(Math.log2(brightest) - 0.01);
    expect(headroom).toBeLessThan(Math.log2(brightest) + 0.34);
    expect(headroom * 3).toBeCloseTo(Math.round(headroom * 3), 6);
    const wanted = Array.from(light, (value) => encodeSrgb(value * 2 ** -headroom) * 65535);
    expect(worst(samples, wanted)).toBeLessThanOrEqual(1 + loss * 65535);
  });

  it('leaves a picture as it is that has none, and takes what is no number for black', async () => {
    const odd = Float32Array.from({ length: COUNT }, (_, i) => (i === 5 ? Number.NaN : i === 6 ? -3 : 0.25));
    const { headroom, samples } = await read(floats(odd).writeToBuffer('.tif'));
    expect(headroom).toBe(0);
    expect([samples[5], samples[6]]).toEqual([0, 0]);
    expect(samples[7]).toBe(Math.round(encodeSrgb(0.25) * 65535));
  });

  it('darkens the brightness that the shot data tell of', async () => {
    const exif = { ExposureTime: 1, FNumber: 1, ISO: 100 };
    const picture = { exif: null, shot: { exposureTime: 1, fNumber: 1, iso: 100 }, headroom: 2 };
    expect((await readShotData(new Uint8Array(), picture)).shot.ev).toBe(-2);
    expect(exif.ISO).toBe(100);
  });
});

describe('camera raw', () => {
  const sensor = { width: 400, height: 300 };
  const facts = {
    exposureTime: 1 / 125,
    fNumber: 8,
    iso: 200,
    takenAt: '2025:10:12 06:41:07',
    asShotNeutral: [1, 1, 1],
    blackLevel: 512,
    whiteLevel: 60512,
  } as const;
  const mosaic = (red: number, green: number, blue: number) =>
    Uint16Array.from({ length: sensor.width * sensor.height }, (_, i) => {
      const [x, y] = [i % sensor.width, Math.floor(i / sensor.width)];
      return 512 + [red, green, green, blue][(y & 1) * 2 + (x & 1)];
    });

  it.each(['fine', 'fast'] as const)('a DNG with known values, developed the %s way', async (demosaic) => {
    const bytes = encodeDng(mosaic(20000, 10000, 5000), sensor, facts);
    const { format, width, height, samples } = await read(bytes, { ...PLAIN_READING, demosaic });
    expect([format, width, height]).toEqual(['dng', 400, 300]);
    const at = (150 * width + 200) * 3;
    const wanted = [20000, 10000, 5000].map((value) => encodeSrgb(value / 60000) * 65535);
    // The decoder computes colours in whole numbers of 16-bit linear light.
    expect(worst(samples.subarray(at, at + 3), wanted)).toBeLessThanOrEqual(6);
  });

  it('is scaled where its scene is of another size, and never squashed', async () => {
    const bytes = encodeDng(mosaic(20000, 10000, 5000), sensor, facts);
    const scaleTo = { width: 200, height: 150 };
    const { width, height, samples } = await read(bytes, { ...PLAIN_READING, scaleTo });
    expect({ width, height, samples: samples.length }).toEqual({ ...scaleTo, samples: 200 * 150 * 3 });
    const wanted = [20000, 10000, 5000].map((value) => encodeSrgb(value / 60000) * 65535);
    expect(worst(samples.subarray((75 * 200 + 100) * 3, (75 * 200 + 100) * 3 + 3), wanted)).toBeLessThanOrEqual(6);
    const squashed = read(bytes, { ...PLAIN_READING, scaleTo: { width: 200, height: 200 } });
    await expect(squashed).rejects.toMatchObject({ code: 'size-differs' });
  });

  it("keeps the camera's white balance", async () => {
    const bytes = encodeDng(mosaic(10000, 20000, 5000), sensor, { ...facts, asShotNeutral: [0.5, 1, 0.25] });
    const { samples } = await read(bytes);
    const at = (150 * 400 + 200) * 3;
    expect(worst(samples.subarray(at, at + 3), [samples[at], samples[at], samples[at]])).toBeLessThanOrEqual(12);
  });

  it.each(['rebuilt', 'continued'] as const)(
    'keeps light above white where some colours of the sensor still told it, the others being %s',
    async (highlights) => {
      // Grey light from 0 to 1.9 of what fills green, on a sensor that sees half of it in red: green clips at 1, blue at 1.25.
      const neutral = [0.5, 1, 0.8] as const;
      const lightAt = (x: number) => (1.9 * x) / (sensor.width - 1);
      const ramp = Uint16Array.from({ length: sensor.width * sensor.height }, (_, i) => {
        const [x, y] = [i % sensor.width, Math.floor(i / sensor.width)];
        const factor = [neutral[0], neutral[1], neutral[1], neutral[2]][(y & 1) * 2 + (x & 1)];
        return 512 + Math.round(60000 * Math.min(1, factor * lightAt(x)));
      });
      const bytes = encodeDng(ramp, sensor, { ...facts, asShotNeutral: neutral });
      const [cut, rebuilt] = await Promise.all([read(bytes), read(bytes, { ...PLAIN_READING, highlights })]);
      expect([cut.headroom, rebuilt.headroom]).toEqual([0, 1]);
      const at = ({ samples }: typeof cut, light: number) => {
        const x = Math.round((light / 1.9) * (sensor.width - 1));
        const from = (150 * sensor.width + x) * 3;
        return [...samples.subarray(from, from + 3)].map((code) => decodeSrgb(code / 65535));
      };
      for (const light of [0.2, 0.5, 0.9])
        for (const value of at(rebuilt, light)) expect(Math.abs(value / (light / 2) - 1)).toBeLessThan(0.03);
      // What was cut is white all over; what is rebuilt goes on rising and stays grey, about as bright as it was.
      for (const value of at(cut, 1.6)) expect(value).toBeGreaterThan(0.98);
      for (const light of [1.1, 1.3, 1.6]) {
        const found = at(rebuilt, light);
        for (const value of found) expect(Math.abs(value / (light / 2) - 1)).toBeLessThan(0.12);
        expect(Math.max(...found) / Math.min(...found)).toBeLessThan(1.12);
      }
    },
  );

  it.each(['srgb', 'bt2020'] as const)('continues the hues of lights that are cut, in %s', async (space) => {
    // Evening light that grows from left to right under bands of other hues: green is full first, then blue, red never.
    const neutral = [0.4, 1, 0.8] as const;
    const hues = [
      [1, 0.8, 0.55],
      [1, 0.95, 0.9],
      [0.9, 0.8, 0.95],
    ] as const;
    const hueAt = (y: number) => hues[Math.floor((y * hues.length) / sensor.height)];
    const lightAt = (x: number) => (2.3 * x) / (sensor.width - 1);
    const ramp = Uint16Array.from({ length: sensor.width * sensor.height }, (_, i) => {
      const [x, y] = [i % sensor.width, Math.floor(i / sensor.width)];
      const channel = (y & 1) + (x & 1);
      return 512 + Math.round(60000 * Math.min(1, neutral[channel] * hueAt(y)[channel] * lightAt(x)));
    });
    const bytes = encodeDng(ramp, sensor, { ...facts, asShotNeutral: neutral });
    const { samples, headroom } = await read(bytes, { ...PLAIN_READING, space, highlights: 'continued' });
    expect(headroom).toBeCloseTo(Math.log2(2.5), 3);
    for (const [band, hue] of hues.entries())
      for (const light of [0.3, 0.9, 1.2, 1.5, 1.8, 2.1]) {
        const [x, y] = [Math.round((light / 2.3) * (sensor.width - 1)), Math.round((sensor.height * (band + 0.5)) / 3)];
        const from = (y * sensor.width + x) * 3;
        const found = [...samples.subarray(from, from + 3)].map((code) => decodeSrgb(code / 65535) * 2.5);
        const wanted = times3(
          betweenSpaces('srgb', space),
          hue.map((each) => each * light),
        );
        // What is told by others lies as near as hues do that mix from band to band; the library is a quarter off.
        for (const [channel, value] of found.entries())
          expect(Math.abs(value / wanted[channel] - 1), `${light} of ${hue}, ${channel}`).toBeLessThan(
            light < 1 ? 0.005 : 0.16,
          );
      }
  });

  it('leaves lights alone of which nothing is cut, whatever becomes of the others', async () => {
    const bytes = encodeDng(mosaic(10000, 20000, 5000), sensor, { ...facts, asShotNeutral: [0.5, 1, 0.25] });
    const [cut, continued] = await Promise.all([
      read(bytes),
      read(bytes, { ...PLAIN_READING, highlights: 'continued' }),
    ]);
    const at = (150 * 400 + 200) * 3;
    for (const channel of [0, 1, 2]) {
      const [before, after] = [cut, continued].map(({ samples }) => decodeSrgb(samples[at + channel] / 65535));
      expect(after * 4).toBeCloseTo(before, 3);
    }
  });

  it('tells its shot data', async () => {
    const bytes = encodeDng(mosaic(1000, 1000, 1000), sensor, facts);
    const { shot } = await readShotData(bytes, await read(bytes));
    expect(shot).toMatchObject({ fNumber: 8, iso: 200, takenAt: '2025-10-12T06:41:07' });
    expect(shot.exposureTime).toBeCloseTo(1 / 125, 8);
    // Exif 2.32 (CIPA DC-008), annex C: Av 6, Tv log2(125), and one stop for ISO 200; brighter is the other sign.
    expect(shot.ev).toBeCloseTo(1 - 6 - Math.log2(125), 3);
  });

  it('cut short is a damaged file', async () => {
    const bytes = encodeDng(mosaic(1000, 1000, 1000), sensor, facts);
    await expect(read(bytes.slice(0, 40000))).rejects.toMatchObject({ code: 'damaged' });
    await expect(read(bytes.slice(0, 300))).rejects.toMatchObject({ name: 'DecodeError' });
  });
});

describe('files without a profile', () => {
  it('are read as they are, unless the user says otherwise', async () => {
    const bytes = await rgb8().png().toBuffer();
    expect((await read(bytes)).profile).toBeNull();
    const wide = await read(bytes, { ...PLAIN_READING, untagged: 'prophoto' });
    expect(wide.bits).toBe(16);
    // The same numbers mean stronger colours there: most of a noise picture lies beyond sRGB.
    expect(
      worst(
        wide.samples,
        Uint16Array.from(picture, (value) => (value >> 8) * 257),
      ),
    ).toBeGreaterThan(10000);
  });

  it('are told from those with one, whose name is known', async () => {
    const bytes = await rgb8().withIccProfile('p3').png().toBuffer();
    expect((await read(bytes)).profile).toBeTruthy();
  });

  it('with grey values and a grey profile come out as a general library has them', async () => {
    const grey = await sharp(
      Uint8Array.from({ length: 256 }, (_, i) => i),
      { raw: { width: 16, height: 16, channels: 1 } },
    )
      .toColourspace('b-w')
      .png()
      .toBuffer();
    const { samples } = await read(grey);
    expect(Array.from(samples)).toEqual(Array.from({ length: 768 }, (_, i) => Math.floor(i / 3)));
  });
});

describe('a picture of another size', () => {
  it('is scaled to the size that is wanted, as a general library scales it', async () => {
    const wide = { width: 640, height: 427 };
    const soft = Uint8Array.from({ length: wide.width * wide.height * 3 }, (_, i) => {
      const [x, y] = [Math.floor(i / 3) % wide.width, Math.floor(i / 3 / wide.width)];
      return 128 + 60 * Math.sin(x / 40) + 50 * Math.cos(y / 30 + (i % 3));
    });
    const bytes = await sharp(soft, { raw: { ...wide, channels: 3 } })
      .png()
      .toBuffer();
    const to = { width: 300, height: 200 };
    const { width, height, samples } = await read(bytes, { ...PLAIN_READING, scaleTo: to });
    expect([width, height]).toEqual([300, 200]);
    const theirs = await sharp(bytes)
      .resize({ ...to, fit: 'fill', kernel: 'lanczos3' })
      .raw()
      .toBuffer();
    expect(worst(samples, theirs)).toBeLessThanOrEqual(3);
  });

  it('is not squashed', async () => {
    const bytes = await rgb8().png().toBuffer();
    await expect(read(bytes, { ...PLAIN_READING, scaleTo: { width: 300, height: 300 } })).rejects.toMatchObject({
      code: 'size-differs',
    });
  });
});

describe('recognising', () => {
  const head = (text: string, at = 0) => Uint8Array.from({ length: 64 }, (_, i) => text.charCodeAt(i - at) || 0);
  it.each([
    ['raw', head('FUJIFILMCCD-RAW ')],
    ['raw', head('\0\0\0\x18ftypcrx \0\0\0\x01crx isom')],
    ['heic', head('\0\0\0\x18ftypheic\0\0\0\0mif1heic')],
    ['avif', head('\0\0\0\x18ftypmif1\0\0\0\0mif1avif')],
    ['radiance', head('#?RADIANCE\n')],
    ['jxl', Uint8Array.of(0xff, 0x0a, 1, 2)],
    ['jxl', head('\0\0\0\x0cJXL \r\n')],
  ])('%s', (format, bytes) => {
    expect(recogniseFormat(bytes)).toBe(format);
  });

  it.each(['ID3 some music', '%PDF-1.7', '\0\0\0\x18ftypisom\0\0\0\0isommp42'])('nothing in %s', (text) => {
    expect(() => recogniseFormat(head(text))).toThrow(/unknown-format/);
  });
});
