import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { goToBlend, onPicture, openDemo, probeAt, rendersAlike, settle, stroke, visitOnce } from './harness.ts';

const visit = visitOnce(async (page) => {
  await openDemo(page);
  await goToBlend(page);
});

const SKY = [0.4, 0.2] as const;
const LAKE = [0.5, 0.72] as const;
const SUN = [0.66, 0.42] as const;

const lay = async (name: string) => {
  const { page } = visit;
  await page.getByRole('button', { name: 'Lay…' }).click();
  await page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click();
};
const modeButton = () => visit.page.getByRole('button', { name: /^Mode of/ });
const modeNow = async () => (await modeButton().getAttribute('aria-label'))?.split(': ')[1];
const resultAt = async (at: readonly [number, number]) => (await probeAt(visit.page, ...at)).Result;
const cards = () => visit.page.getByRole('button', { name: /^Select layer/ });
const typeOpacity = async (value: number) => {
  const field = visit.page.getByLabel('Opacity, typed', { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
};

describe('what lies in the stack besides frames', () => {
  let before: number[];
  it('lays the picture so far, which changes nothing by itself, in a mode that is tried by keys', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
    await stroke(page, [SKY, [0.6, 0.2]]);
    before = await resultAt(SKY);
    await lay('Picture so far');
    expect(await resultAt(SKY)).toEqual(before);
    await modeButton().click();
    await page.getByRole('radiogroup', { name: /^Modes of So far/ }).waitFor();
    for (const key of ['ArrowRight', 'ArrowDown']) await page.keyboard.press(key);
    expect(await modeNow()).toBe('multiply');
    await page.keyboard.press('Escape');
    expect(await modeNow()).toBe('normal');
    expect(await resultAt(SKY)).toEqual(before);
    await modeButton().click();
    for (const key of ['ArrowRight', 'ArrowRight', 'ArrowRight']) await page.keyboard.press(key);
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    expect(await modeNow()).toBe('hard-light');
    await page.getByTestId('mode-board').waitFor({ state: 'hidden' });
    await typeOpacity(30);
    const after = await resultAt(SKY);
    for (const channel of [0, 1, 2]) {
      // Hard light of a colour with itself, at 30 %: W3C Compositing and Blending Level 1, section 9.1.
      const c = before[channel] / 65535;
      const made = c <= 0.5 ? 2 * c * c : 1 - 2 * (1 - c) * (1 - c);
      expect(Math.abs(after[channel] - 65535 * (c + 0.3 * (made - c)))).toBeLessThan(3);
    }
    // The mode is one step, however it was gone through.
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    expect(await modeNow()).toBe('normal');
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+Shift+Z');
    expect(await modeNow()).toBe('hard-light');
  });

  it('paints a colour that is taken from the picture, and one that is typed; no other name is one', async () => {
    const { page } = visit;
    await lay('One colour');
    const typed = page.getByLabel('Colour, typed', { exact: true });
    await page.getByRole('button', { name: 'Pick on the picture: Colour' }).click();
    await page.mouse.click(...(await onPicture(page, ...SUN)));
    await expect.poll(() => typed.inputValue()).not.toBe('#808080');
    const taken = await typed.inputValue();
    await typed.fill('cornflour');
    await typed.press('Enter');
    await page.getByText('No colour is called that').waitFor();
    await typed.press('Escape');
    expect(await typed.inputValue()).toBe(taken);
    await typed.fill('hsl(20 60% 40%)');
    await typed.press('Enter');
    expect(await typed.inputValue()).toBe('#a35229');
    const strength = page.getByRole('toolbar').getByLabel('Strength, typed', { exact: true });
    await strength.fill('100');
    await strength.press('Enter');
    await stroke(page, [LAKE, [0.52, 0.72]]);
    const [r, g, b] = await resultAt(LAKE);
    expect(Math.abs(r / 257 - 0xa3) + Math.abs(g / 257 - 0x52) + Math.abs(b / 257 - 0x29)).toBeLessThan(12);
    // In the mode that keeps lightness it stays what was there, in another colour; keys go to the next.
    const was = await probeAt(page, ...LAKE);
    await modeButton().click();
    await page.getByRole('radio', { name: 'color', exact: true }).click();
    expect(await modeNow()).toBe('color');
    expect(await resultAt(LAKE)).not.toEqual(was.Result);
    await page.keyboard.press('8');
    expect(await modeNow()).toBe('luminosity');
    await page.keyboard.press('7');
    await page.keyboard.press('5');
    expect(await page.getByLabel('Opacity, typed', { exact: true }).inputValue()).toBe('90');
  });

  it('lays a run of two colours, whose ends are dragged on the picture', async () => {
    const { page } = visit;
    await lay('Run of two colours');
    const { x, y, width, height } = (await page.getByTestId('handle-end').boundingBox()) as {
      x: number;
      y: number;
      width: number;
      height: number;
    };
    await page.mouse.move(x + width / 2, y + height / 2);
    await page.mouse.down();
    await page.mouse.move(x + width / 2, y - 200, { steps: 4 });
    await page.mouse.up();
    const dragged = (await page.getByTestId('handle-end').boundingBox())?.y as number;
    expect(Math.abs(dragged - (y - 200 - height / 2))).toBeLessThan(3);
    // By itself it is white from its end on, and grey half way.
    await page.keyboard.press('p');
    await settle(page);
    const greyAt = async (v: number) => {
      const [px, py] = await onPicture(page, 0.3, v);
      const shot = await page.screenshot({ clip: { x: px, y: py, width: 1, height: 1 } });
      return (await sharp(shot).removeAlpha().raw().toBuffer())[0];
    };
    expect(await greyAt(0.95)).toBe(255);
    const half = await greyAt(0.3);
    expect(half).toBeGreaterThan(90);
    expect(half).toBeLessThan(170);
    await page.keyboard.press('u');
    await page.keyboard.press('Control+z');
    const back = (await page.getByTestId('handle-end').boundingBox())?.y as number;
    expect(Math.abs(back - y)).toBeLessThan(2);
  });

  it('adjusts what lies below where a mask lets it, by settings and by hand', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Select layer Colour' }).click();
    const was = { lake: await resultAt(LAKE), sky: await resultAt(SKY) };
    await lay('Exposure');
    expect(await resultAt(SKY)).toEqual(was.sky);
    const stops = page.getByLabel('Exposure, typed', { exact: true });
    await stops.fill('-1');
    await stops.press('Enter');
    const darker = await resultAt(SKY);
    // A stop less of light, IEC 61966-2-1 there and back.
    const light = (code: number) => ((code / 65535 + 0.055) / 1.055) ** 2.4;
    for (const channel of [0, 1, 2]) expect(light(darker[channel]) / light(was.sky[channel])).toBeCloseTo(0.5, 3);
    await page.getByRole('radio', { name: 'Hide' }).click();
    await stroke(page, [SKY, [0.42, 0.2]]);
    await expect.poll(async () => Math.abs((await resultAt(SKY))[1] - was.sky[1])).toBeLessThan(30);
    expect((await resultAt(LAKE))[0]).toBeLessThan(was.lake[0]);
    // Strokes, settings and the card come back one by one.
    await page.keyboard.press('Control+z');
    await expect.poll(() => resultAt(SKY)).toEqual(darker);
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    await page.getByRole('button', { name: 'Select layer Exposure' }).waitFor({ state: 'hidden' });
    await page.getByRole('radio', { name: 'Reveal' }).click();
    // What was everything makes way for a gradient, over which painting goes on; turned round, revealing still reveals.
    await lay('Exposure');
    await page.getByRole('button', { name: 'Add part' }).click();
    await page.getByRole('menuitem', { name: /^Gradient/ }).click();
    const maskAt = async () => (await probeAt(page, ...LAKE)).Mask[0];
    expect(await maskAt()).toBe(0);
    await stroke(page, [LAKE, [0.52, 0.72]]);
    const painted = await maskAt();
    expect(painted).toBeGreaterThan(30);
    await page.getByTestId('part-whole').click();
    await page.getByRole('button', { name: /^Invert: the whole mask/ }).click();
    await stroke(page, [LAKE, [0.52, 0.72]]);
    expect(await maskAt()).toBeGreaterThan(100 - painted);
    await page.getByRole('radio', { name: 'Hide' }).click();
    for (let times = 0; times < 3; times++) await stroke(page, [LAKE, [0.52, 0.72]]);
    expect(await maskAt()).toBeLessThan(30);
    await page.getByRole('radio', { name: 'Reveal' }).click();
    for (let i = 0; i < 8; i++) await page.keyboard.press('Control+z');
    // Noise is measured with the first change; what saving with loss has left of it tells nothing.
    await lay('Noise');
    const noisy = await resultAt(SKY);
    await page.getByLabel('Noise off, typed', { exact: true }).fill('100');
    await page.getByLabel('Noise off, typed', { exact: true }).press('Enter');
    expect(await resultAt(SKY)).not.toEqual(noisy);
    await page.getByText('Not measured: 1 % is taken for it').waitFor();
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    await lay('Curve');
    await page.getByRole('region', { name: 'Settings of Curve' }).waitFor();
  });

  it('shows a layer only where tones are within its window, which can be looked at and made parts of', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Select layer Colour' }).click();
    const [r] = await resultAt(LAKE);
    await page.getByText('Tone window').click();
    // Both rules lie under what they read, which is counted at the same time.
    const heights = () =>
      page
        .getByTestId('window-tones')
        .evaluateAll((paths) => paths.map((path) => (path as SVGPathElement).getBBox().height));
    await expect.poll(async () => (await heights()).filter((height) => height > 5).length).toBe(2);
    const from = page.getByRole('slider', { name: 'Tones of what lies below from', exact: true });
    for (let i = 0; i < 99; i++) await from.press('ArrowRight');
    await page.getByText('limits the layer').waitFor();
    // Where the lake lies below white the colour is gone.
    const [outside] = await resultAt(LAKE);
    expect(outside).not.toBe(r);
    const look = page.getByRole('button', { name: 'Look at the tone window of Colour, while held' });
    await page.mouse.move(1100, 40); // the brush leaves the place
    await look.dispatchEvent('pointerdown');
    await settle(page);
    const [px, py] = await onPicture(page, ...LAKE);
    const shot = await page.screenshot({ clip: { x: px, y: py, width: 1, height: 1 } });
    expect((await sharp(shot).removeAlpha().raw().toBuffer())[0]).toBe(0);
    await look.dispatchEvent('pointerup');
    await page.getByRole('button', { name: 'Make parts of the tone window of Colour' }).click();
    await page.getByText('lets all tones through').waitFor();
    await expect.poll(async () => (await resultAt(LAKE))[0]).toBe(outside);
    // All presses of the key are one step.
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await expect.poll(async () => (await resultAt(LAKE))[0]).toBe(r);
    await page.getByText('Tone window').click();
  });

  it('makes a stencil of the tones of what lies below by one press', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Select layer +2 EV' }).click();
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await page.getByRole('button', { name: /^Tones of what lies below/ }).click();
    await page.getByText('Light · Picture below').waitFor();
    await page.getByRole('button', { name: /^In use/ }).waitFor();
    await page.keyboard.press('Control+z');
    await page.getByRole('radio', { name: 'Mask', exact: true }).click();
  });

  it('shows the layer alone, and everywhere at half strength, while a key is held', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Select layer Colour' }).click();
    await page.mouse.move(1100, 40);
    const shown = async () => {
      await settle(page);
      const [px, py] = await onPicture(page, 0.3, 0.3);
      const shot = await page.screenshot({ clip: { x: px, y: py, width: 1, height: 1 } });
      return [...(await sharp(shot).removeAlpha().raw().toBuffer())].join();
    };
    const before = await shown();
    for (const key of ['v', 'c']) {
      await page.keyboard.down(key);
      expect(await shown()).not.toBe(before);
      await page.keyboard.up(key);
      expect(await shown()).toBe(before);
    }
  });

  it('duplicates, names and takes away, and comes back by undoing', async () => {
    const { page } = visit;
    const count = await cards().count();
    await page.getByRole('button', { name: 'Select layer Colour' }).click();
    await page.getByRole('button', { name: 'More for Colour' }).click();
    await page.getByRole('menuitem', { name: 'Once more, with its masks' }).click();
    expect(await cards().count()).toBe(count + 1);
    await page.getByRole('button', { name: 'More for Colour' }).last().click();
    await page.getByRole('menuitem', { name: 'Take it out of the stack' }).click();
    expect(await cards().count()).toBe(count);
    const name = page.getByLabel('Name of Colour', { exact: true });
    await name.fill('Rust');
    await name.press('Enter');
    await page.getByRole('button', { name: 'Select layer Rust' }).waitFor();
    await page.keyboard.press('Control+z');
    await page.getByRole('button', { name: 'Select layer Colour' }).waitFor();
  });

  it('lists all steps, and goes there and back by a press', async () => {
    const { page } = visit;
    const now = await resultAt(LAKE);
    const count = await cards().count();
    await page.getByRole('button', { name: 'All steps' }).click();
    const list = page.getByRole('list', { name: 'All steps' });
    const rows = list.getByRole('button', { name: /^(Step \d+:.*|Before all these steps)$/ });
    const all = await rows.count();
    expect(all).toBeGreaterThan(6);
    // Each with its time, but for what lay before.
    expect(await rows.nth(1).textContent()).toMatch(/\d\d:\d\d/);
    await list
      .getByRole('button', { name: /^Step \d+: Add frames$/ })
      .first()
      .click();
    await expect.poll(() => cards().count()).toBe(4);
    await list.getByText('undone').first().waitFor();
    await list.getByRole('button', { name: new RegExp(`^Step ${all - 2}:`) }).click();
    await rows.first().click();
    await page.keyboard.press('Escape');
    await expect.poll(() => cards().count()).toBe(count);
    await page.keyboard.press('Control+z');
    await expect.poll(() => resultAt(LAKE)).toEqual(now);
  });

  it('mixes a group on its own, reloads as it was, and exports what the command line renders, bit for bit', async () => {
    const { page } = visit;
    await page.getByRole('button', { name: 'Group Colour with the layer below' }).click();
    await page.getByRole('button', { name: 'Select layer Colour' }).click();
    await page.getByRole('radio', { name: 'Group', exact: true }).click();
    expect(await page.getByLabel('Mixed on its own first').isChecked()).toBe(false);
    await modeButton().click();
    await page.getByRole('radio', { name: 'screen', exact: true }).click();
    expect(await page.getByLabel('Mixed on its own first').isChecked()).toBe(true);
    const shownAt = await resultAt(LAKE);
    await page.waitForTimeout(700);
    await page.reload();
    await page.getByTestId('canvas').waitFor();
    await settle(page);
    await expect.poll(() => resultAt(LAKE)).toEqual(shownAt);
    expect(await rendersAlike(page, 'Tarn')).toBe(true);
    expect(visit.problems).toEqual([]);
  });
});
