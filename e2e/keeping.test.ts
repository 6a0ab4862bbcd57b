import { readFileSync, statSync } from 'node:fs';
import type { BrowserContext, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { goToBlend, type Harness, openDemo, openPage, savedScene, settle, startHarness } from './harness.ts';

let harness: Harness;
let page: Page;
let context: BrowserContext;
let problems: string[];

beforeAll(async () => {
  harness = await startHarness();
  ({ page, context, problems } = await openPage(harness));
  await openDemo(page);
  await goToBlend(page);
});
afterAll(() => harness.close());

const MOST_LOST_MS = 500;

/** Strokes that are stored: how many points each has, and when its last point was. */
const storedStrokes = (where: Page) =>
  where.evaluate(async () => {
    const db = await new Promise<IDBDatabase>((resolve) => {
      const request = indexedDB.open('lusket');
      request.onsuccess = () => resolve(request.result);
    });
    const strokes = await new Promise<Float32Array[]>((resolve) => {
      const request = db.transaction('strokes').objectStore('strokes').getAll();
      request.onsuccess = () => resolve(request.result);
    });
    db.close();
    return strokes.map((points) => points[points.length - 1]);
  });

async function openIn(where: Page, url: string): Promise<void> {
  await where.goto(url);
  await where.getByTestId('canvas').waitFor();
  await where.getByText('Reading').waitFor({ state: 'hidden' });
}

describe('a tab that is killed in the middle of painting', () => {
  it('loses at most half a second of the stroke', async () => {
    const box = await page.getByTestId('canvas').boundingBox();
    if (!box) throw new Error('no canvas');
    await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
    await page.mouse.move(box.x + 120, box.y + 200);
    await page.mouse.down();
    const since = Date.now();
    for (let step = 0; step < 90; step++) {
      await page.mouse.move(box.x + 120 + step * 4, box.y + 200 + 20 * Math.sin(step / 6));
      await page.waitForTimeout(15);
    }
    const painted = Date.now() - since;
    const url = page.url();
    const session = await context.newCDPSession(page);
    // The process of the page dies at once: nothing in it can do anything any more.
    void session.send('Page.crash').catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, 500));
    await page.close();

    page = await context.newPage();
    page.on('pageerror', (error) => problems.push(String(error)));
    await openIn(page, url);
    await page.getByText('The stroke that was interrupted').waitFor();
    await expect.poll(() => storedStrokes(page).then((strokes) => strokes.length)).toBe(1);
    const [lastMs] = await storedStrokes(page);
    expect(painted - lastMs).toBeLessThan(MOST_LOST_MS + 150); // 150: the pointer's own way into the page
    expect(lastMs).toBeGreaterThan(500);
    await page.getByRole('button', { name: 'Undo it' }).click();
    await page.getByText('Saved').waitFor();
  });
});

describe('a scene in two tabs', () => {
  it('can be changed in one and looked at in the other, until the first is closed', async () => {
    const second = await context.newPage();
    await openIn(second, page.url());
    await second.getByText('open in another tab').first().waitFor();
    await second.getByRole('button', { name: 'Undo' }).click();
    await second.getByText('Close it there to edit it here').waitFor();
    await settle(second);
    const url = page.url();
    await page.close();
    await second.getByText('open in another tab. You can view').waitFor({ state: 'hidden' });
    page = second;
    expect(page.url()).toBe(url);
    await page.getByRole('link', { name: /^Gather/ }).click();
    await page.getByLabel('Name of the scene').fill('Taken over');
    await page.getByLabel('Name of the scene').press('Enter');
    await page.getByText('Saved').waitFor();
  });
});

describe('a scene file without its frames', () => {
  it('asks for them, knows them by what is in them, and shows the picture again', async () => {
    const slim = await savedScene(page, 'Save without the frames');
    const path = await slim.path();
    expect(statSync(path).size).toBeLessThan(20_000);
    const other = await openPage(harness);
    await other.page
      .getByTestId('open-scene-file')
      .setInputFiles({ name: 'slim.lusket', mimeType: 'application/zip', buffer: readFileSync(path) });
    await other.page.getByRole('alert', { name: 'Missing files' }).waitFor();
    const file = (n: number, name: string) => ({
      name,
      mimeType: 'image/jpeg',
      buffer: readFileSync(`demo/frames/tarn/tarn-${n}.jpg`),
    });
    await other.page
      .getByTestId('find-lost')
      .setInputFiles([1, 2, 3, 4, 5].map((n) => file(n, n === 3 ? 'renamed.jpg' : `tarn-${n}.jpg`)));
    await other.page.getByRole('alert', { name: 'Missing files' }).waitFor({ state: 'hidden' });
    await other.page.getByText('Reading').waitFor({ state: 'hidden' });
    await other.page.getByRole('link', { name: /^Gather/ }).click();
    await other.page
      .getByTestId('frame-tarn-3.jpg')
      .getByRole('img', { name: /Histogram/ })
      .waitFor();
    expect(other.problems).toEqual([]);
    await other.context.close();
  });
});

describe('the list of scenes', () => {
  it('is searched by name, and tells how much room scenes take and is left', async () => {
    await page.getByRole('link', { name: 'Lusket' }).click();
    const scene = page.getByTestId('scene-Taken over');
    await scene.waitFor();
    expect(await scene.textContent()).toMatch(/5 frames · 2\.\d MB/);
    await expect.poll(() => page.getByTestId('room').textContent()).toMatch(/stored on this machine, .* free/);
    await page.getByLabel('Find a scene by name').fill('over tak');
    await scene.waitFor();
    await page.getByLabel('Find a scene by name').fill('lighthouse');
    await page.getByText('No scene has that name.').waitFor();
    expect(problems).toEqual([]);
  });
});
