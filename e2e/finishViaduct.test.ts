import { describe, expect, it } from 'vitest';
import { onPicture, probeAt, settle, stroke, visitOnce } from './harness.ts';

const visit = visitOnce(async (page) => {
  await page.getByRole('button', { name: 'Demo: Viaduct' }).click();
  await page.getByTestId('frame-viaduct-7.jpg').waitFor();
  await page.getByText('Reading').waitFor({ state: 'hidden' });
  await page.getByRole('link', { name: /^Finish/ }).click();
  await page.getByTestId('canvas').waitFor();
  await settle(page);
});

const button = (name: string | RegExp) => visit.page.getByRole('button', { name });
const add = async (name: string) => {
  await button('Step…').click();
  await visit.page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click();
};
const type = async (label: string, value: number) => {
  const field = visit.page.getByLabel('Mask bench').getByLabel(`${label}, typed`, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
};
const sumAt = async (u: number, v: number) =>
  (await probeAt(visit.page, u, v)).Result.reduce((all, each) => all + each, 0);

describe('the viaduct, finished', () => {
  it('glows at its clock, less with less opacity, and not where a mask keeps it out', async () => {
    await add('Lights');
    await button('Add a light…').click();
    await visit.page.mouse.click(...(await onPicture(visit.page, 0.724, 0.302)));
    await visit.page.getByTestId('light-0').waitFor();
    const sums: number[] = [];
    for (const opacity of [100, 40, 20]) {
      await type('Opacity', opacity);
      sums.push(await sumAt(0.745, 0.31));
    }
    expect(sums[0]).toBeGreaterThan(sums[1]);
    expect(sums[1]).toBeGreaterThan(sums[2]);
    await type('Opacity', 100);
    // Behind what is dark: the tower stands in front of its glow.
    await button('dark tones').click();
    await settle(visit.page);
    await visit.page.getByRole('radio', { name: /^Guard ·/ }).waitFor();
    expect(await sumAt(0.745, 0.31)).toBeLessThanOrEqual(sums[0]);
  });

  it('is dodged through a stencil: what that holds stays as it was', async () => {
    const { page } = visit;
    await add('Dodge');
    const field = page.getByRole('toolbar').getByLabel('Strength, typed', { exact: true });
    await field.fill('100');
    await field.press('Enter');
    await page.getByRole('radio', { name: /^Stencil/ }).click();
    await page.getByRole('button', { name: 'Add part' }).click();
    await page.getByRole('menuitem', { name: /^Gradient/ }).click();
    // The gradient lets all through above, and nothing below.
    await page.getByRole('radio', { name: /^Map/ }).click();
    const [above, below] = [await sumAt(0.2, 0.2), await sumAt(0.2, 0.85)];
    await stroke(page, [
      [0.18, 0.2],
      [0.22, 0.2],
    ]);
    await stroke(page, [
      [0.18, 0.85],
      [0.22, 0.85],
    ]);
    expect(await sumAt(0.2, 0.2)).toBeGreaterThan(1.1 * above);
    expect(await sumAt(0.2, 0.85)).toBe(below);
  });

  it('has points of a curve pressed and dragged on the picture', async () => {
    const { page } = visit;
    await add('Curve');
    const before = await sumAt(0.3, 0.2);
    await button('Point from the picture').click();
    const [x, y] = await onPicture(page, 0.3, 0.2);
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.waitForTimeout(500);
    await page.mouse.move(x, y - 60, { steps: 6 });
    await page.mouse.up();
    await page.keyboard.press('Escape');
    expect(await sumAt(0.3, 0.2)).toBeGreaterThan(1.05 * before);
    await page.keyboard.press('Control+z');
    expect(await sumAt(0.3, 0.2)).toBe(before);
  });

  it('is straightened by its strongest edge, which says how sure it is, and cropped with guides', async () => {
    const { page } = visit;
    await page.getByRole('radio', { name: /^Turn and crop/ }).click();
    await button('Find it').click();
    await page.getByText(/% sure\)/).waitFor();
    await button('16:9').click();
    await page.getByRole('link', { name: /^Finish 16:9/ }).waitFor();
    await page.getByLabel('Guides').selectOption('golden');
    await button('Quarter turn right').click();
    await expect.poll(() => page.getByTestId('crop-fact').textContent()).toContain('1350 × 2400');
    await button('4:5').click();
    await expect.poll(() => page.getByTestId('crop-fact').textContent()).toContain('1600 × 2000');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await expect.poll(() => page.getByTestId('crop-fact').textContent()).toContain('16:9');
  });

  it('says what of it is not covered once the lens is straightened, and is cropped to what is', async () => {
    const { page } = visit;
    await page.getByRole('link', { name: /^Match/ }).click();
    const straighten = page.getByLabel('Straighten, typed');
    await page.getByText('Lens', { exact: true }).last().click();
    await straighten.fill('8');
    await straighten.press('Enter');
    await page.getByRole('link', { name: /^Finish/ }).click();
    const note = page.getByRole('note', { name: 'What is not covered' });
    await note.waitFor();
    await button('Crop to what it covers').click();
    await note.waitFor({ state: 'detached' });
    // It stays within that while it is turned, and is as large as it can be in another ratio.
    await button('Quarter turn left').click();
    const panel = page.getByLabel('Turn and crop', { exact: true }).last();
    await panel.getByLabel('Straighten, typed', { exact: true }).fill('4');
    await page.keyboard.press('Enter');
    await button('4:5').click();
    await expect.poll(() => page.getByTestId('crop-fact').textContent()).toContain('4:5');
    expect(await note.count()).toBe(0);
    expect(visit.problems).toEqual([]);
  });
});
