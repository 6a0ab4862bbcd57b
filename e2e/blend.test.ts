import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  downloaded,
  goToBlend,
  type Harness,
  holdBrush,
  makeStencil,
  openDemo,
  openPage,
  openPart,
  probeAt,
  readProbe,
  savedScene,
  settle,
  startHarness,
  stroke,
  toExport,
} from './harness.ts';

const folder = mkdtempSync(join(tmpdir(), 'lusket-e2e-'));
const SKY = [0.5, 0.3] as const;
const LAND = [0.3, 0.48] as const;

let harness: Harness;
let page: Page;
let problems: string[];

beforeAll(async () => {
  harness = await startHarness();
  ({ page, problems } = await openPage(harness));
  await openDemo(page);
});
afterAll(() => harness.close());

/** Pixels of a picture file as 16 bits. */
async function pixelsOf(path: string): Promise<{ width: number; data: Uint16Array }> {
  const { data, info } = await sharp(path, { ignoreIcc: true })
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, data: new Uint16Array(data.buffer, data.byteOffset, data.length / 2) };
}

const isBetween = (value: number, a: number, b: number) => value >= Math.min(a, b) && value <= Math.max(a, b);

describe('the whole path', () => {
  it('chooses the base and shows it alone', async () => {
    await page.getByTestId('frame-tarn-2.jpg').getByRole('button', { name: 'Make it the base' }).click();
    await page.getByTestId('frame-tarn-3.jpg').getByRole('button', { name: 'Make it the base' }).click();
    await goToBlend(page);
    const probe = await probeAt(page, ...SKY);
    expect(probe.Result).toEqual(probe['0 EV']);
    expect(probe['−2 EV'][0]).toBeLessThan(probe['0 EV'][0]);
  });

  it('paints the sky of the darker frame through the light tones of the base', async () => {
    await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
    await makeStencil(page);
    await page.getByRole('toolbar').getByLabel('Strength, typed').fill('100');
    await page.getByRole('toolbar').getByLabel('Strength, typed').press('Enter');
    for (const v of [0.12, 0.24, 0.36])
      await stroke(page, [
        [0.02, v],
        [0.5, v + 0.02],
        [0.98, v],
      ]);
    // The brush goes right over the lookout's knoll, too: the stencil holds it off the dark land.
    await stroke(page, [
      [0.1, 0.48],
      [0.6, 0.48],
    ]);
    const sky = await probeAt(page, ...SKY);
    const land = await probeAt(page, ...LAND);
    expect(sky.Mask[0]).toBeGreaterThan(40);
    expect(sky.Result[0]).toBeLessThan(sky['0 EV'][0] - 3000);
    expect(isBetween(sky.Result[0], sky['−2 EV'][0], sky['0 EV'][0])).toBe(true);
    expect(land.Mask[0]).toBeLessThan(12);
    expect(Math.abs(land.Result[0] - land['0 EV'][0])).toBeLessThan(1000);
  });

  it('undoes and redoes every stroke', async () => {
    const painted = await probeAt(page, ...SKY);
    for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
    const undone = await probeAt(page, ...SKY);
    expect(undone.Mask[0]).toBe(0);
    expect(undone.Result).toEqual(undone['0 EV']);
    for (let i = 0; i < 4; i++) await page.keyboard.press('Control+Shift+Z');
    expect(await probeAt(page, ...SKY)).toEqual(painted);
  });

  it('gives a stroke up on Escape', async () => {
    const before = await probeAt(page, 0.5, 0.85);
    const box = (await page.getByTestId('canvas').boundingBox()) as {
      x: number;
      y: number;
      width: number;
      height: number;
    };
    await page.mouse.move(box.x + box.width / 2, box.y + box.height * 0.8);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width / 2 + 60, box.y + box.height * 0.8, { steps: 5 });
    await page.keyboard.press('Escape');
    await page.mouse.up();
    expect(await probeAt(page, 0.5, 0.85)).toEqual(before);
    expect(await page.getByText('Painted · 4 strokes').count()).toBe(1);
  });

  it('paints in the grey view, and the base alone shows while its key is held', async () => {
    await page.keyboard.press('i');
    const before = await probeAt(page, 0.5, 0.9);
    await holdBrush(page, false);
    await stroke(page, [
      [0.45, 0.9],
      [0.55, 0.9],
    ]);
    const after = await probeAt(page, 0.5, 0.9);
    expect(before.Mask[0]).toBe(0);
    expect(after.Mask[0]).toBeGreaterThan(99);
    await page.keyboard.press('u');
    await settle(page);
    const shown = () =>
      page
        .getByTestId('canvas')
        .evaluate((canvas: HTMLCanvasElement) => [
          ...(canvas.getContext('2d') as CanvasRenderingContext2D).getImageData(
            Math.round(canvas.width / 2),
            Math.round(canvas.height * 0.86),
            1,
            1,
          ).data,
        ]);
    const blended = await shown();
    await page.keyboard.down('a');
    await settle(page);
    const base = await shown();
    await page.keyboard.up('a');
    await settle(page);
    expect(base).not.toEqual(blended);
    expect(await shown()).toEqual(blended);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
  });

  it('lays tones as the mask, of any source, in a range dragged on the histogram, and joins painting to them', async () => {
    const at = async () => (await probeAt(page, 0.5, 0.85)).Mask[0];
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await page.getByRole('button', { name: 'Apply as mask' }).click();
    await openPart(page, 'tone');
    const light = await at();
    await page.getByRole('radio', { name: 'Dark' }).click();
    const dark = await at();
    expect(light + dark).toBeCloseTo(100, 0);
    await page.getByLabel('Source', { exact: true }).selectOption('layer');
    expect(await at()).toBeGreaterThan(dark);
    await page.getByLabel('Source', { exact: true }).selectOption('below');
    expect(await at()).toBeCloseTo(dark, 0);
    const handle = (await page.getByTestId('tone-from').boundingBox()) as {
      x: number;
      y: number;
      width: number;
      height: number;
    };
    await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2);
    await page.mouse.down();
    await page.mouse.move(handle.x + 180, handle.y + 5, { steps: 6 });
    await page.mouse.up();
    expect(await at()).toBe(0); // the shore is darker than the range
    await page.keyboard.press('Control+z');
    expect(await at()).toBeCloseTo(dark, 0);
    await stroke(page, [
      [0.45, 0.85],
      [0.55, 0.85],
    ]);
    expect(await at()).toBeGreaterThan(99);
    const join = page.getByTestId('part-painted').getByRole('combobox');
    await join.selectOption('subtract');
    expect(await at()).toBeLessThan(1);
    await join.selectOption('intersect');
    expect(await at()).toBeCloseTo(dark, 0);
    for (let i = 0; i < 7; i++) await page.keyboard.press('Control+z');
    expect((await probeAt(page, ...SKY)).Mask[0]).toBeGreaterThan(40);
  });

  it('paints in the overlay and in the layer view', async () => {
    await holdBrush(page, false);
    for (const key of ['o', 'x', 'p']) {
      await page.keyboard.press(key);
      await stroke(page, [
        [0.45, 0.9],
        [0.55, 0.9],
      ]);
      expect((await probeAt(page, 0.5, 0.9)).Mask[0]).toBeGreaterThan(99);
      await page.keyboard.press('Control+z');
    }
    await page.keyboard.press('Control+z');
    await page.keyboard.press('u');
  });

  it('draws a straight run from the end of the last stroke', async () => {
    await holdBrush(page, false);
    await stroke(page, [
      [0.2, 0.75],
      [0.21, 0.75],
    ]);
    await page.keyboard.down('Shift');
    await stroke(page, [[0.8, 0.75]]);
    await page.keyboard.up('Shift');
    expect((await probeAt(page, 0.5, 0.75)).Mask[0]).toBeGreaterThan(90);
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    expect((await probeAt(page, 0.5, 0.75)).Mask[0]).toBe(0);
  });

  it('lets a pen set the strength by its pressure', async () => {
    await holdBrush(page, false);
    await page.getByRole('button', { name: 'Touch' }).click();
    await page.getByLabel('Pen pressure').selectOption('strength');
    await page.keyboard.press('Escape');
    const session = await page.context().newCDPSession(page);
    const box = (await page.getByTestId('canvas').boundingBox()) as {
      x: number;
      y: number;
      width: number;
      height: number;
    };
    const [x, y] = [box.x + box.width / 2, box.y + box.height * 0.8];
    const send = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', dx: number) =>
      session.send('Input.dispatchMouseEvent', {
        type,
        x: x + dx,
        y,
        button: 'left',
        buttons: 1,
        clickCount: 1,
        pointerType: 'pen',
        force: 0.3,
      });
    await send('mousePressed', 0);
    for (let dx = 2; dx < 20; dx += 2) await send('mouseMoved', dx);
    await send('mouseReleased', 20);
    const { Mask } = await probeAt(page, 0.505, 0.8);
    expect(Mask[0]).toBeGreaterThan(20);
    expect(Mask[0]).toBeLessThan(45);
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    await page.getByRole('button', { name: 'Touch' }).click();
    await page.getByLabel('Pen pressure').selectOption('none');
    await page.keyboard.press('Escape');
  });

  it('makes one step of a slider drag', async () => {
    await page.getByTestId('part-whole').click();
    const slider = page.getByLabel('Softness', { exact: true });
    const box = (await slider.boundingBox()) as { x: number; y: number; width: number; height: number };
    await page.mouse.move(box.x + 3, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * 0.3, box.y + box.height / 2, { steps: 10 });
    await page.mouse.up();
    expect(Number(await page.getByLabel('Softness, typed').inputValue())).toBeGreaterThan(30);
    await page.keyboard.press('Control+z');
    expect(await page.getByLabel('Softness, typed').inputValue()).toBe('0');
  });

  it('zooms at the pointer by the wheel, goes to 100 % and back to the whole, and pans', async () => {
    const zoom = () => page.getByTitle('Switch between fit and 100 % (G)').textContent();
    const fitted = await zoom();
    const before = await probeAt(page, 0.4, 0.6);
    await page.mouse.wheel(0, -400);
    await settle(page);
    expect(await zoom()).not.toBe(fitted);
    // The pointer has not moved, and neither has the picture under it.
    expect(await readProbe(page)).toEqual(before);
    await page.keyboard.press('g');
    await settle(page);
    expect(await zoom()).toBe('100 %');
    await page.keyboard.down('Space');
    await page.mouse.down();
    await page.mouse.move(500, 300, { steps: 4 });
    await page.mouse.up();
    await page.keyboard.up('Space');
    await page.mouse.move(502, 300);
    await settle(page);
    expect(await readProbe(page)).not.toEqual(before);
    await page.keyboard.press('g');
    await settle(page);
    expect(await zoom()).toBe(fitted);
  });

  it('comes back whole after a reload: picture, mask, history and view', async () => {
    const before = await probeAt(page, ...SKY);
    await page.keyboard.press('o');
    await page.getByText('Saved').waitFor();
    await page.reload();
    await page.getByTestId('canvas').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    await settle(page);
    expect(await page.getByRole('radio', { name: 'Over' }).getAttribute('aria-checked')).toBe('true');
    expect(await probeAt(page, ...SKY)).toEqual(before);
    await page.keyboard.press('Control+z');
    expect((await probeAt(page, ...LAND)).Result).not.toBeUndefined();
    expect(await page.getByText('Painted · 3 strokes').count()).toBe(1);
    await page.keyboard.press('Control+Shift+Z');
    await page.keyboard.press('u');
    expect(await probeAt(page, ...SKY)).toEqual(before);
  });

  it('exports the picture that the command line renders from the scene file, bit for bit', async () => {
    const probe = await probeAt(page, ...SKY);
    await toExport(page, 'tiff');
    const tiff = join(folder, 'browser.tif');
    await (await downloaded(page, () => page.getByRole('button', { name: 'Write Tarn print.tif' }).click())).saveAs(
      tiff,
    );
    const scene = join(folder, 'tarn.lusket');
    await (await savedScene(page, 'Save Tarn.lusket')).saveAs(scene);
    const own = join(folder, 'cli.tif');
    execFileSync(process.execPath, ['cli/lusket.mjs', 'render', scene, '--out', own]);
    const [a, b] = [await pixelsOf(tiff), await pixelsOf(own)];
    expect(a.width).toBe(2400);
    expect(
      Buffer.compare(
        Buffer.from(a.data.buffer, a.data.byteOffset, a.data.byteLength),
        Buffer.from(b.data.buffer, b.data.byteOffset, b.data.byteLength),
      ),
    ).toBe(0);
    // The file holds what the probe read, within the pixel that the pointer may be off.
    const at = (Math.round(SKY[1] * 1600) * 2400 + Math.round(SKY[0] * 2400)) * 3;
    expect(Math.abs(a.data[at] - probe.Result[0])).toBeLessThan(1500);
    const [tags] = JSON.parse(execFileSync('exiftool', ['-j', '-n', tiff], { encoding: 'utf8' }));
    expect(tags).toMatchObject({ ExposureTime: 0.25, FNumber: 11, ISO: 100, DateTimeOriginal: '2025:10:12 06:41:15' });
    expect(execFileSync('tiffinfo', [tiff], { encoding: 'utf8' })).toMatch(/Bits\/Sample: 16/);
  });

  it('stops an export while the file is being written, and can export again', async () => {
    await page.getByRole('button', { name: 'Write Tarn print.tif' }).click();
    await page.getByText(/^Writing \d+ %/).waitFor();
    await page.getByRole('button', { name: 'Stop' }).click();
    await page.getByText('Export stopped; nothing was written.').waitFor();
    await downloaded(page, () => page.getByRole('button', { name: 'Write Tarn print.tif' }).click());
  });

  it('exports PNG with the same pixels, and JPEG near them', async () => {
    await toExport(page, 'png');
    const png = join(folder, 'browser.png');
    await (await downloaded(page, () => page.getByRole('button', { name: 'Write Tarn print.png' }).click())).saveAs(
      png,
    );
    execFileSync('pngcheck', [png]);
    const [a, b] = [await pixelsOf(join(folder, 'browser.tif')), await pixelsOf(png)];
    expect(
      Buffer.from(a.data.buffer, a.data.byteOffset, a.data.byteLength).equals(
        Buffer.from(b.data.buffer, b.data.byteOffset, b.data.byteLength),
      ),
    ).toBe(true);
    await toExport(page, 'jpeg');
    const jpeg = join(folder, 'browser.jpg');
    await (await downloaded(page, () => page.getByRole('button', { name: 'Write Tarn print.jpg' }).click())).saveAs(
      jpeg,
    );
    const c = await sharp(jpeg).raw().toBuffer();
    let sum = 0;
    for (let i = 0; i < c.length; i += 101) sum += Math.abs(c[i] - a.data[i] / 257);
    expect(sum / (c.length / 101)).toBeLessThan(3);
  });

  it('had no error on the page all the while', () => {
    expect(problems).toEqual([]);
  });
});
