import * as piexif from 'piexif-ts';
import type { Page } from 'playwright-core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Harness, openDemo, openPage, startHarness } from './harness.ts';

let harness: Harness;
let page: Page;
let problems: string[];

beforeAll(async () => {
  harness = await startHarness();
  ({ page, problems } = await openPage(harness));
  await openDemo(page);
});
afterAll(() => harness.close());

const card = (n: number) => page.getByTestId(`frame-tarn-${n}.jpg`);
const cards = () => page.getByRole('list', { name: 'Frames' }).getByRole('listitem').count();

describe('the contact sheet', () => {
  it('tells limits and profile of each frame', async () => {
    await card(5)
      .getByRole('img', { name: /Histogram; blocked 0 %, blown 5\d %/ })
      .waitFor();
    expect(await card(1).textContent()).toContain('sRGB');
  });

  it('is walked by arrow keys, and frames are chosen by keys', async () => {
    await card(2).focus();
    await page.keyboard.press('ArrowRight');
    expect(await card(3).evaluate((element) => element === document.activeElement)).toBe(true);
    await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('t');
    expect(await card(2).getByRole('radio', { name: 'Maybe' }).getAttribute('aria-checked')).toBe('true');
    await page.keyboard.press('e');
    expect(await card(2).getByRole('radio', { name: 'Out' }).getAttribute('aria-checked')).toBe('true');
    await page.keyboard.press('y');
    await page.keyboard.press('b');
    await card(2).getByText('Base', { exact: true }).waitFor();
    await card(3).focus();
    await page.keyboard.press('b');
  });

  it('takes labels, and moments that are split, renamed and joined, and undoes all of it', async () => {
    await card(1).getByLabel('Label of the frame').fill('Embers');
    await page.keyboard.press('Enter');
    await card(4).getByRole('button', { name: 'More for this frame' }).click();
    await page.getByRole('menuitem', { name: 'Start a new moment here' }).click();
    expect(await page.getByRole('region', { name: /^Moment/ }).count()).toBe(2);
    const second = page.getByLabel('Name of the moment').nth(1);
    await second.fill('Later light');
    await second.press('Enter');
    await page.getByRole('region', { name: 'Moment Later light' }).waitFor();
    await page.getByRole('button', { name: 'Join to the moment before' }).click();
    expect(await page.getByRole('region', { name: /^Moment/ }).count()).toBe(1);
    expect(await card(1).getByLabel('Label of the frame').inputValue()).toBe('Embers');
    for (let step = 0; step < 4; step++) await page.keyboard.press('Control+z');
    await expect.poll(() => card(1).getByLabel('Label of the frame').inputValue()).toBe('−4 EV');
  });
});

describe('comparing', () => {
  it('shows frames side by side, under a divider and blinking, zoomed together', async () => {
    for (const n of [2, 3]) {
      await card(n).focus();
      await page.keyboard.press('Space');
    }
    await page.keyboard.press('Enter');
    const dialog = page.getByRole('dialog', { name: 'Compare frames' });
    await dialog.waitFor();
    await dialog.getByLabel('Limits hatched').check();
    const pane = page.getByTestId('pane-tarn-2.jpg');
    await pane.hover();
    await page.mouse.wheel(0, -400);
    await dialog.getByText(/^4\d %$/).waitFor();
    await dialog.getByRole('radio', { name: 'Divider' }).click();
    const divider = dialog.getByRole('slider', { name: 'Divider' });
    await divider.press('ArrowRight');
    expect(await divider.getAttribute('aria-valuenow')).toBe('52');
    await dialog.getByRole('radio', { name: 'Blink' }).click();
    await dialog.getByRole('radio', { name: 'Quick' }).click();
    const seen = new Set<string>();
    await expect
      .poll(async () => seen.add((await dialog.locator('header span').first().textContent()) ?? '').size)
      .toBe(2);
    await page.keyboard.press('Escape');
    await dialog.waitFor({ state: 'hidden' });
  });
});

describe('advice', () => {
  it('names the base and the frames that are not needed, and is taken by one press', async () => {
    const advice = page.getByRole('region', { name: 'Advice' });
    expect(await advice.textContent()).toMatch(/Base: 0 EV.*is the base/);
    await card(1).getByRole('button', { name: 'Make it the base' }).click();
    await advice.getByRole('button', { name: 'Use as base' }).click();
    await card(3).getByText('Base', { exact: true }).waitFor();
    expect(await advice.textContent()).toMatch(/by noise, local contrast or clipping/);
    await advice.getByRole('button', { name: 'Leave it out' }).click();
    expect(await card(1).getByRole('radio', { name: 'Out' }).getAttribute('aria-checked')).toBe('true');
    expect(await cards()).toBe(5);
    await page.getByRole('button', { name: 'Continue to Blend' }).click();
    await page.getByRole('button', { name: 'Select layer −2 EV' }).waitFor();
    expect(await page.getByRole('button', { name: /^Select layer/ }).count()).toBe(3);
    expect(problems).toEqual([]);
  });
});

describe('frames of several moments', () => {
  it('are grouped by the pauses between them, on a scale of time', async () => {
    await page.goto(harness.address);
    await page.getByRole('button', { name: 'Demo: Viaduct' }).click();
    await page.getByTestId('frame-viaduct-7.jpg').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    // Six moments ten minutes apart; the short frame for the clock belongs to the fifth.
    await expect.poll(() => page.getByRole('region', { name: /^Moment 19:/ }).count()).toBe(6);
    expect(await page.getByRole('region', { name: 'Moment 19:40' }).locator('[data-frame]').count()).toBe(2);
    await page.getByRole('img', { name: 'Moments on a scale of time' }).getByText('19:25').waitFor();
    expect(problems).toEqual([]);
  });
});

describe('a moment of several brackets', () => {
  it('tells them apart where an exposure comes again, and takes one of them', async () => {
    const small = await sharp('demo/frames/tarn/tarn-3.jpg').resize(480).jpeg().toBuffer();
    const files = [60, 240, 15, 60, 240, 15].map((time, i) => {
      const exif = { 33434: [1, time], 33437: [8, 1], 34855: 100, 36867: `2026:03:02 18:20:0${i}` };
      const block = piexif.dump({ Exif: exif } as piexif.IExif);
      const buffer = Buffer.from(piexif.insert(block, small.toString('latin1')), 'latin1');
      return { name: `shot-${i}.jpg`, mimeType: 'image/jpeg', buffer };
    });
    await page.goto(harness.address);
    await page.getByTestId('choose-frames').setInputFiles(files);
    await page.getByTestId('frame-shot-5.jpg').waitFor();
    const brackets = page.getByRole('group', { name: 'Brackets of 18:20' }).getByRole('button');
    await expect.poll(() => brackets.count()).toBe(2);
    await brackets.nth(1).click();
    await expect.poll(() => brackets.nth(1).getAttribute('aria-pressed')).toBe('true');
    for (const [i, wanted] of ['Out', 'Out', 'Out', 'In', 'In', 'In'].entries()) {
      const choice = page.getByTestId(`frame-shot-${i}.jpg`).getByRole('radio', { name: wanted });
      expect(await choice.getAttribute('aria-checked')).toBe('true');
    }
    await page.keyboard.press('Control+z');
    await expect.poll(() => brackets.nth(1).getAttribute('aria-pressed')).toBe('false');
    expect(problems).toEqual([]);
  });
});

describe('fifty files at once', () => {
  it('come one after the other while the page stays alive, and can be stopped', async () => {
    const small = await sharp('demo/frames/tarn/tarn-3.jpg').resize(600).toBuffer();
    const files = Array.from({ length: 50 }, (_, i) => ({
      name: `many-${String(i).padStart(2, '0')}.jpg`,
      mimeType: 'image/jpeg',
      buffer: Buffer.concat([small, Buffer.of(i)]), // a byte behind the picture makes each a file of its own
    }));
    await page.goto(harness.address);
    await page.getByTestId('choose-frames').setInputFiles(files);
    await page.getByTestId('frame-many-04.jpg').waitFor();
    await page.getByRole('list', { name: 'Frames under way' }).getByText('many-49.jpg').waitFor();
    await page.getByTestId('frame-many-49.jpg').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    expect(await page.locator('[data-frame]').count()).toBe(50);
    // First the exposures that were estimated (once all frames are measured), then the fifty frames in one step.
    await expect.poll(() => page.locator('[data-frame][aria-label^="≈"]').count()).toBe(50);
    for (let step = 0; step < 2; step++) await page.getByRole('button', { name: 'Undo' }).click();
    await expect.poll(() => page.locator('[data-frame]').count()).toBe(0);
    expect(problems).toEqual([]);
  });
});

describe('a file with a preview in it', () => {
  it('shows it while the file itself is read', async () => {
    const thumbnail = await sharp('demo/frames/tarn/tarn-4.jpg').resize(160).jpeg({ quality: 60 }).toBuffer();
    const large = await sharp('demo/frames/tarn/tarn-4.jpg').resize(7200).jpeg({ quality: 95 }).toBuffer();
    const block = piexif.dump({
      '0th': { 271: 'Nobody' },
      '1st': { 259: 6 },
      thumbnail: thumbnail.toString('latin1'),
    } as piexif.IExif);
    const file = Buffer.from(piexif.insert(block, large.toString('latin1')), 'latin1');
    await page.goto(harness.address);
    await page.getByTestId('choose-frames').setInputFiles({ name: 'large.jpg', mimeType: 'image/jpeg', buffer: file });
    const preview = page.getByRole('list', { name: 'Frames under way' }).locator('img');
    await preview.waitFor();
    expect(
      await preview.evaluate(async (image: HTMLImageElement) => {
        await image.decode();
        return image.naturalWidth;
      }),
    ).toBe(160);
    await page.getByTestId('frame-large.jpg').waitFor();
    await preview.waitFor({ state: 'hidden' });
    expect(problems).toEqual([]);
  });
});
