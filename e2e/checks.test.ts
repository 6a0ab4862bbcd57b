import { spawnSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import { goToBlend, onPicture, openDemo, probeAt, savedScene, settle, stroke, visitOnce } from './harness.ts';

const visit = visitOnce(async (page) => {
  await openDemo(page);
  await goToBlend(page);
});

const checks = () => visit.page.getByTestId('checks');
const row = (check: string) => visit.page.getByTestId(`check-${check}`);
const says = () => visit.page.getByTestId('visit-says');
/** How many places of a check are told. */
const countOf = async (check: string) =>
  Number((await row(check).locator('span').last().textContent())?.replace('–', '0'));
/** All parts have been measured. */
const atRest = () => expect.poll(() => checks().getByRole('status').count(), { timeout: 60_000 }).toBe(0);
const visitWorst = async () => {
  // Chosen anew, it shows all of its places.
  if ((await row('rims').getAttribute('aria-pressed')) === 'true') await row('rims').click();
  await row('rims').click();
  await visit.page.getByRole('button', { name: 'Visit the worst' }).click();
};
const type = async (label: string, value: number) => {
  const field = visit.page.getByRole('toolbar').getByLabel(`${label}, typed`, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
};

const NAMES = ['rims', 'seams', 'flat', 'light', 'ghosts', 'noise', 'limits', 'colours', 'bare'];
/** What the command line tells of the scene as it is now. The page stays in Export. */
async function toldOf(page: Page, ...options: string[]) {
  const saved = await savedScene(page, /^Save .*\.lusket/);
  const scene = join(mkdtempSync(join(tmpdir(), 'lusket-checks-')), 'tarn.lusket');
  await saved.saveAs(scene);
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ['cli/lusket.mjs', 'check', scene, '--json', ...options],
    { encoding: 'utf8' },
  );
  expect([status, stderr]).toEqual([0, '']);
  return JSON.parse(stdout);
}

describe('checks of a blend', () => {
  it('have nothing to say of the base alone', async () => {
    await visit.page.keyboard.press('Shift+C');
    await expect.poll(() => checks().textContent()).toContain('nothing to check yet');
  });

  it('find the bright rim that a sky leaves which ends before the ridge', async () => {
    const { page } = visit;
    for (const [label, value] of [
      ['Strength', 100],
      ['Hardness', 60],
      ['Size', 500],
    ] as const)
      await type(label, value);
    for (const v of [0.06, 0.16])
      await stroke(page, [
        [0.03, v],
        [0.97, v],
      ]);
    await settle(page);
    await expect.poll(() => countOf('rims'), { timeout: 60_000 }).toBeGreaterThan(0);
    await atRest();
    expect(await page.getByRole('link', { name: /^Blend/ }).textContent()).toMatch(/shown, \d+ to visit/);
    await row('rims').click();
    await page.getByTestId('checks-map').waitFor();
    await page.getByRole('button', { name: 'Visit the worst' }).click();
    await page.getByTestId('visit-ring').waitFor();
    expect(await says().textContent()).toMatch(/^Bright rim, \d+ px wide, \d+ % brighter than what lies beside it\.$/);
    expect(await page.getByTestId('visit-place').textContent()).toMatch(/Rims · 1 of \d+ · −2 EV/);
    expect(await page.getByRole('button', { name: /^100 %/ }).count()).toBe(1);
  });

  it('go from place to place by keys, and leave one as it is', async () => {
    const { page } = visit;
    const before = await countOf('rims');
    const first = await says().textContent();
    await page.keyboard.press(']');
    await expect
      .poll(async () => [await says().textContent(), await page.getByTestId('visit-place').textContent()].join())
      .not.toBe([first, `Rims · 1 of ${before} · −2 EV`].join());
    await page.keyboard.press('[');
    await expect.poll(() => page.getByTestId('visit-place').textContent()).toMatch(/Rims · 1 of/);
    await page.keyboard.press('Shift+D');
    await expect.poll(() => countOf('rims')).toBe(before - 1);
    if (before === 1) await row('rims').click();
    await page.getByRole('button', { name: '1 left' }).click();
    await expect.poll(() => countOf('rims')).toBe(before);
  });

  it('show a remedy while it is pointed at, and take it as one step that can be undone', async () => {
    const { page } = visit;
    await visitWorst();
    const remedy = checks().getByRole('button', { name: 'Paint this frame in there' });
    const middle = async () => {
      const box = await page.getByTestId('canvas').boundingBox();
      if (!box) throw new Error('no canvas');
      await settle(page);
      const shot = await page.screenshot({
        clip: { x: box.x + box.width / 2 - 40, y: box.y + box.height / 2 - 40, width: 30, height: 30 },
      });
      const { channels } = await (await import('sharp')).default(shot).stats();
      return channels[0].mean;
    };
    const bright = await middle();
    await remedy.hover();
    await expect.poll(middle).toBeLessThan(bright - 4);
    await page.mouse.move(600, 730);
    await expect.poll(middle).toBeGreaterThan(bright - 2);
    const rims = await countOf('rims');
    await remedy.click();
    await page.mouse.move(600, 730);
    await expect.poll(middle).toBeLessThan(bright - 4);
    await atRest();
    await page.keyboard.press('Control+z');
    await expect.poll(middle).toBeGreaterThan(bright - 2);
    await expect.poll(() => countOf('rims'), { timeout: 60_000 }).toBe(rims);
    await atRest();
  });

  it('say on the command line what they say here', async () => {
    const { page } = visit;
    await atRest();
    const here = Object.fromEntries(await Promise.all(NAMES.map(async (name) => [name, await countOf(name)])));
    const told = await toldOf(page);
    expect(told.counts).toEqual(here);
    expect(told.visits[0]).toMatchObject({
      check: expect.any(String),
      x: expect.any(Number),
      strength: expect.any(Number),
    });
    await page.getByRole('link', { name: /^Blend/ }).click();
    await settle(page);
  });

  it('look at the finished picture as well: at what its steps do', async () => {
    const { page } = visit;
    const inBlend = await countOf('seams');
    await page.getByRole('link', { name: /^Finish/ }).click();
    await page.getByTestId('canvas').waitFor();
    await page.getByRole('button', { name: 'Step…' }).click();
    await page.getByRole('menuitem', { name: /^Within an ellipse/ }).click();
    await settle(page);
    await page.mouse.move(...(await onPicture(page, 0.3, 0.14)));
    await page.mouse.down();
    await page.mouse.move(...(await onPicture(page, 0.42, 0.22)), { steps: 6 });
    await page.mouse.up();
    const bench = page.getByLabel('Mask bench');
    for (const [label, value] of [
      ['Feather', 0],
      ['Exposure', 1.5],
    ] as const) {
      const field = bench.getByLabel(`${label}, typed`, { exact: true });
      await field.fill(String(value));
      await field.press('Enter');
    }
    await expect.poll(() => countOf('seams'), { timeout: 60_000 }).toBeGreaterThan(inBlend);
    await atRest();
    await row('seams').click();
    await page.getByRole('button', { name: 'Visit the worst' }).click();
    await page.getByTestId('visit-ring').waitFor();
    expect(await page.getByTestId('visit-place').textContent()).toContain('Exposure');
    await atRest();
    const here = Object.fromEntries(await Promise.all(NAMES.map(async (name) => [name, await countOf(name)])));
    expect((await toldOf(page, '--finished')).counts).toEqual(here);

    await page.getByRole('link', { name: /^Blend/ }).click();
    await settle(page);
  });

  it('hold the places that were left as they are over a reload, and nothing went wrong', async () => {
    const { page } = visit;
    if ((await checks().count()) === 0) await page.keyboard.press('Shift+C');
    await expect.poll(() => countOf('rims'), { timeout: 60_000 }).toBeGreaterThan(0);
    await atRest();
    const before = await countOf('rims');
    await visitWorst();
    await checks().getByRole('button', { name: 'Leave it' }).click();
    await page.getByText('Saved', { exact: true }).waitFor();
    await page.reload();
    await page.getByTestId('canvas').waitFor();
    await page.keyboard.press('Shift+C');
    await expect.poll(() => countOf('limits'), { timeout: 60_000 }).toBeGreaterThan(0);
    await atRest();
    expect(await countOf('rims')).toBe(before - 1);
    await page.keyboard.press('Shift+C');
    expect((await probeAt(page, 0.5, 0.1)).Result).toHaveLength(3);
    expect(visit.problems).toEqual([]);
  });
});
