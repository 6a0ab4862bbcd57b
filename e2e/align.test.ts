import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { cornerDistance } from '#core/align/placement.ts';
import { placementMatrix } from '../demo/camera/camera.ts';
import { DEMO_SETS } from '../demo/sets.ts';
import { onPicture, savedScene, settle, stroke, visitOnce } from './harness.ts';

const size = { width: 2400, height: 1600 };
const shots = DEMO_SETS.find(({ name }) => name === 'observatory')?.shots ?? [];

const visit = visitOnce();

const card = (n: number) => visit.page.getByTestId(`place-LSKT${String(n).padStart(4, '0')}.JPG`);
const typed = async (name: string) => Number(await visit.page.getByLabel(`${name}, typed`).inputValue());

/** The scene as it is kept, read out of its file. */
async function frameMatrices(): Promise<number[][]> {
  const file = await savedScene(visit.page, 'Save without the frames');
  const { BlobReader, TextWriter, ZipReader } = await import('@zip.js/zip.js');
  const entries = await new ZipReader(new BlobReader(new Blob([readFileSync(await file.path())]))).getEntries();
  const entry = entries.find(({ filename }) => filename === 'scene.json');
  if (!entry || !('getData' in entry) || !entry.getData) throw new Error('no scene');
  const { frames } = JSON.parse(await entry.getData(new TextWriter())) as {
    frames: { placement: { matrix: number[] } | null }[];
  };
  return frames.map(({ placement }) => placement?.matrix ?? [1, 0, 0, 0, 1, 0, 0, 0, 1]);
}

describe('Observatory, out of the hand', () => {
  it('is copied from the card, and a mask is painted before anything is aligned', async () => {
    await visit.page.getByRole('button', { name: 'Camera card…' }).click();
    const dialog = visit.page.getByRole('dialog', { name: 'Camera card' });
    await dialog.getByRole('listitem').filter({ hasText: '3 frames' }).getByRole('button', { name: 'Copy' }).click();
    await visit.page.getByRole('button', { name: 'Continue to Blend' }).waitFor({ timeout: 60_000 });
    await visit.page.getByText('Reading').waitFor({ state: 'hidden' });
    await visit.page.getByRole('button', { name: 'Continue to Blend' }).click();
    await visit.page.getByTestId('canvas').waitFor();
    await settle(visit.page);
    await stroke(visit.page, [
      [0.3, 0.3],
      [0.5, 0.35],
    ]);
    await settle(visit.page);
  });

  it('is aligned: the still part wins over the clouds, and the frames say how far they are to be trusted', async () => {
    await visit.page.getByRole('link', { name: /^Align/ }).click();
    await card(1).getByText('Not aligned yet').waitFor();
    await visit.page.getByRole('button', { name: 'Align all frames' }).click();
    await visit.page.getByRole('button', { name: 'Stop' }).waitFor();
    await visit.page.getByRole('button', { name: 'Align all frames' }).waitFor({ timeout: 60_000 });
    for (const n of [1, 3])
      await card(n)
        .getByText(/^(Good|Needs review) · 0\.\d+ px$/)
        .waitFor();
    // Half of the darkest frame is cloud, which moved: that is told.
    await card(1).click();
    await visit.page.getByTestId('verdict').getByText('Needs review').waitFor();
    const matrices = await frameMatrices();
    for (const [index, shot] of shots.entries())
      expect(cornerDistance(matrices[index], placementMatrix(size, shot.placement), size)).toBeLessThan(0.15);
  });

  it('is looked at in every view and at 400 %', async () => {
    await visit.page.getByRole('link', { name: /^Align/ }).click();
    for (const name of ['Edges', 'Half', 'Blink', 'Divider', 'Frame', 'Difference']) {
      await visit.page.getByRole('radio', { name, exact: true }).click();
      await visit.page.waitForTimeout(150);
    }
    await settle(visit.page);
    // The hill stands still: even grey, but for the grain.
    const [left, top] = await onPicture(visit.page, 0.15, 0.85);
    const box = await visit.page.getByTestId('canvas').boundingBox();
    const grey = await visit.page.getByTestId('canvas').evaluate(
      (element, [x, y]) => {
        const context = (element as HTMLCanvasElement).getContext('2d') as CanvasRenderingContext2D;
        const { data } = context.getImageData(x, y, 100, 40);
        return data.reduce((sum, value, i) => sum + (i % 4 === 0 ? value : 0), 0) / 4000;
      },
      [left - (box?.x ?? 0), top - (box?.y ?? 0)] as const,
    );
    expect(Math.abs(grey - 128)).toBeLessThan(16);
    await visit.page.getByRole('button', { name: '400 %' }).click();
    await settle(visit.page);
    await visit.page.getByRole('checkbox', { name: 'Show on picture' }).check();
    const misfits = visit.page.getByRole('region', { name: 'Places that do not match' });
    await misfits.getByRole('button').first().click();
    await settle(visit.page);
    const told = await misfits.textContent();
    await visit.page.getByText('Saved').waitFor();
    await visit.page.reload();
    await visit.page.getByText('Reading').waitFor({ state: 'hidden' });
    await card(1).click();
    await expect.poll(() => misfits.textContent()).toBe(told);
    await settle(visit.page);
    await visit.page.getByRole('button', { name: 'Fit', exact: true }).click();
  });

  it('is moved by keys, by numbers and by the pointer, each a step that can be undone', async () => {
    await card(3).click();
    const [x, y] = [await typed('Across'), await typed('Down')];
    await visit.page.getByRole('application', { name: 'Picture' }).focus();
    await visit.page.keyboard.press('ArrowRight');
    await expect.poll(() => typed('Across')).toBeCloseTo(x + 1, 1);
    await visit.page.keyboard.press('Shift+ArrowDown');
    await expect.poll(() => typed('Down')).toBeCloseTo(y + 0.1, 1);
    await visit.page.getByLabel('Rotation, typed').fill('1.5');
    await visit.page.keyboard.press('Enter');
    await expect.poll(() => typed('Rotation')).toBe(1.5);
    await visit.page.getByRole('radio', { name: 'Move', exact: true }).click();
    const [left, top] = await onPicture(visit.page, 0.5, 0.5);
    await visit.page.mouse.move(left, top);
    await visit.page.mouse.down();
    await visit.page.mouse.move(left + 40, top - 20, { steps: 6 });
    await visit.page.mouse.up();
    await expect.poll(() => typed('Across')).toBeGreaterThan(x + 60);
    await visit.page.getByTestId('verdict').getByText('Placed by hand').waitFor();
    for (let step = 0; step < 4; step++) await visit.page.keyboard.press('Control+z');
    await expect.poll(() => typed('Across')).toBeCloseTo(x, 2);
    expect(await typed('Rotation')).toBeCloseTo(-0.7, 1);
    await visit.page.getByRole('button', { name: /^Lock: / }).click();
    expect(await visit.page.getByRole('radio', { name: 'Move', exact: true }).isDisabled()).toBe(true);
    await visit.page.getByRole('button', { name: 'Unlock' }).click();
  });

  it('is mended by three pairs of points, which find the exact spots', async () => {
    await visit.page.getByRole('button', { name: 'As shot' }).click();
    await visit.page.getByRole('radio', { name: 'Half', exact: true }).click();
    await visit.page.getByRole('radio', { name: 'Pairs', exact: true }).click();
    await settle(visit.page);
    // Corners of the dome's house, its door and the hill's path, in the base; the frame is a hand's breadth off.
    const spots = [
      [0.222, 0.612],
      [0.455, 0.66],
      [0.36, 0.73],
    ] as const;
    const there = placementMatrix(size, shots[2].placement);
    for (const [index, [u, v]] of spots.entries()) {
      await visit.page.mouse.click(...(await onPicture(visit.page, u, v)));
      await visit.page.getByText('Now click the same point on the frame.').waitFor();
      const { invert3 } = await import('#core/raster/matrix3.ts');
      const { mapPoint } = await import('#core/align/placement.ts');
      const at = mapPoint(invert3(there), { x: u * size.width, y: v * size.height });
      await visit.page.mouse.click(...(await onPicture(visit.page, at.x / size.width, at.y / size.height)));
      await visit.page.getByRole('button', { name: `Place by ${index + 1} pair${index ? 's' : ''}` }).waitFor();
    }
    await visit.page.getByRole('button', { name: 'Place by 3 pairs' }).click();
    await visit.page.getByTestId('verdict').getByText('Placed by hand').waitFor();
    await expect.poll(() => typed('Rotation')).toBeCloseTo(-0.7, 1);
    expect(await typed('Across')).toBeCloseTo(shots[2].placement.shiftX, 0);
    expect(await typed('Down')).toBeCloseTo(shots[2].placement.shiftY, 0);
  });

  it('is fitted further from place to place, shown by arrows, and not any more', async () => {
    const { page } = visit;
    const panel = page.getByLabel('Local fit', { exact: true });
    await panel.getByRole('button', { name: 'Fit locally' }).click();
    await panel.getByText(/Shifted locally/).waitFor({ timeout: 60_000 });
    expect(await page.getByTestId('local-arrow').count()).toBeGreaterThan(3);
    await panel.getByRole('button', { name: 'Remove it' }).click();
    expect(await page.getByTestId('local-arrow').count()).toBe(0);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await panel.getByText(/Off unless/).waitFor();
  });

  it('is trimmed to the common area; the mask is unharmed, and all of it can be undone', async () => {
    await visit.page.getByRole('button', { name: 'Crop to it' }).click();
    await visit.page.getByRole('button', { name: 'Remove the crop' }).waitFor();
    await visit.page.getByRole('link', { name: /^Export/ }).click();
    await visit.page.getByText(/2\d\d\d × 15\d\d pixels of 2400 × 1600, cropped/).waitFor();
    await visit.page.getByRole('link', { name: /^Blend/ }).click();
    await visit.page.getByTestId('canvas').waitFor();
    await settle(visit.page);
    expect(await visit.page.getByRole('link', { name: /^Blend/ }).textContent()).toContain('1 layer shown');
    await visit.page.getByRole('link', { name: /^Align/ }).click();
    // The crop, the pairs, “as taken”, unlocked, locked, aligned.
    for (let step = 0; step < 6; step++) await visit.page.keyboard.press('Control+z');
    await card(1).getByText('Not aligned yet').waitFor();
    expect(await visit.page.getByRole('link', { name: /^Blend/ }).textContent()).toContain('1 layer shown');
    expect(visit.problems).toEqual([]);
  });

  it('is found anew where a mask says not to look: in the sky that was painted', async () => {
    await card(1).click();
    await visit.page.getByLabel('How the mask is used').selectOption('not');
    await visit.page.getByLabel('Mask that says where to search').selectOption({ index: 1 });
    await visit.page.getByRole('button', { name: /^Align: / }).click();
    await visit.page.getByText(/Off by .* agrees · \d+ % sure/).waitFor({ timeout: 60_000 });
    expect(visit.problems).toEqual([]);
  });
});

describe('lusket align', () => {
  it('prints a matrix and a verdict for each frame, or why there is none', () => {
    const [base, frame, missing] = ['tarn-3', 'tarn-5', 'nowhere'].map((name) => `demo/frames/tarn/${name}.jpg`);
    const output = execFileSync(process.execPath, ['cli/lusket.mjs', 'align', base, frame, missing, '--json'], {
      encoding: 'utf8',
    });
    const [found, lost] = JSON.parse(output);
    const shot = DEMO_SETS.find(({ name }) => name === 'tarn')?.shots[4];
    if (!shot) throw new Error('no such shot');
    expect(Object.keys(found)).toEqual(
      expect.arrayContaining(['file', 'matrix', 'model', 'residualPx', 'agreement', 'verdict']),
    );
    expect(found).toMatchObject({ file: frame, model: 'similarity', verdict: 'good' });
    expect(cornerDistance(found.matrix, placementMatrix(size, shot.placement), size)).toBeLessThan(0.1);
    expect(lost).toMatchObject({ file: missing, error: { code: 'unreadable' } });
  });
});
