import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { assumedProfile } from '#core/color/assumedProfile.ts';
import { profileTo } from '#core/color/toWorking.ts';
import { settle, toExport, visitOnce } from './harness.ts';

const ADOBE = '/usr/share/color/icc/colord/AdobeRGB1998.icc';
const size = { width: 320, height: 200 };

/** A flat picture whose numbers mean what a profile says. */
async function flat(profile: string, rgb: readonly number[]): Promise<string> {
  const path = join(mkdtempSync(join(tmpdir(), 'lusket-')), 'green.png');
  const pixels = Uint8Array.from({ length: size.width * size.height * 3 }, (_, i) => rgb[i % 3]);
  await sharp(pixels, { raw: { ...size, channels: 3 } })
    .png()
    .toFile(path);
  execFileSync('exiftool', ['-q', '-overwrite_original', `-icc_profile<=${profile}`, path]);
  return path;
}

const visit = visitOnce();

describe('a frame with more colours than sRGB', () => {
  it('is shown in the wide space of the screen, and exported with all of its colours', async () => {
    // The full green of Adobe RGB, far outside sRGB.
    await visit.page.getByTestId('choose-frames').setInputFiles(await flat(ADOBE, [0, 255, 0]));
    await visit.page.getByTestId('frame-green.png').waitFor();
    await visit.page.getByText('Reading').waitFor({ state: 'hidden' });
    await visit.page.getByRole('button', { name: 'Continue to Blend' }).click();
    await visit.page.getByTestId('canvas').waitFor();
    await settle(visit.page);
    const seen = await visit.page.getByTestId('canvas').evaluate((element) => {
      const canvas = element as HTMLCanvasElement;
      const context = canvas.getContext('2d') as CanvasRenderingContext2D;
      const { data } = context.getImageData(canvas.width / 2, canvas.height / 2, 1, 1, { colorSpace: 'display-p3' });
      return { space: context.getContextAttributes().colorSpace, rgb: [...data.slice(0, 3)] };
    });
    expect(seen.space).toBe('display-p3');
    const folder = mkdtempSync(join(tmpdir(), 'lusket-'));
    const exported: Record<string, number[]> = {};
    const SPACES = { sRGB: 'srgb', 'Display P3': 'display-p3', 'BT.2020': 'bt2020' };
    for (const [space, value] of Object.entries(SPACES)) {
      await toExport(visit.page, 'png', value);
      const [download] = await Promise.all([
        visit.page.waitForEvent('download'),
        visit.page.getByRole('button', { name: /^Write .*\.png/ }).click(),
      ]);
      const path = join(folder, `${space}.png`);
      await download.saveAs(path);
      expect((await sharp(path).metadata()).icc?.toString('latin1', 36, 40)).toBe('acsp');
      // The numbers as they stand in the file, whatever they mean.
      execFileSync('exiftool', ['-q', '-overwrite_original', '-icc_profile:all=', path]);
      const data = await sharp(path).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
      exported[space] = [...new Uint16Array(data.buffer, data.byteOffset, 3)].map((value) => Math.round(value / 257));
    }
    const green = Uint16Array.of(0, 65535, 0);
    profileTo('bt2020', assumedProfile('adobe-rgb') as Parameters<typeof profileTo>[1])(green, green);
    expect(exported).toEqual({
      sRGB: [0, 255, 0],
      'Display P3': seen.rgb,
      'BT.2020': [...green].map((value) => Math.round(value / 257)),
    });
    expect(seen.rgb[0]).toBe(0);
    expect(seen.rgb[1]).toBeGreaterThan(245);
    expect(visit.problems).toEqual([]);
  });
});
