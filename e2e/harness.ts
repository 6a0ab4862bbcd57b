import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Browser, type BrowserContext, chromium, type Download, type Page } from 'playwright-core';
import sharp from 'sharp';
import { afterAll, beforeAll, expect } from 'vitest';
import { CHROMIUM, FLAGS, startServer } from './launch.ts';

export interface Harness {
  address: string;
  browser: Browser;
  close: () => Promise<void>;
}

/** The built application, served, and a browser to look at it with. */
export async function startHarness(serverOptions: readonly string[] = []): Promise<Harness> {
  if (!CHROMIUM) throw new Error('End-to-end tests need Chromium: apt-get install chromium');
  const { server, address } = await startServer(serverOptions);
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: FLAGS });
  return {
    address,
    browser,
    close: async () => {
      await browser.close();
      server.kill();
    },
  };
}

/** How long the page may take for anything: a machine that is shared may be slow for minutes. */
const PATIENCE_MS = 90_000;

/** A page in a fresh browser profile; anything that goes wrong in it fails the test that looks.
 * @param before - Runs in the page before anything of its own. */
export async function openPage(
  { browser, address }: Harness,
  path = '/',
  before: () => void = () => undefined,
): Promise<{ page: Page; context: BrowserContext; problems: string[] }> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true });
  context.setDefaultTimeout(PATIENCE_MS);
  const page = await context.newPage();
  await page.addInitScript(before);
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(String(error)));
  page.on('console', (message) => {
    // The tests read the canvas back, which the application never does.
    if (/willReadFrequently/.test(message.text())) return;
    if (message.type() === 'error' || message.type() === 'warning') problems.push(message.text());
  });
  await page.goto(address + path);
  return { page, context, problems };
}

/** What the tests of a file share; it is there once they run. */
export interface Visit {
  harness: Harness;
  page: Page;
  context: BrowserContext;
  problems: string[];
}

/** One page of the served application for all tests of a file.
 * @param before - What they all begin with. */
export function visitOnce(
  before: (page: Page) => Promise<void> = async () => undefined,
  serverOptions: readonly string[] = [],
): Visit {
  const visit = {} as Visit;
  beforeAll(async () => {
    visit.harness = await startHarness(serverOptions);
    Object.assign(visit, await openPage(visit.harness));
    await before(visit.page);
  });
  afterAll(() => visit.harness.close());
  return visit;
}

/** Opens the demo and waits until its five frames are there. */
export async function openDemo(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Demo: Tarn' }).click();
  await page.getByTestId('frame-tarn-5.jpg').waitFor();
  await page.getByText('Reading').waitFor({ state: 'hidden' });
}

export async function goToBlend(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Continue to Blend' }).click();
  await page.getByTestId('canvas').waitFor();
  await settle(page);
}

/** Waits until the canvas has drawn all that it was asked for. */
export async function settle(page: Page): Promise<void> {
  await page.waitForTimeout(60);
  await page.waitForFunction(
    () => {
      const canvas = document.querySelector<HTMLCanvasElement>('[data-testid=canvas]');
      const count = canvas?.dataset.settled;
      const before = canvas?.dataset.seen;
      if (canvas && count !== undefined) canvas.dataset.seen = count;
      return count !== undefined && count === before;
    },
    undefined,
    { polling: 120 },
  );
}

/** Where a point of the demo picture, in shares of its sides, lies on screen while it is fitted. */
export async function onPicture(page: Page, u: number, v: number): Promise<[number, number]> {
  const box = await page.getByTestId('canvas').boundingBox();
  if (!box) throw new Error('no canvas');
  const scale = Math.min((box.width - 32) / 2400, (box.height - 32) / 1600);
  return [box.x + box.width / 2 + (u - 0.5) * 2400 * scale, box.y + box.height / 2 + (v - 0.5) * 1600 * scale];
}

/** Drags the real pointer along points of the picture. */
export async function stroke(page: Page, points: readonly (readonly [number, number])[]): Promise<void> {
  const [first, ...rest] = points;
  await page.mouse.move(...(await onPicture(page, ...first)));
  await page.mouse.down();
  for (const point of rest) await page.mouse.move(...(await onPicture(page, ...point)), { steps: 12 });
  await page.mouse.up();
}

/** The probe's 16-bit rows at a point of the picture, by name, with the mask's share. */
export async function probeAt(page: Page, u: number, v: number): Promise<Record<string, number[]>> {
  await settle(page);
  if ((await page.getByTestId('probe').getByRole('button').textContent()) === '8 bit')
    await page.getByTestId('probe').getByRole('button').click();
  const [x, y] = await onPicture(page, u, v);
  await page.mouse.move(x + 3, y);
  await page.mouse.move(x, y);
  await page.waitForTimeout(250);
  await page.locator('[data-testid="probe"][aria-busy="false"] [data-testid="probe-mask"]').waitFor();
  return readProbe(page);
}

/** The probe's rows as they stand. */
export async function readProbe(page: Page): Promise<Record<string, number[]>> {
  return page
    .getByTestId('probe')
    .locator('tr')
    .evaluateAll((rows) =>
      Object.fromEntries(
        rows.map((row) => [
          row.querySelector('th')?.textContent ?? '',
          [...row.querySelectorAll('td')].map((cell) => Number.parseFloat(cell.textContent ?? '')),
        ]),
      ),
    );
}

/** Starts a download and answers it finished. */
export async function downloaded(page: Page, start: () => Promise<void>): Promise<Download> {
  const [download] = await Promise.all([page.waitForEvent('download', { timeout: 60_000 }), start()]);
  expect(await download.failure()).toBeNull();
  return download;
}

/** Adds a part of a kind to the mask that is open. */
export async function addPart(page: Page, kind: string): Promise<void> {
  await page.getByRole('button', { name: 'Add part' }).click();
  await page.getByRole('menuitem', { name: new RegExp(`^${kind}`) }).click();
}

/** Opens a part by its id. */
export async function openPart(page: Page, id: string): Promise<void> {
  await page.getByTestId(`part-${id}`).getByRole('button').first().click();
}

/** Makes a stencil of light tones of the base for the selected layer, and goes back to the mask. */
export async function makeStencil(page: Page): Promise<void> {
  await page.getByRole('radio', { name: /^Stencil/ }).click();
  await addPart(page, 'Tones');
  await page.getByRole('radio', { name: 'Mask', exact: true }).click();
}

/** Lets the stencil hold the brush, or not, and goes back to the mask. */
export async function holdBrush(page: Page, on: boolean): Promise<void> {
  await page.getByRole('radio', { name: /^Stencil/ }).click();
  const now = page.getByRole('button', { name: /^(Not in use|In use)/ });
  if ((await now.textContent()) === (on ? 'Not in use' : 'In use')) await now.click();
  await page.getByRole('radio', { name: 'Mask', exact: true }).click();
}

/** Goes to Export and has the first preset write one kind of file, in the scene's own colours. */
export async function toExport(page: Page, format: string, space = 'scene'): Promise<void> {
  await page.getByRole('link', { name: /^Export/ }).click();
  await page.getByRole('button', { name: 'Preset Print' }).click();
  await page.getByLabel('Format', { exact: true }).selectOption(format);
  await page.getByRole('combobox', { name: 'Colours' }).selectOption(space);
}

/** Saves the scene file in Export, and goes back to the first preset. */
export async function savedScene(page: Page, button: string | RegExp): Promise<Download> {
  await page.getByRole('link', { name: /^Export/ }).click();
  await page.getByRole('button', { name: /^The scene file/ }).click();
  const saved = await downloaded(page, () => page.getByRole('button', { name: button }).click());
  await page.getByRole('button', { name: 'Preset Print' }).click();
  return saved;
}

/** Exports the scene of the page as 16-bit PNG, saves it as a file, and has the command line render that.
 * @returns Whether both pictures are the same, bit for bit. */
export async function rendersAlike(page: Page, name: string): Promise<boolean> {
  await toExport(page, 'png');
  const shown = await downloaded(page, () => page.getByRole('button', { name: /^Write .*\.png/ }).click());
  const saved = await savedScene(page, `Save ${name}.lusket`);
  const folder = mkdtempSync(join(tmpdir(), 'lusket-alike-'));
  const [picture, scene, own] = ['shown.png', 'saved.lusket', 'own.png'].map((file) => join(folder, file));
  await shown.saveAs(picture);
  await saved.saveAs(scene);
  execFileSync(process.execPath, ['cli/lusket.mjs', 'render', scene, '--out', own]);
  const [a, b] = await Promise.all([picture, own].map((path) => sharp(path).raw({ depth: 'ushort' }).toBuffer()));
  return a.equals(b);
}
