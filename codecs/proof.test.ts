import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { decodeSrgb, encodeSrgb } from '#core/color/srgb.ts';
import { betweenSpaces } from '#core/color/workingSpace.ts';
import { writeProfile } from '#core/color/writeProfile.ts';
import { times3 } from '#core/raster/matrix3.ts';
import { nodeLibraries } from '../engine/node/libraries.ts';
import { makePressProfile, PAPER_BLACK } from '../tests/tableProfile.ts';
import { keepLibraries } from './libraries.ts';
import { canvasBytes, proofImage } from './proof.ts';
import type { VipsModule } from './vipsModule.ts';

const ADOBE = '/usr/share/color/icc/colord/AdobeRGB1998.icc';
const libraries = keepLibraries(nodeLibraries);
let vips: VipsModule;
beforeAll(async () => {
  vips = await libraries.vipsMore();
});
afterAll(() => vips.shutdown());

/** A green that sRGB has not, one that it has, grey, and black, as BT.2020 has them. */
const COLOURS = [
  [0.2, 0.9, 0.2],
  [0.45, 0.55, 0.4],
  [0.5, 0.5, 0.5],
  [0, 0, 0],
];
const image = Uint16Array.from(COLOURS.flat(), (value) => Math.round(65535 * value));
const size = { width: 4, height: 1 };

describe('a proof', () => {
  it('through a space of ours leaves what it holds, and marks what it does not', () => {
    const { image: shown, outside } = proofImage(vips, image, size, {
      from: 'bt2020',
      target: { space: 'srgb' },
      intent: 'relative',
      blackPoint: true,
    });
    expect([...outside]).toEqual([1, 0, 0, 0]);
    for (let i = 3; i < 12; i++) expect(Math.abs(shown[i] - image[i])).toBeLessThanOrEqual(2);
    const itself = proofImage(vips, image, size, {
      from: 'bt2020',
      target: { space: 'bt2020' },
      intent: 'relative',
      blackPoint: true,
    });
    expect([...itself.outside]).toEqual([0, 0, 0, 0]);
  });

  it('through a profile is what Little CMS makes of it there and back', () => {
    const profile = new Uint8Array(readFileSync(ADOBE));
    const { image: shown } = proofImage(vips, image, size, {
      from: 'srgb',
      target: { profile },
      intent: 'relative',
      blackPoint: true,
    });
    const own = join(tmpdir(), 'lusket-proof-srgb.icc');
    writeFileSync(own, writeProfile('srgb'));
    const run = (from: string, to: string, values: readonly (readonly number[])[]) =>
      execFileSync('transicc', ['-i', from, '-o', to, '-t1', '-b', '-n', '-c0'], {
        input: `${values.map((colour) => colour.map((value) => (255 * value).toFixed(6)).join(' ')).join('\n')}\n`,
        stdio: ['pipe', 'pipe', 'ignore'],
      })
        .toString()
        .trim()
        .split('\n')
        .map((line) =>
          line
            .trim()
            .split(/\s+/)
            .map((value) => Number(value) / 255),
        );
    const back = run(ADOBE, own, run(own, ADOBE, COLOURS));
    for (const [i, value] of back.flat().entries()) expect(Math.abs(shown[i] / 65535 - value)).toBeLessThan(0.004);
  });

  it('through a press marks what its inks cannot, and no dark tone that is lifted to its black', () => {
    const profile = makePressProfile();
    const grey = (light: number) => Array<number>(3).fill(encodeSrgb(light));
    // A green that sRGB has not, a skin tone, greys down to the darkest ink, one below it, black, white.
    const colours = [[0.2, 0.9, 0.2], [0.8, 0.6, 0.5], ...[0.5, 0.18, 0.1, 0.04, PAPER_BLACK / 4, 0, 1].map(grey)];
    const wanted = Uint16Array.from(colours.flat(), (value) => Math.round(65535 * value));
    const proof = (intent: 'relative' | 'perceptual', blackPoint: boolean) =>
      proofImage(
        vips,
        wanted,
        { width: colours.length, height: 1 },
        { from: 'bt2020', target: { profile }, intent, blackPoint },
      );
    for (const intent of ['relative', 'perceptual'] as const) {
      expect([...proof(intent, true).outside]).toEqual([1, 0, 0, 0, 0, 0, 0, 0, 0]);
      expect([...proof(intent, false).outside]).toEqual([1, 0, 0, 0, 0, 0, 1, 1, 0]);
    }
    // What it has is shown as it is; black is the paper's.
    const { image: shown } = proof('relative', false);
    for (const i of [1, 2, 3, 4, 8]) expect(Math.abs(shown[3 * i] - wanted[3 * i])).toBeLessThan(0.012 * 65535);
    expect(decodeSrgb(shown[3 * 7] / 65535)).toBeCloseTo(PAPER_BLACK, 2.3);
  });

  it('is drawn in the space of a canvas', () => {
    const bytes = canvasBytes(image, 'bt2020', 'display-p3');
    const matrix = betweenSpaces('bt2020', 'display-p3');
    for (const [i, colour] of COLOURS.entries())
      for (const [channel, value] of times3(matrix, colour.map(decodeSrgb)).entries())
        expect(Math.abs(bytes[4 * i + channel] - 255 * encodeSrgb(Math.min(1, Math.max(0, value))))).toBeLessThan(0.6);
    expect([...canvasBytes(image, 'srgb', 'srgb').slice(4, 8)]).toEqual([115, 140, 102, 255]);
  });

  it('refuses a file that is no profile', () => {
    const target = { profile: new Uint8Array([1, 2, 3, 4]) };
    expect(() => proofImage(vips, image, size, { from: 'srgb', target, intent: 'relative', blackPoint: true })).toThrow(
      /no ICC profile/,
    );
  });
});
