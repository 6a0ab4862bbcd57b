import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'lusket-info-'));
const write = (name: string, bytes: Uint8Array) => {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  return path;
};
const lusket = (...args: string[]) => execFileSync(process.execPath, ['cli/lusket.mjs', ...args], { encoding: 'utf8' });

describe('lusket info', () => {
  it('answers for every file, in order, and ends well', async () => {
    const whole = readFileSync('demo/frames/tarn/tarn-3.jpg');
    const deep = sharp(
      Uint16Array.from({ length: 60 * 40 * 3 }, (_, i) => i * 9),
      {
        raw: { width: 60, height: 40, channels: 3 },
      },
    ).toColourspace('rgb16');
    const files = [
      'demo/frames/tarn/tarn-3.jpg',
      write('deep.png', await deep.tiff({ compression: 'none' }).toBuffer()), // its ending does not count
      write('cut.jpg', whole.subarray(0, 20_000)),
      write('empty.tif', new Uint8Array()),
      join(folder, 'nowhere.jpg'),
    ];
    const told = JSON.parse(lusket('info', ...files, '--json'));
    expect(told.map(({ file }: { file: string }) => file)).toEqual(files);
    // Exif 2.32 (CIPA DC-008), annex C: Av + Tv = log2(11^2) + log2(4) at ISO 100.
    expect(told[0]).toEqual({
      file: files[0],
      format: 'jpeg',
      width: 2400,
      height: 1600,
      bits: 8,
      profile: 'sRGB',
      exposureTime: 0.25,
      fNumber: 11,
      iso: 100,
      takenAt: '2025-10-12T06:41:15',
      ev: expect.closeTo(Math.log2(121 * 4), 9),
    });
    expect(told[1]).toMatchObject({ format: 'tiff', width: 60, height: 40, bits: 16, profile: null, ev: null });
    expect(told.slice(2).map(({ error }: { error: { code: string } }) => error.code)).toEqual([
      'damaged',
      'empty',
      'unreadable',
    ]);
  });

  it('tells the same in words', () => {
    expect(lusket('info', 'demo/frames/tarn/tarn-3.jpg')).toMatch(
      /jpeg, 2400 x 1600, 8 bits, sRGB; 1\/4 s, f\/11, ISO 100, EV 8\.92/,
    );
  });
});
