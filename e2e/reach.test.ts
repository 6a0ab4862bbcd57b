import type { Page } from 'playwright-core';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { addPart, goToBlend, openDemo, openPage, probeAt, settle, stroke, visitOnce } from './harness.ts';

const visit = visitOnce();
const STAGES = ['Gather', 'Align', 'Blend', 'Export'] as const;
const goTo = async (page: Page, stage: string) => {
  await page.getByRole('link', { name: new RegExp(`^${stage}`) }).click();
  await page.waitForTimeout(300);
};

/** Names of buttons that more than one of has: they do not say what they act on. */
const sharedNames = (page: Page) =>
  page.evaluate(() => {
    // Choices in a row are named by their group.
    const alone = [...document.querySelectorAll('button')].filter(
      (button) => button.checkVisibility() && !button.closest('[role=radiogroup]'),
    );
    const counts = new Map<string, number>();
    for (const button of alone) {
      const name = (button.getAttribute('aria-label') ?? button.textContent ?? '').trim();
      counts.set(name, (counts.get(name) ?? 0) + 1);
    }
    return [...counts]
      .filter(([name, count]) => count > 1 || name === '')
      .map(([name]) => name || 'one without a name');
  });

/** Labels that something else lies over, or that are cut off without a sign, at the middle of their text. */
const hiddenLabels = (page: Page) =>
  page.evaluate(() => {
    const found: string[] = [];
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    for (let node = walker.nextNode(); node; node = walker.nextNode()) {
      const element = node.parentElement as HTMLElement;
      const text = node.textContent?.trim();
      if (!text || !element.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
      if (element.closest('option, script, style, .sr-only, [aria-hidden=true], [aria-label="Skip to"]')) continue;
      const range = document.createRange();
      range.selectNodeContents(node);
      const [box] = range.getClientRects();
      if (!box || box.width < 2) continue;
      const [x, y] = [box.left + Math.min(box.width, element.clientWidth || box.width) / 2, box.top + box.height / 2];
      // What is scrolled out of sight comes into sight by scrolling.
      let isAway = false;
      for (let each: HTMLElement | null = element; each && !isAway; each = each.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(each);
        if (!/auto|scroll/.test(overflowX + overflowY) && !each.matches('.truncate')) continue;
        const frame = each.getBoundingClientRect();
        // Half of a label on the edge is scrolled out of sight as well.
        isAway = x < frame.left + 1 || x > frame.right - 1 || y < frame.top + 1 || y > frame.bottom - 1;
      }
      if (isAway) continue;
      const hit = document.elementFromPoint(x, y);
      const isSeen = hit && (element.contains(hit) || hit.contains(element));
      const passes = getComputedStyle(element).pointerEvents === 'none' || element.closest('.pointer-events-none');
      if (!isSeen && !passes) found.push(`${text} under ${hit?.textContent?.slice(0, 30) ?? 'nothing'}`);
    }
    return found;
  });

describe('by keyboard', () => {
  it('focus is seen on every stop of the home page, and each button says what it acts on', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Demo: Tarn' }).waitFor();
    const unseen: string[] = [];
    for (let i = 0; i < 9; i++) {
      await page.keyboard.press('Tab');
      const stop = await page.evaluate(() => {
        const { activeElement } = document;
        if (!activeElement || activeElement === document.body) return undefined;
        const shown = activeElement.matches('.sr-only') ? activeElement.closest('label') : activeElement;
        const { outlineStyle, outlineWidth } = getComputedStyle(shown as Element);
        return { name: activeElement.outerHTML.slice(0, 80), seen: outlineStyle !== 'none' && outlineWidth !== '0px' };
      });
      if (stop && !stop.seen) unseen.push(stop.name);
    }
    expect(unseen).toEqual([]);
    expect(await sharedNames(page)).toEqual([]);
  });

  it('every button of every stage has a name of its own, and the stack is a few stops away', async () => {
    const { page } = visit;
    await openDemo(page);
    await goToBlend(page);
    await addPart(page, 'Tones');
    for (const stage of STAGES) {
      await goTo(page, stage);
      expect(await sharedNames(page), stage).toEqual([]);
    }
    await goTo(page, 'Blend');
    await page.locator('[aria-label="Skip to"] button').first().focus();
    const skip = page.getByRole('button', { name: 'Skip to: Stack' });
    for (let i = 0; i < 8 && !(await skip.evaluate((each) => each === document.activeElement)); i++)
      await page.keyboard.press('Tab');
    await page.keyboard.press('Enter');
    await page.keyboard.press('Tab');
    expect(await page.evaluate(() => document.activeElement?.getAttribute('aria-label'))).toBe('Select layer −2 EV');
    // Landmarks: the stages, the main part, and what stands beside it.
    for (const role of ['main', 'navigation', 'complementary'] as const)
      expect(await page.getByRole(role).count(), role).toBeGreaterThan(0);
    await page.keyboard.press('Control+z');
  });
});

describe('another base', () => {
  it('says what changes, keeps the layer of the new base aside with its mask, and gives it back', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
    await stroke(page, [
      [0.3, 0.2],
      [0.6, 0.2],
    ]);
    const before = await probeAt(page, 0.45, 0.2);
    expect(before.Mask[0]).toBeGreaterThan(30);
    const order = () =>
      page
        .locator('[data-testid^="layer-"]')
        .evaluateAll((cards) => cards.map((card) => (card as HTMLElement).dataset.testid));
    const stacked = await order();
    const makeBase = async (n: number, says: RegExp) => {
      await goTo(page, 'Gather');
      await page
        .getByTestId(`frame-tarn-${n}.jpg`)
        .getByRole('button', { name: /^Make it the base/ })
        .click();
      await page.getByRole('dialog').getByText(says).waitFor();
      await page.getByRole('dialog').getByRole('button', { name: 'Use as base' }).click();
      await goTo(page, 'Blend');
      await settle(page);
    };
    await makeBase(2, /layer of −2 EV is set aside with its mask/);
    expect(await page.getByTestId('layer-−2 EV').count()).toBe(0);
    await page.getByTestId('layer-0 EV').waitFor();
    await makeBase(3, /layer of −2 EV comes back with its mask/);
    expect(await order()).toEqual(stacked);
    await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
    const after = await probeAt(page, 0.45, 0.2);
    expect(after).toEqual(before);
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
  });
});

describe('the list of scenes', () => {
  it('draws pictures in the background of scenes that have none', async () => {
    const { page, harness } = visit;
    await page.getByText('Saved').waitFor();
    const address = page.url();
    // The tab is closed, and what it would have left behind is gone.
    await page.goto('about:blank');
    await page.goto(new URL('/', address).href);
    await page.evaluate(
      () =>
        new Promise<void>((resolve) => {
          const request = indexedDB.open('lusket');
          request.onsuccess = () => {
            const clearing = request.result.transaction('thumbs', 'readwrite');
            clearing.objectStore('thumbs').clear();
            clearing.oncomplete = () => {
              request.result.close();
              resolve();
            };
          };
        }),
    );
    await page.reload();
    const card = page.getByTestId('scene-Tarn');
    await card.getByText(/Drawing its picture|No picture yet/).waitFor();
    await card.locator('img').waitFor({ timeout: 30_000 });
    const width = await card
      .locator('img')
      .evaluate((image) => (image as HTMLImageElement).decode().then(() => (image as HTMLImageElement).naturalWidth));
    expect(width).toBeGreaterThan(400);
    // Opening a scene while pictures are drawn finds its frames whole.
    await card.getByRole('link', { name: 'Open: Tarn' }).click();
    await page.getByTestId('canvas').waitFor();
    await settle(page);
    expect((await probeAt(page, 0.5, 0.9)).Result.every((value) => value > 0)).toBe(true);
    expect(visit.problems).toEqual([]);
    expect(harness).toBeDefined();
  });
});

describe('many frames on small and large screens', () => {
  it('no label lies under another, and the probe reads every frame', { timeout: 90_000 }, async () => {
    const { page, problems } = await openPage(visit.harness);
    const size = { width: 300, height: 200 };
    const files = await Promise.all(
      Array.from({ length: 16 }, async (_, i) => ({
        name: `a-rather-long-name-${i + 1}.jpg`,
        mimeType: 'image/jpeg',
        buffer: await sharp({
          create: { ...size, channels: 3, background: { r: 12 + 14 * i, g: 10 + 12 * i, b: 8 + 10 * i } },
        })
          .jpeg()
          .withExif({ IFD2: { ExposureTime: `${2 ** i}/6400`, FNumber: '8/1', ISOSpeedRatings: '100' } })
          .toBuffer(),
      })),
    );
    await page.getByTestId('choose-frames').setInputFiles(files);
    await page.getByTestId('frame-a-rather-long-name-16.jpg').waitFor({ timeout: 60_000 });
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    for (const [width, height] of [
      [1024, 640],
      [1280, 800],
      [3840, 2160],
    ]) {
      await page.setViewportSize({ width, height });
      for (const stage of STAGES) {
        await goTo(page, stage);
        if (stage === 'Blend') {
          const canvas = page.getByTestId('canvas');
          await canvas.hover();
          await page.getByTestId('probe-mask').waitFor();
        }
        expect(await hiddenLabels(page), `${stage} at ${width} x ${height}`).toEqual([]);
      }
    }
    await page.setViewportSize({ width: 1024, height: 640 });
    await goTo(page, 'Blend');
    await page.getByTestId('canvas').hover();
    // The check itself sees labels that are pushed together.
    await page.addStyleTag({
      content: '[role=toolbar] { flex-wrap: nowrap !important } [role=toolbar] > * { flex-shrink: 1 !important }',
    });
    expect((await hiddenLabels(page)).length).toBeGreaterThan(0);
    const rows = page.getByTestId('probe').locator('tr');
    await expect.poll(() => rows.count()).toBe(18);
    // What matters first, and the rest by scrolling: the last is reached, and the reading stays meanwhile.
    const names = await rows.locator('th').allTextContents();
    expect(names.slice(0, 3)).toEqual(['Result', 'Mask', names[2]]);
    await rows.last().scrollIntoViewIfNeeded();
    await rows.last().hover();
    expect(await rows.count()).toBe(18);
    expect(problems).toEqual([]);
    await page.context().close();
  });
});
