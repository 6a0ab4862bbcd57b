import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { readSceneFile, writeSceneFile } from '#codecs/sceneFile.ts';
import { newScene } from '#core/scene/scene.ts';
import { everyItem } from '#core/scene/tree.ts';
import { randomScene } from '../tests/randomScene.ts';
import { randomStack } from '../tests/randomStack.ts';
import {
  goToBlend,
  onPicture,
  openDemo,
  probeAt,
  rendersAlike,
  savedScene,
  settle,
  stroke,
  visitOnce,
} from './harness.ts';

const visit = visitOnce(async (page) => {
  await openDemo(page);
  await goToBlend(page);
});

type Place = readonly [number, number];
const SKY: Place = [0.4, 0.2];
const LAKE: Place = [0.5, 0.72];
const SUN: Place = [0.66, 0.42];

const button = (name: string | RegExp) => visit.page.getByRole('button', { name });
const lay = async (name: string, only = false) => {
  await button('Lay…').click();
  if (only) await visit.page.getByRole('radio', { name: /^Only/ }).click();
  await visit.page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click();
};
const resultAt = async (at: Place) => (await probeAt(visit.page, ...at)).Result;
const names = () =>
  visit.page
    .getByTestId(/^layer-/)
    .evaluateAll((cards) => cards.map((card) => card.getAttribute('data-testid')?.slice(6)));
const type = async (label: string, value: number) => {
  const field = visit.page.getByLabel(`${label}, typed`, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
};
const chooseMode = async (mode: string) => {
  await button(/^Mode of/).click();
  await visit.page.getByRole('radio', { name: mode, exact: true }).click();
};
const chooseOption = async (label: string, name: RegExp) => {
  const field = visit.page.getByLabel(label);
  const value = await field.locator('option').filter({ hasText: name }).first().getAttribute('value');
  await field.selectOption(value);
};
/** A pixel of the canvas once it is drawn, 8 bits. */
const shownAt = async (u: number, v: number) => {
  await settle(visit.page);
  const [x, y] = await onPicture(visit.page, u, v);
  const shot = await visit.page.screenshot({ clip: { x: Math.round(x), y: Math.round(y), width: 1, height: 1 } });
  return [...(await sharp(shot).removeAlpha().raw().toBuffer())];
};
/** Of what keeps lightness: W3C Compositing and Blending Level 1, section 9.2. */
const lum = ([r, g, b]: readonly number[]) => 0.3 * r + 0.59 * g + 0.11 * b;
/** Drags one thing onto a place of another, shares of whose sides are told. */
async function drag(from: string, to: string, u: number): Promise<void> {
  const { page } = visit;
  const box = async (testId: string) => {
    await page.getByTestId(testId).scrollIntoViewIfNeeded();
    const found = await page.getByTestId(testId).boundingBox();
    if (!found) throw new Error(`no ${testId}`);
    return found;
  };
  const [a, b] = [await box(from), await box(to)];
  await page.mouse.move(a.x + 40, a.y + 30);
  await page.mouse.down();
  await page.mouse.move(a.x + 46, a.y + 34, { steps: 4 });
  await page.mouse.move(b.x + u * b.width, b.y + 50, { steps: 14 });
  await page.waitForTimeout(250);
  await page.mouse.move(b.x + u * b.width + 2, b.y + 52, { steps: 3 });
  await page.waitForTimeout(250);
  await page.mouse.up();
}

describe('cards of the stack', () => {
  it('gives clouds depth: what lies below, made grey by itself, faintly in hard light', async () => {
    const { page } = visit;
    await button('Select layer −2 EV').click();
    await stroke(page, [SKY, [0.6, 0.2]]);
    const before = await resultAt(SKY);
    await lay('Picture so far');
    await lay('To grey', true);
    await page.getByText('Changes So far alone').waitFor();
    await button('Select layer So far').click();
    const grey = await resultAt(SKY);
    expect(Math.max(...grey) - Math.min(...grey)).toBeLessThan(3);
    await chooseMode('hard-light');
    await type('Opacity', 20);
    const after = await resultAt(SKY);
    for (const channel of [0, 1, 2]) {
      // Hard light at a fifth: W3C Compositing and Blending Level 1, section 9.1.
      const [cb, cs] = [before[channel] / 65535, grey[channel] / 65535];
      const made = cs <= 0.5 ? 2 * cb * cs : 1 - 2 * (1 - cb) * (1 - cs);
      expect(Math.abs(after[channel] - 65535 * (cb + 0.2 * (made - cb)))).toBeLessThan(3);
    }
  });

  it('paints a colour from next door: taken while its key is held, laid so that brightness stays', async () => {
    const { page } = visit;
    const was = await resultAt(LAKE);
    await page.mouse.move(...(await onPicture(page, ...SUN)));
    await page.keyboard.down('z');
    await page.mouse.click(...(await onPicture(page, ...SUN)));
    await button('Select layer Colour').waitFor();
    await page.keyboard.up('z');
    expect(await button(/^Mode of Colour/).getAttribute('aria-label')).toMatch(/: color$/);
    for (let times = 0; times < 3; times++) await stroke(page, [LAKE, [0.52, 0.72]]);
    const now = await resultAt(LAKE);
    expect(now).not.toEqual(was);
    expect(Math.abs(lum(now) - lum(was))).toBeLessThan(6);
  });

  it('groups cards, masks the group by a gradient, and works on it as one', async () => {
    const { page } = visit;
    const [sky, lake] = [await resultAt([0.4, 0.1]), await resultAt(LAKE)];
    await button('Group Colour with the layer below').click();
    await button('Select group of So far').click();
    await button('Add part').click();
    await page.getByRole('menuitem', { name: /^Gradient/ }).click();
    // It was everywhere: that makes way for the gradient.
    await expect.poll(async () => JSON.stringify(await resultAt(LAKE))).not.toBe(JSON.stringify(lake));
    expect(await resultAt([0.4, 0.1])).toEqual(sky);
    // An adjustment of the group changes what is in it alone.
    await lay('Exposure', true);
    await page.getByText(/^Changes Group alone/).waitFor();
    await button('Select layer So far').click();
  });

  it('are dragged into a group and out of it, by keys as well, folded, found by name, duplicated and dissolved', async () => {
    const { page } = visit;
    await page.setViewportSize({ width: 2000, height: 800 });
    await settle(page);
    const all = await names();
    await drag('layer-+2 EV', 'layer-So far', 0.2);
    await expect.poll(async () => (await names()).join()).not.toBe(all.join());
    const group = page.getByTestId('group-bracket');
    await group.getByTestId('layer-+2 EV').waitFor();
    await page.keyboard.press('Control+z');
    await expect.poll(names).toEqual(all);
    await button('Select layer +2 EV').click();
    await page.keyboard.press('Alt+ArrowLeft');
    await group.getByTestId('layer-+2 EV').waitFor();
    await page.keyboard.press('Alt+ArrowRight');
    await expect.poll(names).toEqual(all);
    await button('Fold group of So far').click();
    await expect.poll(async () => (await names()).length).toBeLessThan(all.length - 1);
    // What is sought is found in folded groups too.
    await page.getByLabel('Find a card by its name').fill('colo');
    await page.getByTestId('layer-Colour').waitFor();
    await page.getByTestId('layer-−4 EV').waitFor({ state: 'hidden' });
    await page.getByLabel('Find a card by its name').press('Enter');
    await expect
      .poll(() => page.getByRole('complementary', { name: 'Mask bench' }).getByRole('heading').first().textContent())
      .toMatch(/Colour/);
    await button('Unfold group of So far').click();
    const shown = await resultAt(LAKE);
    await button('More for group of So far').click();
    await page.getByRole('menuitem', { name: 'Once more, with its masks' }).click();
    await expect.poll(() => group.count()).toBe(2);
    await button('More for group of So far').first().click();
    await page.getByRole('menuitem', { name: 'Dissolve the group' }).click();
    await expect.poll(() => group.count()).toBe(1);
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    await expect.poll(names).toEqual(all);
    expect(await resultAt(LAKE)).toEqual(shown);
    await page.setViewportSize({ width: 1280, height: 800 });
    await settle(page);
  });

  it('shows a card alone as long as its sign is held, and its mask or its content by a press', async () => {
    const { page } = visit;
    const alone = page.getByRole('button', { name: 'Alone while held: −2 EV' });
    await alone.scrollIntoViewIfNeeded();
    const now = await shownAt(...SKY);
    await alone.hover();
    await page.mouse.down();
    await settle(page);
    await expect.poll(() => shownAt(...SKY)).not.toEqual(now);
    await page.mouse.up();
    await settle(page);
    await expect.poll(() => shownAt(...SKY)).toEqual(now);
    await page.getByRole('radio', { name: 'Guard', exact: true }).click();
    await button('Open the mask of −2 EV').click();
    expect(await page.getByRole('radio', { name: 'Mask', exact: true }).getAttribute('aria-checked')).toBe('true');
  });

  it('takes a whole mask from another card: copied, or followed as it changes; never from one that follows it', async () => {
    const { page } = visit;
    await button('Select layer −4 EV').click();
    await button('Lay a whole mask here').click();
    await chooseOption('Whose mask', /^−2.EV$/);
    await button(/^Follow it/).click();
    await page.getByText('Mask of −2 EV').first().waitFor();
    const mask = async () => (await probeAt(page, 0.5, 0.2)).Mask;
    const followed = await mask();
    await button('Select layer −2 EV').click();
    expect(await mask()).toEqual(followed);
    await button('Lay a whole mask here').click();
    await chooseOption('Whose mask', /^−4.EV$/);
    await button(/^Copy it here/).click();
    await page.getByText('two masks cannot refer to each other').waitFor();
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+z');
  });

  it('meets what lies below, and fills its inside, by one press each', async () => {
    const { page } = visit;
    await button('Select layer −2 EV').click();
    await button('As bright as what lies below: −2 EV').click();
    await page.getByText(/−2 EV is exposed by/).waitFor();
    // Two stops were between them.
    await page.getByRole('button', { name: 'Select adjustment Exposure' }).first().click();
    const stops = Number(await page.getByLabel('Exposure, typed', { exact: true }).inputValue());
    expect(Math.abs(stops - 2)).toBeLessThan(0.15);
    await button('Select layer −2 EV').click();
    const before = (await probeAt(page, 0.5, 0.2)).Mask[0];
    await button(/^Fill the inside: /).click();
    await button(/^Show where the inside is filled: /).waitFor();
    await settle(page);
    // What is measured and drawn may come a moment after the press.
    await expect.poll(async () => (await probeAt(page, 0.5, 0.2)).Mask[0]).toBeGreaterThan(before);
    await settle(page);
    const tinted = await shownAt(0.5, 0.2);
    await button(/^Show where the inside is filled: /).click();
    await expect.poll(() => shownAt(0.5, 0.2)).not.toEqual(tinted);
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
  });

  it('keeps a step by its name, and shows it left of an upright', async () => {
    const { page } = visit;
    const after = await shownAt(...SKY);
    await button('All steps').click();
    await button(/^Keep Step 1: .* by a name$/).click();
    const field = page.getByLabel(/^Name to keep Step 1/);
    await field.fill('first try');
    await field.press('Enter');
    await page.getByRole('list', { name: 'All steps' }).getByText('first try').waitFor();
    await button(/^Compare with Step 1: /).click();
    await page.keyboard.press('Escape');
    await page.getByTestId('before').waitFor();
    await settle(page);
    await expect.poll(() => shownAt(...SKY)).not.toEqual(after);
    const bare = await shownAt(...SKY);
    await page.getByRole('slider', { name: 'Divider' }).focus();
    for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowLeft');
    await expect.poll(() => shownAt(...SKY)).toEqual(after);
    // Held alone it is the same.
    await page.keyboard.press('d');
    await page.getByTestId('before').waitFor({ state: 'hidden' });
    await page.keyboard.down('a');
    await settle(page);
    expect(await shownAt(...SKY)).toEqual(bare);
    await page.keyboard.up('a');
    await settle(page);
    expect(await shownAt(...SKY)).toEqual(after);
  });

  it('lays a picture of another size, placed by its corners and edges, and a stamp of what lies below', async () => {
    const { page } = visit;
    await button('Select layer Colour').click();
    await lay('Another scene');
    await page.getByText('There is no other scene with frames').waitFor();
    await page.keyboard.press('Escape');
    const buffer = await sharp({ create: { width: 300, height: 300, channels: 3, background: '#c08040' } })
      .png()
      .toBuffer();
    await page.getByLabel('Picture for a layer').setInputFiles({ name: 'other.png', mimeType: 'image/png', buffer });
    await button('Select layer other').waitFor();
    await button('Fit in').click();
    expect(await resultAt([0.45, 0.15])).toEqual([0xc0 * 257, 0x80 * 257, 0x40 * 257]);
    const beside = await resultAt([0.1, 0.15]);
    const handle = await page.getByTestId('handle-edge-3').boundingBox();
    if (!handle) throw new Error('no handle');
    await page.mouse.move(handle.x + 7, handle.y + 7);
    await page.mouse.down();
    await page.mouse.move((await onPicture(page, 0.05, 0.5))[0], handle.y + 7, { steps: 6 });
    await page.mouse.up();
    expect(await resultAt([0.1, 0.15])).toEqual([0xc0 * 257, 0x80 * 257, 0x40 * 257]);
    await page.keyboard.press('Control+z');
    expect(await resultAt([0.1, 0.15])).toEqual(beside);
    // A handle beyond the canvas that gets the focus leaves all others where they are.
    await page.getByText('In numbers').click();
    await type('Across', 900);
    const corner = await page.getByTestId('handle-corner-0').boundingBox();
    await page.getByTestId('handle-corner-2').focus();
    expect(await page.getByTestId('handle-corner-0').boundingBox()).toEqual(corner);
    await page.keyboard.press('Control+z');
    // Two pairs of points: the same places of the picture, a hundred pixels further right.
    await button('Pairs').click();
    for (const [u, v] of [
      [0.4, 0.3],
      [0.55, 0.6],
    ] as const)
      for (const by of [100 / 2400, 0]) {
        await page.mouse.click(...(await onPicture(page, u + by, v)));
        await page.waitForTimeout(120);
      }
    await button('Place by 2 pairs').click();
    expect(Math.abs(Number(await page.getByLabel('Across, typed', { exact: true }).inputValue()) - 100)).toBeLessThan(
      6,
    );
    await page.keyboard.press('Control+z');
    expect(await page.getByLabel('Across, typed', { exact: true }).inputValue()).toBe('0');
    await button('Clear the pairs').click();
    await type('Opacity', 40);
    await button('Select layer other').focus();
    await lay('Picture so far');
    const live = await resultAt(LAKE);
    await button('Freeze to a stamp').click();
    await button('Select layer stamp').waitFor({ timeout: 20_000 });
    expect(await resultAt(LAKE)).toEqual(live);
    // It follows nothing any more.
    await button('Hidden: other').or(button('Visible: other')).click();
    expect(await resultAt(LAKE)).toEqual(live);
  });

  it('mixes light when the scene says so, comes back as it was, and exports what the command line renders, bit for bit', async () => {
    const { page } = visit;
    await page.getByLabel('What layers mix').selectOption('linear');
    const shown = await resultAt(LAKE);
    await page.waitForTimeout(700);
    await page.reload();
    await page.getByTestId('canvas').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    await settle(page);
    await expect.poll(() => resultAt(LAKE)).toEqual(shown);
    await button('All steps').click();
    await page.getByText('first try').waitFor();
    await page.keyboard.press('Escape');
    expect(await rendersAlike(page, 'Tarn')).toBe(true);
    expect(visit.problems).toEqual([]);
  });

  it('of thirty, made at random, come out of the browser as from the command line, bit for bit', {
    timeout: 180_000,
  }, async () => {
    const { page, harness } = visit;
    const saved = await savedScene(page, 'Save Tarn.lusket');
    const contents = await readSceneFile(new Blob([readFileSync(await saved.path())]));
    const empty = newScene('Thirty');
    // The middle of the picture is enough: whole ones are compared of fewer cards.
    const geometry = { ...empty.geometry, crop: { x: 600, y: 400, width: 1200, height: 800 } };
    const made = { ...empty, geometry, frames: contents.scene.frames, base: contents.scene.base };
    const scene = { ...randomStack(randomScene(made, 'browser', { layers: 16, parts: 2 }), 'browser'), name: 'Thirty' };
    expect([...everyItem(scene.stack)].length).toBeGreaterThan(25);
    const packed = await writeSceneFile({ ...contents, scene, strokes: new Map() });
    await page.goto(harness.address);
    await page.getByTestId('open-scene-file').setInputFiles({
      ...{ name: 'thirty.lusket', mimeType: 'application/zip' },
      buffer: Buffer.from(await packed.arrayBuffer()),
    });
    await page.getByRole('link', { name: /^Export/ }).waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    expect(await rendersAlike(page, 'Thirty')).toBe(true);
    expect(visit.problems).toEqual([]);
  });

  it('are frames of another scene in this browser as well, until it has lost their originals', async () => {
    const { page, harness } = visit;
    await page.goto(harness.address);
    await openDemo(page);
    await goToBlend(page);
    await lay('Another scene');
    await button('Lay +2 EV of Thirty').click();
    await button(/^Select layer tarn-/).waitFor();
    const { Result, ...others } = await probeAt(page, ...LAKE);
    expect(Object.values(others)).toContainEqual(Result);
    expect(Result).toEqual(others['+2 EV']);
    await page.keyboard.press('Control+z');
    await button(/^Select layer tarn-/).waitFor({ state: 'detached' });
    await page.evaluate(
      () =>
        new Promise<void>((resolve, fail) => {
          const request = indexedDB.open('lusket');
          request.onerror = () => fail(request.error);
          request.onsuccess = () => {
            const emptied = request.result.transaction('files', 'readwrite').objectStore('files').clear();
            emptied.onsuccess = () => resolve();
          };
        }),
    );
    await lay('Another scene');
    await button('Lay +2 EV of Thirty').click();
    await page.getByText(/has cleared the original of tarn-\d\.jpg/).waitFor();
    expect(visit.problems).toEqual([]);
  });
});
