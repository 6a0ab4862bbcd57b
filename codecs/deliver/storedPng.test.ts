import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import alea from 'alea';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { nodeLibraries } from '../../engine/node/libraries.ts';
import { DecodeError } from '../decodeError.ts';
import { joinBytes } from '../joinBytes.ts';
import type { VipsModule } from '../vipsModule.ts';
import type { RowFeed } from './rowSource.ts';
import { isStored, writeStoredPng } from './storedPng.ts';
import { writeXmp } from './texts.ts';
import { feedOf, type WriteOptions, writePicture } from './writePicture.ts';

let vips: VipsModule;
beforeAll(async () => {
  vips = await nodeLibraries.vips();
});

const stored = (width: number, height: number, change: Partial<WriteOptions> = {}): WriteOptions => ({
  file: { format: 'png', bits: 16, effort: 0 },
  size: { width, height },
  sharpening: { for: 'screen', amount: 0 },
  space: 'display-p3',
  dither: false,
  ...change,
});

/** Noise whose rows come in bands of uneven height. */
function noisy(width: number, height: number, channels: number): { samples: Uint16Array; feed: () => RowFeed } {
  const random = alea(`${width} ${height} ${channels}`);
  const samples = Uint16Array.from({ length: width * height * channels }, () => random() * 65536);
  const feed = (): RowFeed => {
    let row = 0;
    const next = () => {
      const rows = Math.min(height - row, 1 + ((row * 7) % 300));
      const band = samples.subarray(row * width * channels, (row + rows) * width * channels);
      row += rows;
      return band;
    };
    return { width, height, channels, kind: 'codes', next };
  };
  return { samples, feed };
}

async function fileOf(feed: RowFeed, options: WriteOptions): Promise<Uint8Array<ArrayBuffer>> {
  const pieces: Uint8Array<ArrayBuffer>[] = [];
  await writeStoredPng(vips, feed, options, (bytes) => pieces.push(bytes));
  return joinBytes(pieces);
}

describe('a stored PNG', () => {
  // The last has rows longer than a piece.
  it.each([
    [3, 5, 3],
    [701, 911, 4],
    [640, 1500, 3],
    [333, 200, 1],
    [400_001, 3, 4],
  ])('of %i x %i with %i channels holds every sample, as pngcheck and a general library read it', async (...of) => {
    const [width, height, channels] = of;
    const { samples, feed } = noisy(width, height, channels);
    const file = await fileOf(feed(), stored(width, height));
    const path = join(mkdtempSync(join(tmpdir(), 'lusket-stored-')), 'picture.png');
    writeFileSync(path, file);
    expect(execFileSync('pngcheck', [path], { encoding: 'utf8' })).toMatch(/^OK/);
    const { data, info } = await sharp(file, { ignoreIcc: true, limitInputPixels: false })
      .toColourspace(channels === 1 ? 'grey16' : 'rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height, info.channels]).toEqual([width, height, channels]);
    const read = new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
    expect(samples.reduce((wrong, value, i) => wrong + Number(value !== read[i]), 0)).toBe(0);
    expect(file.length).toBeLessThan(2 * samples.length * 1.01 + 4000);
  });

  it('says of itself what the library would say', async () => {
    const exif = {
      values: { Make: 'Nobody', ISO: 200 },
      tells: { camera: true, place: false, space: 'display-p3' as const },
    };
    const texts = { title: 'Föhre', caption: '夕暮れ', keywords: ['é'], creator: 'Ä', rights: '©' };
    const options = stored(90, 70, { exif, xmp: writeXmp(texts) });
    const { samples, feed } = noisy(90, 70, 3);
    const library: Uint8Array<ArrayBuffer>[] = [];
    writePicture(vips, feedOf(samples, { width: 90, height: 70 }, 3), options, (bytes) => library.push(bytes));
    const told = (file: Uint8Array): Record<string, unknown> => {
      const path = join(mkdtempSync(join(tmpdir(), 'lusket-stored-')), 'picture.png');
      writeFileSync(path, file);
      expect(execFileSync('pngcheck', [path], { encoding: 'utf8' })).toMatch(/^OK/);
      const all = JSON.parse(execFileSync('exiftool', ['-json', '-G', '-n', path], { encoding: 'utf8' }))[0];
      return Object.fromEntries(Object.entries(all).filter(([name]) => !/^(SourceFile|File:|Composite:)/.test(name)));
    };
    const own = told(await fileOf(feed(), options));
    const by = told(joinBytes(library));
    // The library adds what every reader takes for granted, and the size once more.
    for (const [name, value] of Object.entries(own)) expect(by[name], name).toEqual(value);
    const added = Object.keys(by).filter((name) => !(name in own));
    expect(added.filter((name) => !name.startsWith('EXIF:'))).toEqual([]);
    expect(own['EXIF:ISO']).toBe(200);
    expect(own['PNG:ImageWidth']).toBe(90);
    expect(own['XMP:Description']).toBe('夕暮れ');
    expect(own['ICC_Profile:ProfileDescription']).toMatch(/P3/);
  });

  it('is what a picture becomes that needs nothing done, and no other', () => {
    const { feed } = noisy(40, 30, 3);
    const whether = (change: Partial<WriteOptions>) => isStored(feed(), stored(40, 30, change));
    expect(whether({})).toBe(true);
    expect(whether({ file: { format: 'png', bits: 16, effort: 1 } })).toBe(false);
    expect(whether({ file: { format: 'png', bits: 8, effort: 0 } })).toBe(false);
    expect(whether({ size: { width: 20, height: 15 } })).toBe(false);
    expect(whether({ sharpening: { for: 'print', amount: 1 } })).toBe(false);
    expect(whether({ space: 'oprgb' as never })).toBe(false);
    expect(isStored({ ...feed(), kind: 'light' }, stored(40, 30))).toBe(false);
  });

  it('passes on why rows stopped', async () => {
    const feed = noisy(40, 30, 3).feed();
    const stopped: RowFeed = {
      ...feed,
      next: () => {
        throw new DecodeError('cancelled', 'before band 0');
      },
    };
    await expect(fileOf(stopped, stored(40, 30))).rejects.toMatchObject({ code: 'cancelled' });
  });
});
