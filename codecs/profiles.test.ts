import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { converter } from 'culori';
import { afterAll, describe, expect, it } from 'vitest';
import { assumedProfile } from '#core/color/assumedProfile.ts';
import { type IccProfile, readIccProfile } from '#core/color/iccProfile.ts';
import { isSrgb, profileTo } from '#core/color/toWorking.ts';
import { nodeLibraries } from '../engine/node/libraries.ts';
import { readPicture } from '../tests/readPicture.ts';
import { makeTableProfile } from '../tests/tableProfile.ts';
import { keepLibraries } from './libraries.ts';

const PROFILES = '/usr/share/color/icc/colord';
const read = (name: string) => readFileSync(`${PROFILES}/${name}.icc`);

function matrixProfile(name: string): IccProfile & { kind: 'matrix' } {
  const profile = readIccProfile(read(name));
  if (profile?.kind !== 'matrix') throw new Error(`${name} is a profile of kind ${profile?.kind}`);
  return profile;
}

/** Colours from all over the space, with greys, the darkest tones and the full primaries among them. */
const COLOURS = Uint16Array.from({ length: 3 * 3000 }, (_, i) => {
  const pixel = Math.floor(i / 3);
  if (pixel < 500) return pixel * 131;
  if (pixel < 700) return pixel - 500;
  if (pixel < 708) return (pixel >> (i % 3)) & 1 ? 65535 : 0;
  return Math.imul(i + 1, 2654435761) >>> 16;
});

/** The colour management engine of Little CMS as an oracle: relative colorimetric, in real numbers of 0 to 255, nothing
 * precalculated, clipped as pixels are. */
const transicc = (name: string) => transiccFile(`${PROFILES}/${name}.icc`);

function transiccFile(path: string, more: readonly string[] = []): number[] {
  const numbers = Array.from(COLOURS, (value) => (value / 257).toFixed(9));
  const input = Array.from({ length: numbers.length / 3 }, (_, i) => numbers.slice(3 * i, 3 * i + 3).join(' '));
  const options = ['-i', path, '-o*sRGB', '-t1', '-n', '-c0', ...more];
  const output = execFileSync('transicc', options, {
    input: `${input.join('\n')}\n`,
    stdio: ['pipe', 'pipe', 'ignore'],
  });
  const values = output.toString().trim().split(/\s+/);
  return values.map((value) => Math.min(65535, Math.max(0, Number(value) * 257)));
}

describe('matrix profiles', () => {
  it.each(['AdobeRGB1998', 'ProPhotoRGB', 'WideGamutRGB', 'AppleRGB', 'ECI-RGBv1', 'BestRGB'])(
    '%s comes out as Little CMS has it, within 1.5 of 65,535',
    (name) => {
      const ours = new Uint16Array(COLOURS.length);
      profileTo('srgb', matrixProfile(name))(COLOURS, ours);
      const theirs = transicc(name);
      expect(theirs).toHaveLength(ours.length);
      const worst = Array.from(ours).reduce((most, value, i) => Math.max(most, Math.abs(value - theirs[i])), 0);
      expect(worst).toBeLessThanOrEqual(1.5);
    },
  );

  it('knows sRGB by its numbers, not by its name', () => {
    expect(isSrgb(matrixProfile('sRGB'))).toBe(true);
    for (const name of ['AdobeRGB1998', 'ProPhotoRGB', 'AppleRGB', 'SwappedRedAndGreen', 'Rec709'])
      expect(isSrgb(matrixProfile(name)), name).toBe(false);
  });

  it('takes no space for sRGB whose colours are merely wider', () => {
    const p3 = assumedProfile('display-p3');
    expect(p3 && isSrgb(p3)).toBe(false);
  });

  it('reads their names', () => {
    expect(matrixProfile('AdobeRGB1998').name).toMatch(/Adobe RGB|Compatible/i);
    expect(matrixProfile('sRGB').name).toMatch(/sRGB/);
  });
});

describe('spaces that a file without a profile may be taken to be in', () => {
  // The numbers of the standards against profiles that others made of them, over the same colours.
  it.each([
    ['adobe-rgb', 'AdobeRGB1998', 30],
    ['prophoto', 'ProPhotoRGB', 90],
  ] as const)('%s is as in the profile %s', (space, name, within) => {
    const [ours, theirs] = [new Uint16Array(COLOURS.length), new Uint16Array(COLOURS.length)];
    const assumed = assumedProfile(space);
    if (!assumed) throw new Error('no profile');
    profileTo('srgb', assumed)(COLOURS, ours);
    profileTo('srgb', matrixProfile(name))(COLOURS, theirs);
    // Darkest tones are left out: profiles leave away the straight foot that the standard's curve begins with.
    const differences = ours.map((value, i) => (COLOURS[i - (i % 3)] > 3000 ? Math.abs(value - theirs[i]) : 0));
    expect(Math.max(...differences)).toBeLessThanOrEqual(within);
  });

  it('needs no conversion for sRGB', () => {
    expect(assumedProfile('srgb')).toBeUndefined();
  });
});

describe('other profiles', () => {
  it('leaves tables to a colour management library', () => {
    expect(readIccProfile(read('Crayons'))?.kind ?? 'none').not.toBe('matrix');
  });

  it('takes what is no profile for none, wherever it is cut', () => {
    const bytes = read('AdobeRGB1998');
    expect(readIccProfile(new Uint8Array(40))).toBeUndefined();
    expect(readIccProfile(new Uint8Array(0))).toBeUndefined();
    for (let length = 0; length < bytes.length; length++)
      expect(readIccProfile(new Uint8Array(bytes.subarray(0, length)).slice())).toBeUndefined();
  });
});

describe('table profiles', () => {
  const libraries = keepLibraries(nodeLibraries);
  afterAll(async () => (await libraries.vips()).shutdown());

  it('come out as Little CMS has them, within 1 % of full scale', async () => {
    const toLab = converter('lab');
    const profile = makeTableProfile(([r, g, b]) => {
      // A space of its own: stronger colours than sRGB's are left out, so that nothing is clipped on the way.
      const {
        l,
        a,
        b: yellow,
      } = toLab({ mode: 'lrgb', r: r ** 1.8 * 0.95 + 0.05, g: g ** 1.8 * 0.95 + 0.05, b: b ** 1.8 * 0.95 + 0.05 });
      return [l, a * 0.8, yellow * 0.8];
    });
    expect(readIccProfile(profile)).toMatchObject({ kind: 'table', name: 'A table for tests' });
    const vips = await libraries.vips();
    const [width, height] = [60, 50];
    const image = vips.Image.newFromMemory(COLOURS, width, height, 3, vips.BandFormat.ushort).copy({
      interpretation: 'rgb16',
    });
    image.setBlob('icc-profile-data', profile);
    const { samples: ours } = await readPicture(libraries, image.writeToBuffer('.png').slice());
    const path = join(mkdtempSync(join(tmpdir(), 'lusket-')), 'table.icc');
    writeFileSync(path, profile);
    const theirs = transiccFile(path, []);
    expect(ours).toHaveLength(COLOURS.length);
    const worst = Array.from(ours).reduce((most, value, i) => Math.max(most, Math.abs(value - theirs[i])), 0);
    expect(worst).toBeLessThanOrEqual(0.01 * 65535);
  });
});
