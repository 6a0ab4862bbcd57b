import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import {
  downloaded,
  goToBlend,
  onPicture,
  openDemo,
  probeAt,
  rendersAlike,
  settle,
  stroke,
  visitOnce,
} from './harness.ts';
import { matchHand } from './matchHand.ts';

const visit = visitOnce(async (page) => {
  await openDemo(page);
  await goToBlend(page);
});

const SKY = [0.4, 0.2] as const;
const STONES = [0.66, 0.86] as const;
const { fact, toStage, exposeOf, type, typedOf, openAll, undoAll } = matchHand(visit);

const brightsOf = async () => Number(await visit.page.getByTestId('end-brights').getAttribute('aria-valuenow'));

describe('developing frames under a finished mask', () => {
  let before: Record<string, number[]>;
  it('begins as taken, with a mask that stays', async () => {
    const { page } = visit;
    await stroke(page, [SKY, [0.6, 0.2]]);
    before = await probeAt(page, ...SKY);
    await toStage('Match');
    await fact('as taken');
    await exposeOf(4).waitFor();
  });

  it('exposes a frame by its chip on the scale, dragged and by keys, a step each', async () => {
    const { page } = visit;
    const chip = exposeOf(2);
    const box = await chip.boundingBox();
    if (!box) throw new Error('no chip');
    await page.mouse.move(box.x + 8, box.y + 8);
    await page.mouse.down();
    await page.mouse.move(box.x + 120, box.y + 8, { steps: 6 });
    await page.mouse.up();
    await fact('1 developed');
    const dragged = Number(await chip.getAttribute('aria-valuenow'));
    expect(dragged).toBeGreaterThan(0.5);
    expect(await typedOf('Exposure')).toBeCloseTo(dragged, 2);
    await chip.press('ArrowRight');
    expect(await typedOf('Exposure')).toBeCloseTo(dragged + 0.05, 2);
    await page.keyboard.press('Control+z');
    expect(await typedOf('Exposure')).toBeCloseTo(dragged, 2);
    await page.keyboard.press('Control+z');
    await fact('as taken');
  });

  it('shows what is developed wherever the frame is, and leaves masks that read it alone', async () => {
    const { page } = visit;
    // The layer that was painted on is the one on top of the stack that is selected: all are brightened, so that it is among them.
    for (const n of [1, 2, 4, 5]) {
      await exposeOf(n).click();
      await type('Exposure', -1);
    }
    await fact('4 developed');
    await toStage('Blend');
    const after = await probeAt(page, ...SKY);
    const frames = Object.keys(before).filter(
      (name) =>
        name.includes('EV') &&
        before[name].length === 3 &&
        Math.max(...before[name]) < 60000 &&
        Math.max(...before[name]) > 4000,
    );
    expect(frames.length).toBeGreaterThan(1);
    let darker = 0;
    for (const name of frames) if (after[name][1] < 0.85 * before[name][1]) darker++;
    expect(darker).toBeGreaterThanOrEqual(frames.length - 1);
    expect(after.Mask ?? after.mask).toEqual(before.Mask ?? before.mask);
    // Beside each developed frame, on request, what it was.
    await page.getByRole('button', { name: 'as taken' }).click();
    expect(await page.locator('[data-testid^="probe-taken-"]').count()).toBe(4);
    await page.getByRole('button', { name: 'as taken' }).click();
    await toStage('Match');
    await undoAll();
  });

  it('makes a spot grey by a click, and copies everything but light to all as one step', async () => {
    const { page } = visit;
    await exposeOf(4).click();
    await page.getByRole('radio', { name: 'Blend' }).click();
    await settle(page);
    await type('Exposure', 0.5);
    await page.getByRole('button', { name: 'Pick a grey' }).click();
    await page.mouse.click(...(await onPicture(page, ...STONES)));
    await page.getByRole('button', { name: 'Reset: White balance' }).waitFor();
    expect(await typedOf('Taken at')).not.toBe(6504);
    await page.getByRole('button', { name: 'Copy to…' }).click();
    expect(await page.getByRole('checkbox', { name: 'Light' }).isChecked()).toBe(false);
    await page.getByRole('button', { name: 'Copy to 4 frames' }).click();
    await fact('5 developed');
    await exposeOf(1).click();
    expect(await typedOf('Taken at')).not.toBe(6504);
    expect(await typedOf('Exposure')).toBe(0);
    await page.keyboard.press('Control+z');
    await fact('1 developed');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await fact('as taken');
  });

  it('says how far a frame lies from the one below it, and brings it closer: shown, left, shown again, taken as one step', async () => {
    const { page } = visit;
    const told = async () => (await page.getByTestId('distance').textContent()) ?? '';
    await exposeOf(5).click();
    await exposeOf(4).click();
    await page.getByRole('button', { name: 'Measure' }).click();
    await page.getByTestId('distance').waitFor();
    const stops = Number.parseFloat(await told());
    expect(await told()).toContain('stops brighter');
    // Two and four stops from the base, on either side; the strokes of the first story are on another layer.
    expect(stops).toBeGreaterThan(1.5);
    await page.getByRole('button', { name: 'Show it closer' }).click();
    await fact('1 developed');
    await page.getByRole('button', { name: 'Leave it' }).click();
    await fact('as taken');
    await page.getByRole('button', { name: 'Show it closer' }).click();
    // Whatever is tried while it is shown is left at once.
    for (const share of [5, 100, 40]) await type('Close by', share);
    await page.getByRole('button', { name: 'Leave it' }).click();
    await fact('as taken');
    await page.getByRole('button', { name: 'Show it closer' }).click();
    await type('Close by', 100);
    await page.getByRole('button', { name: 'Take it' }).click();
    await page.getByText('As bright').waitFor();
    expect(await typedOf('Exposure')).toBeCloseTo(-stops, 0);
    await page.keyboard.press('Control+z');
    await fact('as taken');
    // It is measured anew after each change, also one that is taken back.
    await expect.poll(async () => Number.parseFloat(await told())).toBe(stops);
    await page.getByRole('radio', { name: 'Side by side' }).click();
    expect(await page.getByTestId('caption').allTextContents()).toEqual(['−2 EV', '+2 EV']);
    await page.getByRole('radio', { name: 'Blend' }).click();
  });

  it('brings all frames closer from the base outwards, as one step', async () => {
    const { page } = visit;
    await exposeOf(4).click();
    const stops = async () =>
      Promise.all([1, 2, 4, 5].map(async (n) => Number(await exposeOf(n).getAttribute('aria-valuenow'))));
    // The figure on the trail falls, once all has been measured anew.
    const apart = async () =>
      Number.parseFloat(
        (await page.getByRole('link', { name: /^Match .* EV apart/ }).textContent())?.match(/[\d.]+/)?.[0] ?? '0',
      );
    const before = await apart();
    await page.getByRole('button', { name: 'Match all' }).click();
    await page.getByText('brought closer by').waitFor({ timeout: 60000 });
    // Dark frames come up and bright ones down, those further off by more; the base stays.
    const [one, two, four, five] = await stops();
    expect(one).toBeGreaterThan(two);
    expect(two).toBeGreaterThan(0.5);
    expect(five).toBeLessThan(four);
    expect(four).toBeLessThan(-0.5);
    expect(Number(await exposeOf(3).getAttribute('aria-valuenow'))).toBe(0);
    await expect.poll(apart, { timeout: 20000 }).toBeLessThan(0.7 * before);
    await page.keyboard.press('Control+z');
    await fact('as taken');
  });

  it('forgets the figure when there is nothing to measure any more, and finds it again', async () => {
    const { page } = visit;
    const figure = page.getByRole('link', { name: /^Match .* EV apart/ });
    await figure.waitFor();
    let undone = 0;
    for (; undone < 80 && (await page.getByRole('link', { name: /^Gather 0 frames/ }).count()) === 0; undone++)
      await page.keyboard.press('Control+z');
    await page.getByRole('link', { name: /^Match not measured/ }).waitFor();
    for (; undone > 0; undone--) await page.keyboard.press('Control+Shift+z');
    await figure.waitFor({ timeout: 20_000 });
    await fact('as taken');
  });

  it('bends a curve by hand, takes it away by a key, and tints by numbers', async () => {
    const { page } = visit;
    await exposeOf(4).click();
    await page.getByText('Levels and curve').click();
    const curve = page.getByLabel('Curve over all channels').first();
    await curve.scrollIntoViewIfNeeded();
    const box = await curve.boundingBox();
    if (!box) throw new Error('no curve');
    await page.mouse.move(box.x + box.width * 0.4, box.y + box.height * 0.6);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * 0.4, box.y + box.height * 0.72, { steps: 4 });
    await page.mouse.up();
    await fact('1 developed');
    await page.getByRole('button', { name: 'Reset: Levels and curve' }).click();
    await fact('as taken');
    await page.getByRole('radiogroup', { name: 'Levels of' }).getByRole('radio', { name: 'Red' }).click();
    await type('White', 90);
    await fact('1 developed');
    await page.keyboard.press('Control+z');
    await fact('as taken');
    await page.getByText('Tints').click();
    await type('amount', 6);
    await fact('1 developed');
    await undoAll();
  });

  it('opens the darks by their handle, by keys and on the picture, and finds a veil, a step each', async () => {
    const { page } = visit;
    await exposeOf(4).click();
    const darks = page.getByTestId('end-darks');
    const stopsOf = async () => Number(await darks.getAttribute('aria-valuenow'));
    const drag = async (x: number, y: number, up: number) => {
      await page.mouse.move(x, y);
      await page.mouse.down();
      await page.mouse.move(x, y - up, { steps: 5 });
      await page.mouse.up();
    };
    await darks.scrollIntoViewIfNeeded();
    const box = await darks.boundingBox();
    if (!box) throw new Error('no handle');
    await drag(box.x + box.width / 2, box.y + box.height / 2, 30);
    await fact('1 developed');
    const dragged = await stopsOf();
    expect(dragged).toBeGreaterThan(1);
    await darks.press('ArrowUp');
    expect(await stopsOf()).toBeCloseTo(dragged + 0.05, 2);
    await darks.press('ArrowRight');
    expect(await darks.getAttribute('aria-valuetext')).toContain('2.9');
    await page.getByRole('button', { name: 'Drag on the picture' }).click();
    // The brightest frame's stones are dark still; its sky is not.
    const [x, y] = await onPicture(page, 0.66, 0.5);
    await drag(x, y, -50);
    await expect.poll(async () => (await stopsOf()) < dragged || (await brightsOf()) < 0).toBe(true);
    await page.getByRole('button', { name: 'Drag dark or bright places' }).click();
    await page.getByRole('button', { name: 'Find the veil' }).click();
    await expect.poll(() => page.getByTestId('size-veil').getAttribute('aria-valuetext')).toBe('−50 %');
    await undoAll();
  });

  it('shows more or less of things by their size, dragged and with keys', async () => {
    const { page } = visit;
    await exposeOf(2).click();
    const disc = (name: string) => page.getByRole('slider', { name, exact: true });
    const [fine, veil, noise] = [disc('Fine detail'), disc('Veil'), disc('Noise of brightness')];
    await fine.scrollIntoViewIfNeeded();
    const { x, y, width, height } = (await fine.boundingBox()) as NonNullable<
      Awaited<ReturnType<typeof fine.boundingBox>>
    >;
    const [fromX, fromY] = [x + width / 2, y + 10];
    expect(height).toBeGreaterThan(0);
    await page.mouse.move(fromX, fromY);
    await page.mouse.down();
    await page.mouse.move(fromX + 20, fromY - 23, { steps: 4 });
    await page.mouse.up();
    const [amount, size] = ((await fine.getAttribute('aria-valuetext')) as string).split(', ');
    expect(Number.parseInt(amount.slice(1), 10)).toBeGreaterThan(70);
    expect(Number.parseFloat(size)).toBeGreaterThan(15);
    await veil.press('ArrowDown');
    await veil.press('ArrowDown');
    expect(await veil.getAttribute('aria-valuetext')).toBe('−4 %');
    await noise.press('ArrowUp');
    expect(await noise.getAttribute('aria-valuetext')).toBe('0 %');
    await fine.dblclick({ position: { x: width / 2, y: 10 } });
    expect(await fine.getAttribute('aria-valuetext')).toMatch(/^0 %/);
    await fact('1 developed');
    await undoAll();
  });

  it('saves settings under a name, applies them to another frame, and takes them from a file; none that cannot be', async () => {
    const { page } = visit;
    await exposeOf(2).click();
    await openAll(page);
    await type('Exposure', 0.8);
    await type('Haze off', 20);
    await page.getByRole('button', { name: 'Sets…' }).click();
    await page.getByLabel('Save the settings of').fill('Dusk');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    const written = await downloaded(page, () => page.getByRole('button', { name: 'Write Dusk to a file' }).click());
    const folder = mkdtempSync(join(tmpdir(), 'lusket-settings-'));
    const [own, newer] = ['dusk.json', 'newer.json'].map((name) => join(folder, name));
    await written.saveAs(own);
    writeFileSync(newer, JSON.stringify({ lusketSettings: 9, name: 'Later', develop: {} }));
    const file = page.getByLabel('File of settings');
    await file.setInputFiles(newer);
    await page.getByText('written by a newer Lusket').waitFor();
    await page.getByRole('button', { name: 'Remove Dusk' }).click();
    await page.getByText('None is saved yet').waitFor();
    await file.setInputFiles(own);
    await page.getByRole('button', { name: 'Write Dusk to a file' }).waitFor();
    await page.getByRole('button', { name: 'Close' }).click();
    await exposeOf(5).click();
    await page.getByRole('button', { name: 'Sets…' }).click();
    await page.getByRole('button', { name: /^Apply Dusk/ }).click();
    await fact('2 developed');
    expect(await typedOf('Exposure')).toBe(0.8);
    expect(await typedOf('Haze off')).toBe(20);
    await undoAll();
  });

  it('changes the hues of a colour that is clicked, and no others', async () => {
    const { page } = visit;
    await exposeOf(4).click();
    await page.getByRole('button', { name: 'Pick a hue' }).click();
    await page.mouse.click(...(await onPicture(page, 0.15, 0.12)));
    const range = page.getByRole('region', { name: 'Hues 1' });
    await range.waitFor();
    const hue = Number(await range.getByLabel('Hue, typed', { exact: true }).inputValue());
    // The sky of an evening is blue to violet.
    expect(hue).toBeGreaterThan(220);
    expect(hue).toBeLessThan(330);
    await range.getByLabel('Turn, typed').fill('20');
    await range.getByLabel('Turn, typed').press('Enter');
    await page.getByRole('button', { name: 'Remove hues 1' }).click();
    await range.waitFor({ state: 'hidden' });
    await undoAll();
  });

  it('exports developed frames as the command line renders them, bit for bit', async () => {
    const { page } = visit;
    for (const [n, settings] of [
      [
        2,
        {
          ...{
            Exposure: 1.3,
            'Taken at': 5200,
            Saturation: 30,
            Straighten: -4,
            'Lift corners': 0.8,
            'Red apart': 0.5,
            'Purple lines': 40,
          },
          ...{ 'Noise off': 60, 'Haze off': 30, 'Fine detail': 30, Sharpen: 40 },
        },
      ],
      [3, { Exposure: -0.7, Slope: 1.2, 'To grey': 20, amount: 5 }],
    ] as const) {
      await exposeOf(n).click();
      await openAll(page);
      for (const [label, value] of Object.entries(settings)) await type(label, value);
    }
    // Lens and noise are alike on all frames.
    await fact('5 developed');
    expect(await rendersAlike(page, 'Tarn')).toBe(true);
    await toStage('Match');
    await undoAll();
  });

  it('hatches what is blown and blocked by a key, in Match as in Blend', async () => {
    const { page } = visit;
    const hatchedOn = (which: number) =>
      page
        .getByTestId('limits')
        .nth(which)
        .evaluate((canvas: HTMLCanvasElement) => {
          const data = canvas.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height).data ?? [];
          let count = 0;
          for (let i = 3; i < data.length; i += 4) if (data[i] > 0) count++;
          return count;
        });
    // The frame lies right of the one below it.
    const hatched = () => hatchedOn(1);
    await exposeOf(5).click();
    await page.getByRole('radio', { name: 'Side by side' }).click();
    await page.keyboard.press('s');
    await expect.poll(hatched).toBeGreaterThan(500);
    const bright = await hatched();
    const below = await hatchedOn(0);
    // Darkened it is white no more.
    await type('Exposure', -3);
    await expect.poll(hatched).toBeLessThan(bright / 2);
    expect(await hatchedOn(0)).toBe(below);
    await page.keyboard.press('Control+z');
    await expect.poll(hatched).toBeGreaterThan(0.9 * bright);
    // From another level on more of it counts as blown; what cannot be is not taken.
    const level = page.getByLabel('Blown from level');
    await level.fill('180');
    await level.press('Enter');
    await expect.poll(hatched).toBeGreaterThan(1.15 * bright);
    await level.fill('300');
    await level.press('Enter');
    expect(await level.inputValue()).toBe('180');
    await level.dblclick();
    await expect.poll(hatched).toBeLessThan(1.1 * bright);
    await toStage('Blend');
    await page.getByTestId('limits').waitFor();
    await page.keyboard.press('s');
    await page.getByTestId('limits').waitFor({ state: 'detached' });
    await toStage('Match');
    await fact('as taken');
  });

  it('tells when the spot has no colour, and changes nothing', async () => {
    const { page } = visit;
    await exposeOf(5).click();
    await page.getByRole('radio', { name: 'Blend' }).click();
    await settle(page);
    await page.getByRole('button', { name: 'Pick a grey' }).click();
    // In the brightest frame the sky beside the sun is clipped.
    await page.mouse.click(...(await onPicture(page, 0.75, 0.3)));
    await page.getByText('clipped or too dark').waitFor();
    await fact('as taken');
  });
});
