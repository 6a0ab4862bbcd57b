import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { hlgLight, pqLight } from '#core/color/hdrCurves.ts';
import { decodeSrgb } from '#core/color/srgb.ts';
import { writeProfile } from '#core/color/writeProfile.ts';
import { FIRST_READING, PLAIN_READING, type ReadingWish } from '#core/reading.ts';
import { nodeLibraries } from '../engine/node/libraries.ts';
import { readPicture } from '../tests/readPicture.ts';
import { makeTableProfile } from '../tests/tableProfile.ts';
import { keepLibraries } from './libraries.ts';

const libraries = keepLibraries(nodeLibraries);
const read = (bytes: Uint8Array, wish: ReadingWish = FIRST_READING) => readPicture(libraries, bytes, wish);
const folder = mkdtempSync(join(tmpdir(), 'lusket-'));

/** Values of a file of 10 bits, each as a square of its own. */
const CODES = Array.from({ length: 32 }, (_, i) => Math.round((i * 1023) / 31));
const SIDE = 16;
/** The encoder writes sizes that are no multiples of 64 in pieces, and leaves their colours out. */
const size = { width: SIDE * CODES.length, height: 64 };
const middles = (samples: ArrayLike<number>) =>
  CODES.map((_, i) => samples[3 * (SIDE / 2 + i * SIDE + (SIDE / 2) * size.width)]);

/** The squares, grey, as a file of ten bits without loss.
 * @param codes - Code points of primaries and transfer, written over the profile that the encoder was given. */
async function file(ending: 'heic' | 'avif', codes?: [number, number]): Promise<Uint8Array> {
  const vips = await libraries.vipsMore();
  const samples = Uint16Array.from(
    { length: size.width * size.height * 3 },
    (_, i) => CODES[Math.floor(((i / 3) % size.width) / SIDE)] << 6,
  );
  const picture = vips.Image.newFromMemory(samples, size.width, size.height, 3, vips.BandFormat.ushort).copy({
    interpretation: 'rgb16',
  });
  if (codes) picture.setBlob('icc-profile-data', writeProfile('bt2020'));
  const bytes =
    ending === 'avif' ? picture.writeToBuffer('.avif', { bitdepth: 10, lossless: true }).slice() : encodeHeic(picture);
  const at = Buffer.from(bytes.buffer).indexOf('colr') + 4;
  const matrix = ending === 'avif' ? 0 : 6; // as the encoders left them
  if (codes) bytes.set([...Buffer.from('nclx'), 0, codes[0], 0, codes[1], 0, matrix, 128], at);
  return bytes;
}

/** HEIC as the tools of the system write it. */
function encodeHeic(picture: { writeToBuffer: (ending: string) => Uint8Array }): Uint8Array {
  const [png, heic] = [join(folder, 'codes.png'), join(folder, 'codes.heic')];
  writeFileSync(png, picture.writeToBuffer('.png'));
  execFileSync('heif-enc', ['-b', '10', '-L', '-p', 'chroma=444', png, '-o', heic], { stdio: 'ignore' });
  return Uint8Array.from(readFileSync(heic));
}

const worst = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((most, value, i) => Math.max(most, Math.abs(value - b[i])), 0);

describe('the curves of high dynamic range', () => {
  it('PQ has the light that ITU-R BT.2408-5, table 1, gives to its values', () => {
    for (const [percent, light] of [
      [58, 203],
      [38, 26],
    ])
      expect(Math.abs(pqLight(percent / 100) * 203 - light) / light).toBeLessThan(0.02);
    expect(pqLight(1) * 203).toBeCloseTo(10000, 6);
    expect(pqLight(0)).toBe(0);
  });

  it('HLG goes on from its square root to its logarithm without a step (ITU-R BT.2100-2, table 5)', () => {
    expect(hlgLight(0.75)).toBe(1);
    expect(hlgLight(0.5) / hlgLight(1)).toBeCloseTo(1 / 12, 6);
    expect(hlgLight(0.5 + 1e-7)).toBeCloseTo(hlgLight(0.5), 5);
    // Table 1 of ITU-R BT.2408-5: a grey card of 18 % lies at 38 %, against a white of 100 % at 75 %.
    expect(hlgLight(0.38)).toBeCloseTo(0.18, 2);
  });
});

describe('HEIC of ten bits', () => {
  it('keeps all of its levels', async () => {
    const { bits, fileBits, headroom, samples } = await read(await file('heic'));
    expect([bits, fileBits, headroom]).toEqual([16, 16, 0]);
    expect(
      worst(
        middles(samples),
        CODES.map((code) => (code * 65535) / 1023),
      ),
    ).toBeLessThanOrEqual(1);
  });

  it('is scaled where its scene is of another size', async () => {
    const scaleTo = { width: size.width / 2, height: size.height / 2 };
    const { width, height } = await read(await file('heic'), { ...FIRST_READING, scaleTo });
    expect({ width, height }).toEqual(scaleTo);
  });

  it('has a profile of tables looked up', async () => {
    const profile = makeTableProfile(([r, g, b]) => [100 * (0.3 * r + 0.6 * g + 0.1 * b), 40 * (r - g), 30 * (g - b)]);
    const flat = Uint8Array.from({ length: 64 * 64 * 3 }, (_, i) => [200, 120, 60][i % 3]);
    const vips = await libraries.vips();
    const picture = vips.Image.newFromMemory(flat, 64, 64, 3, vips.BandFormat.uchar).copy({ interpretation: 'srgb' });
    picture.setBlob('icc-profile-data', profile);
    const [asHeic, asPng] = [await read(encodeHeic(picture)), await read(picture.writeToBuffer('.png'))];
    expect(asHeic.space).toBe('bt2020');
    // Its own loss: less than a level of 255.
    expect(worst(asHeic.samples, asPng.samples)).toBeLessThan(257);
  });
});

describe.each(['heic', 'avif'] as const)('%s in code values of light above white', (ending) => {
  it.each([
    ['PQ', 16, pqLight],
    ['HLG', 18, hlgLight],
  ] as const)('%s is darkened until all of it fits, and says by how much', async (_, transfer, light) => {
    const { space, headroom, bits, samples } = await read(await file(ending, [9, transfer]));
    expect([space, bits]).toEqual(['bt2020', 16]);
    expect(2 ** headroom).toBeGreaterThanOrEqual(light(1));
    expect(2 ** headroom).toBeLessThan(light(1) * 2 ** (1 / 3) * 1.0001);
    const seen = middles(samples).map((value) => decodeSrgb(value / 65535) * 2 ** headroom);
    // The rounding of sixteen bits, in light.
    CODES.forEach((code, i) => {
      const wanted = light(code / 1023);
      expect(Math.abs(seen[i] - wanted)).toBeLessThan(1e-4 * wanted + 2 ** headroom / 65535);
    });
  });

  it('is read into sRGB where an older scene says so', async () => {
    const { space, headroom } = await read(await file(ending, [9, 16]), PLAIN_READING);
    expect([space, headroom > 5]).toEqual(['srgb', true]);
  });
});
