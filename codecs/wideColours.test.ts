import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readIccProfile } from '#core/color/iccProfile.ts';
import { decodeSrgb } from '#core/color/srgb.ts';
import { isSrgb } from '#core/color/toWorking.ts';
import { type OutputSpace, spaceToPcs } from '#core/color/workingSpace.ts';
import { writeProfile } from '#core/color/writeProfile.ts';
import { FIRST_READING, PLAIN_READING, type ReadingWish } from '#core/reading.ts';
import { encodeDng } from '../demo/camera/dng.ts';
import { nodeLibraries } from '../engine/node/libraries.ts';
import { RAW_FACTS } from '../tests/rawFacts.ts';
import { readPicture } from '../tests/readPicture.ts';
import { makeTableProfile } from '../tests/tableProfile.ts';
import { encodeWhole } from './deliver/encodeWhole.ts';
import { restOf } from './deliver/formats/list.ts';
import { keepLibraries } from './libraries.ts';
import type { VipsModule } from './vipsModule.ts';

const COLORD = '/usr/share/color/icc/colord';
const size = { width: 64, height: 48 };
/** Profiles hold their numbers in steps of 1/65,536 of light, of which the curve makes up to 13 steps in the shadows. */
const worstLight = (a: ArrayLike<number>, b: ArrayLike<number>) => {
  const light = (values: ArrayLike<number>) => Array.from(values, (value) => 65535 * decodeSrgb(value / 65535));
  return worst(light(a), light(b));
};
/** Colours from all over the space, its corners among them. */
const COLOURS = Uint16Array.from({ length: size.width * size.height * 3 }, (_, i) =>
  i < 24 ? ((Math.floor(i / 3) >> (i % 3)) & 1) * 65535 : Math.imul(i + 1, 2654435761) >>> 16,
);
const folder = mkdtempSync(join(tmpdir(), 'lusket-'));
const libraries = keepLibraries(nodeLibraries);
const read = (bytes: Uint8Array, wish: ReadingWish = FIRST_READING) => readPicture(libraries, bytes, wish);
const worst = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0);

let vips: VipsModule;
beforeAll(async () => {
  vips = await libraries.vipsMore();
});
afterAll(() => vips.shutdown());

function profileFile(space: OutputSpace): string {
  const path = join(folder, `${space}.icc`);
  writeFileSync(path, writeProfile(space));
  return path;
}

/** Colours through Little CMS: relative colorimetric, in real numbers, nothing precalculated, clipped as pixels are. */
function littleCms(from: string, to: string): number[] {
  const lines = Array.from({ length: COLOURS.length / 3 }, (_, i) =>
    Array.from(COLOURS.subarray(3 * i, 3 * i + 3), (value) => (value / 257).toFixed(9)).join(' '),
  );
  const output = execFileSync('transicc', ['-i', from, '-o', to, '-t1', '-n', '-c0'], {
    input: `${lines.join('\n')}\n`,
    stdio: ['pipe', 'pipe', 'ignore'],
  });
  const values = output.toString().trim().split(/\s+/);
  return values.map((value) => Math.min(65535, Math.max(0, Number(value) * 257)));
}

/** The colours as a file with a profile. */
function tagged(profile: Uint8Array, ending: string, options = {}): Uint8Array {
  const image = vips.Image.newFromMemory(COLOURS, size.width, size.height, 3, vips.BandFormat.ushort).copy({
    interpretation: 'rgb16',
  });
  image.setBlob('icc-profile-data', profile);
  return image.writeToBuffer(ending, options).slice();
}

describe('profiles that are written', () => {
  it.each(['srgb', 'display-p3', 'bt2020'] as const)('%s says what the space is', (space) => {
    const profile = readIccProfile(writeProfile(space));
    if (profile?.kind !== 'matrix') throw new Error('no matrix profile');
    expect(worst(profile.toXyz, spaceToPcs(space))).toBeLessThan(1 / 65536);
    expect(isSrgb(profile)).toBe(space === 'srgb');
  });

  it("sRGB is Little CMS's own sRGB, to the light of 3 of 65,535", () => {
    expect(worstLight(littleCms(profileFile('srgb'), '*sRGB'), COLOURS)).toBeLessThanOrEqual(3);
  });

  it('BT.2020 converts as the matrix of ITU-R BT.2087-0, M2, says (from memory)', () => {
    const linear = ['-i', profileFile('srgb'), '-o', profileFile('bt2020')];
    const output = execFileSync('transicc', [...linear, '-t1', '-n', '-c0'], { input: '255 0 0\n', stdio: 'pipe' });
    const light = output
      .toString()
      .trim()
      .split(/\s+/)
      .map((value) => ((Number(value) / 255 + 0.055) / 1.055) ** 2.4);
    expect(worst(light, [0.6274, 0.0691, 0.0164])).toBeLessThan(1e-3);
  });
});

describe('files with more colours than sRGB', () => {
  it.each(['AdobeRGB1998', 'ProPhotoRGB'])(
    '%s is read into BT.2020 as Little CMS has it, to the light of 2 of 65,535',
    async (name) => {
      const path = `${COLORD}/${name}.icc`;
      const { space, samples } = await read(tagged(readFileSync(path), '.tif'));
      expect(space).toBe('bt2020');
      expect(worstLight(samples, littleCms(path, profileFile('bt2020')))).toBeLessThanOrEqual(2);
    },
  );

  it('is read into sRGB where an older scene says so', async () => {
    const path = `${COLORD}/AdobeRGB1998.icc`;
    const { space, samples } = await read(tagged(readFileSync(path), '.png'), PLAIN_READING);
    expect(space).toBe('srgb');
    expect(worst(samples, littleCms(path, '*sRGB'))).toBeLessThanOrEqual(2);
  });

  it('whatever a file is in, it comes in the space that a scene asks for', async () => {
    const asked = { ...PLAIN_READING, space: 'bt2020' } as const;
    const wanted = littleCms(profileFile('srgb'), profileFile('bt2020'));
    const tiff = await read(tagged(writeProfile('srgb'), '.tif'), asked);
    expect(tiff.space).toBe('bt2020');
    expect(worstLight(tiff.samples, wanted)).toBeLessThanOrEqual(3);
    const light = Float32Array.from(COLOURS, (value) => decodeSrgb(value / 65535));
    const floats = vips.Image.newFromMemory(light, size.width, size.height, 3, vips.BandFormat.float)
      .copy({ interpretation: 'scrgb' })
      .writeToBuffer('.tif')
      .slice();
    const deep = await read(floats, asked);
    expect(deep.space).toBe('bt2020');
    expect(worstLight(deep.samples, wanted)).toBeLessThanOrEqual(3);
    const grey = await sharp(COLOURS.slice(0, 60), { raw: { width: 10, height: 6, channels: 1 } })
      .png()
      .toBuffer();
    expect((await read(grey, asked)).space).toBe('bt2020');
  });

  it('sRGB files stay as they are', async () => {
    for (const profile of [writeProfile('srgb'), readFileSync(`${COLORD}/sRGB.icc`)]) {
      const { space, samples } = await read(tagged(profile, '.png'));
      expect(space).toBe('srgb');
      expect(worst(samples, COLOURS)).toBe(0);
    }
  });

  it('tables are looked up into BT.2020, within 1 % of full scale', async () => {
    const profile = makeTableProfile(([r, g, b]) => [100 * (0.3 * r + 0.6 * g + 0.1 * b), 40 * (r - g), 30 * (g - b)]);
    const path = join(folder, 'table.icc');
    writeFileSync(path, profile);
    const { space, samples } = await read(tagged(profile, '.tif'));
    expect(space).toBe('bt2020');
    expect(worst(samples, littleCms(path, profileFile('bt2020')))).toBeLessThanOrEqual(0.01 * 65535);
  });

  it('AVIF says its colours in code points', async () => {
    const { data } = await sharp(COLOURS, { raw: { ...size, channels: 3 } })
      .toColourspace('srgb')
      .avif({ lossless: true })
      .toBuffer({ resolveWithObject: true });
    const at = data.indexOf('colrnclx');
    expect(at).toBeGreaterThan(0);
    const coded = (primaries: number, transfer: number) => {
      const bytes = Uint8Array.from(data);
      new DataView(bytes.buffer).setUint16(at + 8, primaries);
      new DataView(bytes.buffer).setUint16(at + 10, transfer);
      return bytes;
    };
    const plain = await read(coded(1, 13));
    expect([plain.space, plain.profile]).toEqual(['srgb', 'BT.709']);
    const p3 = await read(coded(12, 13));
    expect([p3.space, p3.profile]).toEqual(['bt2020', 'P3']);
    // Grey is the same in both; a full colour of P3 is a weaker one of BT.2020.
    const wide = await read(coded(9, 13));
    expect(wide.space).toBe('bt2020');
    expect(
      worst(
        wide.samples,
        Uint16Array.from(plain.samples, (value) => value * 257),
      ),
    ).toBeLessThanOrEqual(2);
  });

  it('HEIC has its profile heeded', async () => {
    const flat = Uint8Array.from({ length: size.width * size.height * 3 }, (_, i) => [220, 60, 40][i % 3]);
    const png = join(folder, 'p3.png');
    writeFileSync(
      png,
      await sharp(flat, { raw: { ...size, channels: 3 } })
        .withIccProfile(profileFile('display-p3'), { attach: true })
        .png()
        .toBuffer(),
    );
    const heic = join(folder, 'p3.heic');
    execFileSync('heif-enc', ['-q', '95', png, '-o', heic], { stdio: 'ignore' });
    const { space, profile, samples, bits } = await read(readFileSync(heic));
    expect([space, profile, bits]).toEqual(['bt2020', 'Display P3', 16]);
    const there = execFileSync(
      'transicc',
      ['-i', profileFile('srgb'), '-o', profileFile('bt2020'), '-t1', '-n', '-c0'],
      {
        input: '220 60 40\n',
      },
    );
    const wanted = there
      .toString()
      .trim()
      .split(/\s+/)
      .map((value) => Number(value) * 257);
    // Its own loss, at this quality, is up to two levels of 255.
    expect(worst(samples.subarray(3000, 3003), wanted)).toBeLessThanOrEqual(3 * 257);
  });

  it('raw files keep what the sensor saw', async () => {
    const sensor = { width: 64, height: 48 };
    // A colour of sRGB primaries, which the file's matrix speaks in.
    const light = [20000, 10000, 5000];
    const mosaic = Uint16Array.from({ length: 64 * 48 }, (_, i) => {
      const [x, y] = [i % 64, Math.floor(i / 64)];
      return 512 + [light[0], light[1], light[1], light[2]][(y & 1) * 2 + (x & 1)];
    });
    const { space, samples } = await read(encodeDng(mosaic, sensor, RAW_FACTS));
    expect(space).toBe('bt2020');
    const at = (24 * 64 + 32) * 3;
    // ITU-R BT.2087-0, M2 (from memory).
    const rows = [
      [0.6274, 0.3293, 0.0433],
      [0.0691, 0.9195, 0.0114],
      [0.0164, 0.088, 0.8956],
    ];
    const wanted = rows.map((row) => {
      const linear = row.reduce((sum, weight, i) => sum + (weight * light[i]) / 60000, 0);
      return 65535 * (1.055 * linear ** (1 / 2.4) - 0.055);
    });
    expect(worst(samples.subarray(at, at + 3), wanted)).toBeLessThanOrEqual(25);
  });
});

describe('pictures in wide spaces, written', () => {
  it.each(['tiff', 'png', 'jpeg'] as const)('%s carries the profile', async (format) => {
    const bytes = encodeWhole(vips, COLOURS, size, { file: restOf(format), space: 'display-p3' });
    expect((await sharp(bytes).metadata()).icc).toEqual(Buffer.from(writeProfile('display-p3')));
    expect(await read(bytes)).toMatchObject({ space: 'bt2020', profile: 'Display P3' });
  });
});
