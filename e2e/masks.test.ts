import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { addPart, goToBlend, openDemo, openPart, probeAt, settle, stroke, visitOnce } from './harness.ts';

const GLOW = [0.69, 0.34] as const;
const SKY = [0.3, 0.2] as const;
const LAND = [0.3, 0.48] as const;

const visit = visitOnce(async (page) => {
  await openDemo(page);
  await goToBlend(page);
  await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
  await page.getByRole('toolbar').getByLabel('Strength, typed').fill('100');
  await page.getByRole('toolbar').getByLabel('Strength, typed').press('Enter');
});
const coverage = async (at: readonly [number, number]) => (await probeAt(visit.page, ...at)).Mask[0];

async function setNumber(label: string, value: number): Promise<void> {
  const field = visit.page.getByLabel('Mask bench').getByLabel(`${label}, typed`, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
}

async function setBrush(label: string, value: number): Promise<void> {
  const field = visit.page.getByRole('toolbar').getByLabel(`${label}, typed`, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
}

/** Sets a number behind the Touch button. */
async function setTouch(label: string, value: number): Promise<void> {
  await visit.page.getByRole('button', { name: 'Touch' }).click();
  await setBrush(label, value);
  await visit.page.keyboard.press('Escape');
}

describe('a mask of light tones minus a colour', () => {
  it('is built as a stencil: tones narrowed, a colour picked on the picture and taken away', async () => {
    const { page } = visit;
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await addPart(page, 'Tones');
    await setNumber('Narrowing', 1);
    await addPart(page, 'Colour');
    await page.getByRole('button', { name: 'Include' }).click();
    await stroke(page, [
      [0.67, 0.335],
      [0.71, 0.345],
    ]);
    await page.keyboard.press('Escape');
    const width = page.getByLabel('Width, typed');
    await expect.poll(() => width.inputValue()).not.toBe('20');
    await page.getByTestId('part-colour').getByRole('combobox').selectOption('subtract');
    const { stencil } = await stencilAt(GLOW);
    const open = await stencilAt(SKY);
    expect(stencil).toBeLessThan(30);
    expect(open.stencil).toBeGreaterThan(3);
  });

  it('is edge-fitted and core-filled as a whole, and painted through', async () => {
    const { page } = visit;
    await page.getByTestId('part-whole').click();
    await setNumber('Edge fit', 12);
    await setNumber('Core fill', 60);
    await page.getByRole('radio', { name: 'Mask', exact: true }).click();
    for (const v of [0.12, 0.24, 0.36, 0.48])
      await stroke(page, [
        [0.02, v],
        [0.98, v],
      ]);
    expect(await page.getByText('Painted · 4 strokes').count()).toBe(1);
    const sky = await probeAt(page, ...SKY);
    expect(sky.Mask[0]).toBeGreaterThan(10);
    expect(sky.Result[0]).toBeLessThan(sky['0 EV'][0]);
    expect(await coverage(LAND)).toBeLessThan(sky.Mask[0] / 2);
  });

  it('keeps its strokes when the tone part is reopened; they follow when they are painted anew through it', async () => {
    const { page } = visit;
    const before = await coverage(SKY);
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await openPart(page, 'tone');
    await page.getByRole('radio', { name: 'Dark' }).click();
    expect(await coverage(SKY)).toBe(before);
    await page.getByRole('button', { name: /^Repaint 4 strokes/ }).click();
    expect(Math.abs((await coverage(SKY)) - before)).toBeGreaterThan(5);
    expect(await page.getByRole('button', { name: /^Repaint/ }).count()).toBe(0);
    await page.keyboard.press('Control+z');
    expect(await coverage(SKY)).toBe(before);
    await page.keyboard.press('Control+z');
  });

  it('lies in a mask as parts, which stay open: the picture follows their range, and the strokes stay', async () => {
    const { page } = visit;
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await page.getByTestId('part-whole').click();
    await page.getByRole('button', { name: 'Reset' }).click();
    await page.getByRole('button', { name: 'Apply as mask' }).click();
    const laid = await coverage(LAND);
    await openPart(page, 'tone');
    await page.getByRole('radio', { name: 'Dark' }).click();
    const darker = await coverage(LAND);
    expect(darker).toBeGreaterThan(laid + 20);
    expect(await page.getByText('Painted · 4 strokes').count()).toBe(1);
    // A free curve goes on from the dark tones; its left end pulled down takes them away.
    await page.getByRole('radio', { name: 'Curve', exact: true }).click();
    expect(Math.abs((await coverage(LAND)) - darker)).toBeLessThan(5);
    const curve = page.getByRole('group', { name: 'Coverage over tones' });
    const { x, y, height } = (await curve.boundingBox()) as NonNullable<Awaited<ReturnType<typeof curve.boundingBox>>>;
    await page.mouse.move(x + 1, y + 1);
    await page.mouse.down();
    await page.mouse.move(x + 1, y + height - 1, { steps: 4 });
    await page.mouse.up();
    for (let points = await curve.getByRole('slider').count(); points > 2; points--)
      await curve.getByLabel('Point 2 of the curve').press('Delete');
    expect(await coverage(LAND)).toBeLessThan(darker - 20);
    await expect
      .poll(async () => {
        await page.keyboard.press('Control+z');
        return coverage(LAND);
      })
      .toBe(darker);
  });
});

/** What the stencil lets through at a place, in per cent. */
async function stencilAt(at: readonly [number, number]): Promise<{ stencil: number }> {
  await probeAt(visit.page, ...at);
  const text = await visit.page.getByTestId('probe-mask').textContent();
  return { stencil: Number(/stencil ([\d.]+)/.exec(text ?? '')?.[1]) };
}

describe('the bench', () => {
  it('saves stencils by name and takes them on another layer', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Select layer +2 EV' }).click();
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await addPart(page, 'Tones');
    await page.getByRole('button', { name: 'Stencils' }).click();
    await page.getByRole('menuitem', { name: 'Save as…' }).click();
    await page.getByLabel('Name of the stencil').fill('Bright land');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByRole('button', { name: 'Select layer −4 EV' }).click();
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await page.getByRole('button', { name: 'Stencils' }).click();
    await page.getByRole('button', { name: 'Bright land', exact: true }).click();
    await page.getByTestId('part-tone').waitFor();
    await page.getByRole('button', { name: 'In use' }).click();
    await page.getByRole('radio', { name: 'Mask', exact: true }).click();
  });

  it('draws gradients, ellipses and outlines on the canvas, and moves them there', async () => {
    const { page } = visit;
    await addPart(page, 'Gradient');
    expect(await coverage([0.5, 0.1])).toBeGreaterThan(99);
    const end = (await page.getByTestId('handle-start').boundingBox()) as { x: number; y: number };
    await page.mouse.move(end.x + 7, end.y + 7);
    await page.mouse.down();
    await page.mouse.move(end.x + 7, end.y - 200, { steps: 5 });
    await page.mouse.up();
    expect(await coverage([0.3, 0.3])).toBeLessThan(90);
    await page.getByRole('button', { name: 'Redraw' }).click();
    await stroke(page, [
      [0.2, 0.5],
      [0.6, 0.5],
    ]);
    expect(await coverage([0.1, 0.9])).toBeGreaterThan(99);
    expect(await coverage([0.7, 0.1])).toBeLessThan(1);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await addPart(page, 'Radial');
    expect(await coverage([0.45, 0.5])).toBeGreaterThan(99);
    await page.getByRole('radio', { name: 'Outside' }).click();
    expect(await coverage([0.45, 0.5])).toBeLessThan(1);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await addPart(page, 'Outline');
    await stroke(page, [
      [0.2, 0.2],
      [0.4, 0.2],
      [0.4, 0.5],
      [0.2, 0.5],
      [0.2, 0.22],
    ]);
    expect(await coverage([0.3, 0.35])).toBeGreaterThan(99);
    expect(await coverage([0.6, 0.35])).toBeLessThan(1);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
  });

  it('takes a grey picture, and a guard that limits the mask without touching it', async () => {
    const { page } = visit;
    const half = await sharp({ create: { width: 2400, height: 1600, channels: 3, background: '#000' } })
      .composite([
        { input: { create: { width: 1200, height: 1600, channels: 3, background: '#fff' } }, left: 0, top: 0 },
      ])
      .greyscale()
      .png()
      .toBuffer();
    await page
      .getByLabel('Grey picture for the mask')
      .setInputFiles({ name: 'half.png', mimeType: 'image/png', buffer: half });
    await page.getByTestId('part-picture').waitFor();
    expect(await coverage([0.2, 0.5])).toBeGreaterThan(99);
    expect(await coverage([0.8, 0.5])).toBeLessThan(1);
    const result = async (at: readonly [number, number]) => (await probeAt(page, ...at)).Result[0];
    await page.keyboard.press('j');
    const below = await result([0.2, 0.9]);
    await page.keyboard.press('j');
    await page.getByRole('radio', { name: 'Guard' }).click();
    await addPart(page, 'Gradient');
    const guarded = await probeAt(page, 0.2, 0.9);
    expect(guarded.Mask[0]).toBeGreaterThan(99);
    expect(guarded.Result[0]).toBe(below);
    expect(await result([0.2, 0.1])).toBe((await probeAt(page, 0.2, 0.1))['−4 EV'][0]);
    await page.getByRole('button', { name: 'Remove the guard' }).click();
    expect(await result([0.2, 0.9])).toBe((await probeAt(page, 0.2, 0.9))['−4 EV'][0]);
    await page.getByRole('radio', { name: 'Mask', exact: true }).click();
  });

  it('orders parts by dragging, names them, and refers to another mask', async () => {
    const { page } = visit;
    await addPart(page, 'Reference');
    const rows = () => page.getByRole('list', { name: 'Parts of the mask' }).locator('li');
    const ids = () => rows().evaluateAll((list) => list.map((each) => each.getAttribute('data-testid')));
    const before = await ids();
    const grip = (await rows().nth(0).locator('[data-grip]').boundingBox()) as { x: number; y: number };
    await page.mouse.move(grip.x + 6, grip.y + 10);
    await page.mouse.down();
    await page.mouse.move(grip.x + 6, grip.y + 46, { steps: 8 });
    await page.mouse.up();
    await expect.poll(ids).toEqual([before[1], before[0], ...before.slice(2)]);
    await page.keyboard.press('Control+z');
    expect(await ids()).toEqual(before);
    await page.getByTestId('part-reference').getByRole('button', { name: /^More/ }).click();
    await page.getByRole('menuitem', { name: 'Rename' }).click();
    await page.getByLabel('Name of the part').fill('Sky of the other');
    await page.getByLabel('Name of the part').press('Enter');
    await page.getByRole('button', { name: 'Sky of the other' }).first().click();
    await page.getByRole('button', { name: 'Keep as it is now' }).click();
    await page.getByText(/no longer changes with it/).waitFor();
  });

  it('looks through the ladder and the lines, softens by the brush, blinks and shows a loupe', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Select layer +4 EV' }).click();
    await addPart(page, 'Tones');
    await page.getByRole('radio', { name: 'Ladder' }).click();
    const rungs = page.getByRole('group', { name: 'Tone ladder' }).getByRole('button');
    expect(await rungs.count()).toBe(15);
    await rungs.nth(12).hover();
    await settle(page);
    await rungs.nth(12).click();
    await page.getByText('Dark · Base').first().waitFor();
    await page.keyboard.press('x');
    await settle(page);
    await page.keyboard.press('u');
    await page.getByRole('radio', { name: 'Soften' }).click();
    await stroke(page, [
      [0.66, 0.47],
      [0.7, 0.47],
    ]);
    const softened = await coverage([0.68, 0.47]);
    await page.keyboard.press('Control+z');
    expect(softened).not.toBe(await coverage([0.68, 0.47]));
    await page.keyboard.press('/');
    await page.getByTestId('loupe').waitFor();
    await page.keyboard.press('/');
    await page.keyboard.press('-');
    await page.waitForTimeout(900);
    await page.keyboard.press('-');
    await settle(page);
  });

  it('paints level while Alt is held, and stays on the colour under the centre', async () => {
    const { page } = visit;
    await page.getByRole('radio', { name: 'Reveal' }).click();
    await setBrush('Size', 120);
    const before = await coverage([0.7, 0.62]);
    await page.keyboard.down('Alt');
    await stroke(page, [
      [0.2, 0.62],
      [0.8, 0.72],
    ]);
    await page.keyboard.up('Alt');
    expect(await coverage([0.7, 0.62])).toBeGreaterThan(Math.max(90, before));
    await page.keyboard.press('Control+z');
    await setTouch('Keep to the colour under the brush', 5);
    await setBrush('Size', 900);
    const land = await coverage(LAND);
    await stroke(page, [
      [0.3, 0.2],
      [0.31, 0.3],
    ]);
    expect(await coverage([0.3, 0.21])).toBeGreaterThan(90);
    expect(Math.abs((await coverage(LAND)) - land)).toBeLessThan(1);
    await page.keyboard.press('Control+z');
    await setTouch('Keep to the colour under the brush', 0);
  });

  it('comes back whole after a reload', async () => {
    const { page } = visit;
    const before = await probeAt(page, 0.3, 0.4);
    await page.getByText('Saved').waitFor();
    await page.reload();
    await page.getByTestId('canvas').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    await expect.poll(() => probeAt(page, 0.3, 0.4)).toEqual(before);
  });

  it('had no error on the page all the while', () => {
    expect(visit.problems).toEqual([]);
  });
});
