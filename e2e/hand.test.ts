import type { CDPSession } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import { addPart, goToBlend, onPicture, openDemo, probeAt, settle, stroke, visitOnce } from './harness.ts';

let touch: CDPSession;
const visit = visitOnce(async (page) => {
  await openDemo(page);
  await goToBlend(page);
  touch = await page.context().newCDPSession(page);
});

const SKY = [0.4, 0.2] as const;
const strokes = () => visit.page.getByTestId('part-painted').getByRole('button').first().textContent();
const setBrush = async (label: string, value: number) => {
  const field = visit.page.getByRole('toolbar').getByLabel(`${label}, typed`, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
};
const undo = async (times: number) => {
  for (let i = 0; i < times; i++) await visit.page.keyboard.press('Control+z');
};
const scale = async () => Number.parseInt((await visit.page.getByTitle(/Switch between fit/).textContent()) ?? '', 10);

/** Puts fingers down, moves them step by step, and lifts them. */
async function fingers(...paths: readonly (readonly [number, number])[][]): Promise<void> {
  const at = (step: number) =>
    paths.map((path, id) => ({
      x: path[Math.min(step, path.length - 1)][0],
      y: path[Math.min(step, path.length - 1)][1],
      id,
    }));
  const steps = Math.max(...paths.map(({ length }) => length));
  // One after the other, as hands do.
  for (let count = 1; count <= paths.length; count++)
    await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: at(0).slice(0, count) });
  for (let step = 1; step < steps; step++)
    await touch.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: at(step) });
  await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
}
const line = (from: readonly [number, number], to: readonly [number, number], steps = 8): [number, number][] =>
  Array.from({ length: steps + 1 }, (_, i) => [
    from[0] + ((to[0] - from[0]) * i) / steps,
    from[1] + ((to[1] - from[1]) * i) / steps,
  ]);

describe('the first time in Blend', () => {
  it('is told that all frames are hidden, until the first mask shows something', async () => {
    const { page } = visit;
    const hint = page.getByRole('note').filter({ hasText: 'All frames above the base are hidden' });
    await hint.waitFor();
    await stroke(page, [SKY, [0.5, 0.2]]);
    await hint.waitFor({ state: 'hidden' });
    await undo(1);
    await hint.waitFor();
  });
});

describe('fingers and pens', () => {
  it('two fingers zoom and move, and paint nothing; one finger paints', async () => {
    const { page } = visit;
    const [x, y] = await onPicture(page, 0.5, 0.5);
    const before = await scale();
    await fingers(line([x - 60, y], [x - 180, y]), line([x + 60, y], [x + 180, y]));
    await settle(page);
    expect(await strokes()).toContain('0 strokes');
    expect((await scale()) / before).toBeGreaterThan(2.2);
    await page.keyboard.press('g');
    await page.keyboard.press('g');
    await page
      .getByTitle(/Switch between fit/)
      .filter({ hasText: `${before} %` })
      .waitFor();
    await fingers(line(await onPicture(page, 0.3, 0.2), await onPicture(page, 0.4, 0.2)));
    await expect.poll(strokes).toContain('1 stroke');
    // A mouse or a finger presses with nothing: its stroke is as strong as the brush says.
    expect((await probeAt(page, 0.35, 0.2)).Mask[0]).toBeGreaterThan(35);
    await undo(1);
  });

  it('a pen presses at once, says so when it is first seen, and a finger that rests meanwhile does nothing', async () => {
    const { page } = visit;
    const [x, y] = await onPicture(page, 0.3, 0.2);
    const [restX, restY] = await onPicture(page, 0.7, 0.6);
    const pen = (type: 'mousePressed' | 'mouseMoved' | 'mouseReleased', dx: number) =>
      touch.send('Input.dispatchMouseEvent', {
        type,
        x: x + dx,
        y,
        button: 'left',
        buttons: type === 'mouseReleased' ? 0 : 1,
        clickCount: 1,
        pointerType: 'pen',
        force: 0.5,
      });
    await pen('mousePressed', 0);
    for (let dx = 4; dx <= 60; dx += 4) await pen('mouseMoved', dx);
    await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [{ x: restX, y: restY, id: 5 }] });
    await touch.send('Input.dispatchTouchEvent', {
      type: 'touchMove',
      touchPoints: [{ x: restX + 40, y: restY, id: 5 }],
    });
    for (let dx = 64; dx <= 120; dx += 4) await pen('mouseMoved', dx);
    await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
    await pen('mouseReleased', 120);
    await expect.poll(strokes).toContain('1 stroke');
    await page.getByText(/pressure of your pen sets the strength/).waitFor();
    const { Mask } = await probeAt(page, 0.35, 0.2);
    expect(Mask[0]).toBeGreaterThan(10);
    expect(Mask[0]).toBeLessThan(30);
    expect((await probeAt(page, 0.72, 0.6)).Mask[0]).toBe(0);
    await undo(1);
  });
});

describe('straight runs', () => {
  it('are one stroke of even cover, and do not begin at the end of one that was undone', async () => {
    const { page } = visit;
    await setBrush('Strength', 20);
    await setBrush('Size', 200);
    await setBrush('Hardness', 100);
    const corners = [
      [0.2, 0.15],
      [0.5, 0.15],
      [0.5, 0.3],
    ] as const;
    await stroke(page, [corners[0]]);
    await page.keyboard.down('Shift');
    await page.mouse.move(...(await onPicture(page, 0.5, 0.15)));
    await page.getByTestId('straight-run').waitFor();
    for (const corner of corners.slice(1)) await stroke(page, [corner]);
    await page.keyboard.up('Shift');
    await expect.poll(strokes).toContain('1 stroke');
    for (const [u, v] of [
      [0.35, 0.15],
      [0.5, 0.15],
      [0.5, 0.25],
    ])
      expect((await probeAt(page, u, v)).Mask[0]).toBeCloseTo(20, 0);
    // Each click is a step of its own.
    await undo(1);
    expect((await probeAt(page, 0.5, 0.25)).Mask[0]).toBe(0);
    await undo(2);
    await page.keyboard.down('Shift');
    await page.mouse.move(...(await onPicture(page, 0.6, 0.3)));
    expect(await page.getByTestId('straight-run').count()).toBe(0);
    await stroke(page, [[0.8, 0.3]]);
    await page.keyboard.up('Shift');
    expect((await probeAt(page, 0.65, 0.22)).Mask[0]).toBe(0);
    await undo(1);
  });
});

describe('what receives a stroke, and what counts', () => {
  it('a stencil is made, and the brush goes on painting the layer, until it is told otherwise', async () => {
    const { page } = visit;
    await page.keyboard.press('3');
    await addPart(page, 'Tones');
    // After adding a part the focus is on it.
    await expect
      .poll(() => page.evaluate(() => document.activeElement?.closest('[data-testid]')?.getAttribute('data-testid')))
      .toBe('part-tone');
    const target = page.getByTestId('paints-on');
    expect(await target.inputValue()).toBe('mask');
    await setBrush('Strength', 100);
    await stroke(page, [
      [0.3, 0.2],
      [0.5, 0.2],
    ]);
    expect(await page.getByTestId('part-painted').count()).toBe(0);
    await page.keyboard.press('1');
    await expect.poll(strokes).toContain('1 stroke');
    await page.keyboard.press('4');
    expect(await page.getByRole('radio', { name: /^Stencil/ }).count()).toBe(1);
    await page.keyboard.press('3');
    await page.getByRole('button', { name: /^Not in use: stencil of −2 EV/ }).waitFor();
    await page.keyboard.press('r');
    expect(await target.inputValue()).toBe('stencil');
    await stroke(page, [
      [0.3, 0.2],
      [0.5, 0.2],
    ]);
    await page.getByTestId('part-painted').waitFor();
    await target.selectOption('mask');
    await undo(4);
    await page.keyboard.press('1');
  });

  it('a new guard lets all through; what it hides is told beside the mask, and shown', async () => {
    const { page } = visit;
    await stroke(page, [
      [0.3, 0.2],
      [0.5, 0.2],
    ]);
    await page.keyboard.press('2');
    await page.getByRole('button', { name: /^Begin with everything/ }).click();
    const before = await probeAt(page, 0.4, 0.2);
    expect(before.Mask[0]).toBeGreaterThan(95);
    expect(await page.getByTestId('probe-mask').textContent()).not.toContain('counts');
    await page.keyboard.press('r');
    await page.keyboard.press('w');
    await stroke(page, [
      [0.3, 0.2],
      [0.5, 0.2],
    ]);
    await page.keyboard.press('w');
    await probeAt(page, 0.4, 0.2);
    await expect
      .poll(() => page.getByTestId('probe-mask').textContent())
      .toMatch(/9\d\.\d %.*counts 0\.\d %|100\.0 %.*counts 0\.\d %/);
    // The grey view shows what counts, and the open mask when it is asked to.
    const grey = async () => {
      await settle(page);
      const [x, y] = await onPicture(page, 0.4, 0.2);
      const box = (await page.getByTestId('canvas').boundingBox()) as { x: number; y: number };
      return page
        .getByTestId('canvas')
        .evaluate(
          (canvas, at) =>
            (canvas as HTMLCanvasElement).getContext('2d')?.getImageData(at[0], at[1], 1, 1).data[0] ?? -1,
          [x - box.x, y - box.y] as [number, number],
        );
    };
    await page.keyboard.press('1');
    await page.keyboard.press('i');
    await expect.poll(grey).toBeLessThan(10);
    await page.getByRole('button', { name: /^View:/ }).click();
    await page.getByLabel('Grey, Over and Edge show').selectOption('mask');
    await page.keyboard.press('Escape');
    await expect.poll(grey).toBeGreaterThan(240);
    await page.getByRole('button', { name: /^View:/ }).click();
    await page.getByLabel('Grey, Over and Edge show').selectOption('effect');
    await page.keyboard.press('Escape');
    await page.keyboard.press('u');
    await page.getByTestId('paints-on').selectOption('mask');
    await undo(3);
  });

  it('a stroke on a hidden layer says that it is hidden, and can show it', async () => {
    const { page } = visit;
    await page.keyboard.press('j');
    await stroke(page, [
      [0.3, 0.2],
      [0.5, 0.2],
    ]);
    await page.getByText('This layer is hidden').waitFor();
    await page.getByRole('button', { name: 'Show it' }).click();
    await page.getByRole('button', { name: 'Visible: −2 EV' }).waitFor();
    await undo(3);
  });
});

describe('numbers', () => {
  it('are selected by a click, given up by Escape, and the strength goes by the steps of the trade', async () => {
    const { page } = visit;
    const field = page.getByRole('toolbar').getByLabel('Size, typed');
    const before = await field.inputValue();
    await field.click();
    await page.keyboard.type('77');
    expect(await field.inputValue()).toBe('77');
    await page.keyboard.press('Escape');
    expect(await field.inputValue()).toBe(before);
    const strength = page.getByRole('toolbar').getByLabel('Strength, typed');
    await page.getByRole('button', { name: 'Strength 10 %' }).click();
    const seen = [await strength.inputValue()];
    for (const key of ["'", "'", "'", "'", "'", ';']) {
      await page.keyboard.press(key);
      seen.push(await strength.inputValue());
    }
    expect(seen).toEqual(['10', '20', '40', '70', '100', '100', '70']);
  });
});

describe('parts', () => {
  it('an inverted shape that is added to a mask proposes to intersect', async () => {
    const { page } = visit;
    await addPart(page, 'Tones');
    await addPart(page, 'Radial');
    await page.getByRole('radio', { name: 'Refine' }).click();
    await page.getByRole('button', { name: /^Invert: / }).click();
    await page.getByRole('button', { name: 'Intersect' }).click();
    expect(await page.getByTestId('part-radial').getByRole('combobox').inputValue()).toBe('intersect');
    await undo(4);
  });

  it('a mask that would lead back to itself is refused with a word', async () => {
    const { page } = visit;
    await addPart(page, 'Reference');
    await page.getByLabel('Mask of', { exact: true }).selectOption({ label: 'Layer +2 EV' });
    await page.getByRole('button', { name: 'Select layer +2 EV' }).click();
    await addPart(page, 'Reference');
    const to = page.getByLabel('Mask of', { exact: true });
    const before = await to.inputValue();
    await to.selectOption({ label: 'Layer −2 EV' });
    await page
      .getByRole('alert')
      .getByText(/two masks cannot refer to each other/)
      .waitFor();
    expect(await page.getByLabel('Mask of', { exact: true }).inputValue()).toBe(before);
    await undo(3);
    await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
    expect(visit.problems).toEqual([]);
  });
});
