import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Harness, openPage, startHarness } from './harness.ts';

let harness: Harness;
let page: Page;
let problems: string[];

beforeAll(async () => {
  // A slow card, so that there is time to pull it out.
  harness = await startHarness(['--card-speed', '0.8']);
  ({ page, problems } = await openPage(harness));
});
afterAll(() => harness.close());

describe('the camera card', () => {
  it('is copied with progress, survives being pulled out, and becomes a scene', async () => {
    await page.getByRole('button', { name: 'Camera card…' }).click();
    const dialog = page.getByRole('dialog', { name: 'Camera card' });
    const folder = dialog.getByRole('listitem').filter({ hasText: '100' }).first();
    await folder.getByRole('button', { name: 'Copy' }).click();
    await dialog.getByText(/Copying LSKT000[2-9]\.JPG/).waitFor();
    await dialog.getByRole('button', { name: 'Pull the card out' }).click();
    await dialog.getByText(/The card was pulled out after [1-9]/).waitFor();
    await dialog.getByText('No card in the reader').waitFor();
    expect(await dialog.getByRole('button', { name: 'Continue' }).isDisabled()).toBe(true);
    let asked = 0;
    await page.route('**/LSKT0003.JPG', (route) => (asked++ === 0 ? route.abort() : route.continue()));
    await dialog.getByRole('button', { name: 'Put the card in' }).click();
    await dialog.getByRole('button', { name: 'Continue' }).click();
    await page.getByTestId('frame-LSKT0001.JPG').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    expect(await page.locator('[data-frame]').count()).toBeGreaterThanOrEqual(3);
    expect(asked).toBe(2); // what breaks off while the card is in is copied once more
  });

  it('can be stopped, and answers a browser without a reader', async () => {
    await page.getByRole('button', { name: 'Add frames from the camera card' }).click();
    const dialog = page.getByRole('dialog', { name: 'Camera card' });
    await dialog.getByRole('button', { name: 'Copy' }).first().click();
    await dialog.getByRole('button', { name: 'Stop' }).click();
    await dialog.getByRole('progressbar').waitFor({ state: 'hidden' });
    await dialog.getByRole('button', { name: 'Close' }).click();
    await page.route('**/api/card', (route) => route.abort());
    await page.getByRole('button', { name: 'Add frames from the camera card' }).click();
    await dialog.getByText('There is no card reader here').waitFor();
    expect(problems.filter((text) => !/ERR_FAILED|ERR_INCOMPLETE|ERR_CONTENT_LENGTH|410/.test(text))).toEqual([]);
  });
});
