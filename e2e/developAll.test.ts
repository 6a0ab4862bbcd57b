import { describe, expect, it } from 'vitest';
import { goToBlend, onPicture, openDemo, visitOnce } from './harness.ts';
import { matchHand } from './matchHand.ts';

const visit = visitOnce(async (page) => {
  await openDemo(page);
  await goToBlend(page);
});
const { fact, toStage, exposeOf, type, typedOf, openAll, undoAll } = matchHand(visit);

describe('developing by drawings, and what is alike on all frames', () => {
  it('begins as taken', async () => {
    await toStage('Match');
    await fact('as taken');
  });

  it('straightens all frames alike but for one that is set apart, and finds how far colours lie apart', async () => {
    const { page } = visit;
    const straightened = async (n: number) => {
      await exposeOf(n).click();
      await openAll(page);
      return typedOf('Straighten');
    };
    await straightened(4);
    await type('Straighten', -5);
    await fact('5 developed');
    expect(await straightened(2)).toBe(-5);
    const apart = page.getByLabel('Set apart: Lens');
    await apart.check();
    await type('Straighten', 0);
    await fact('4 developed');
    expect(await straightened(5)).toBe(-5);
    expect(await straightened(2)).toBe(0);
    await apart.uncheck();
    await expect.poll(() => typedOf('Straighten')).toBe(-5);
    await undoAll();
    await exposeOf(4).click();
    await openAll(page);
    await page.getByRole('button', { name: 'Find how far' }).click();
    await page.getByText('Red and blue lie where green does').waitFor();
    expect(await typedOf('Red apart')).toBe(0);
    await fact('as taken');
  });

  it('sets the white on its field, a hue on its circle and a tone of the curve on the picture, by mouse and keys', async () => {
    const { page } = visit;
    await exposeOf(4).click();
    await openAll(page);
    // One picture alone, to be pressed on.
    await page.getByRole('radio', { name: 'Blend' }).click();
    await page.getByLabel('White of the frame').press('ArrowRight');
    await expect.poll(() => typedOf('Taken at')).toBeGreaterThan(6504);
    await page.getByRole('button', { name: 'Pick a hue' }).click();
    await page.mouse.click(...(await onPicture(page, 0.15, 0.12)));
    const hue = page.getByLabel('Hues 1 on the circle');
    const before = Number(await hue.getAttribute('aria-valuenow'));
    await hue.press('ArrowUp');
    await expect.poll(async () => Number(await hue.getAttribute('aria-valuenow'))).toBe(before + 2);
    await page.getByRole('button', { name: 'Point from the picture' }).click();
    await page.mouse.click(...(await onPicture(page, 0.15, 0.12)));
    // Ends of the curve and the point.
    await expect.poll(() => page.getByTestId('curve-point').count()).toBe(3);
    await undoAll();
  });
});
