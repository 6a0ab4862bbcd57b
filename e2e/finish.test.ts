import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { downloaded, onPicture, openDemo, probeAt, rendersAlike, settle, stroke, visitOnce } from './harness.ts';

const visit = visitOnce(async (page) => {
  await openDemo(page);
  await page.getByRole('link', { name: /^Finish/ }).click();
  await page.getByTestId('canvas').waitFor();
  await settle(page);
});

type Place = readonly [number, number];
const SKY: Place = [0.3, 0.12];
const SHORE: Place = [0.5, 0.9];
const LAKE: Place = [0.5, 0.72];
const TOWER: Place = [0.24, 0.27];

const button = (name: string | RegExp) => visit.page.getByRole('button', { name });
const part = (name: RegExp) => visit.page.getByRole('radio', { name }).click();
const resultAt = async (at: Place) => (await probeAt(visit.page, ...at)).Result;
const sum = (rgb: readonly number[]) => rgb.reduce((all, each) => all + each, 0);
const add = async (name: string) => {
  await button('Step…').click();
  await visit.page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click();
};
const bench = () => visit.page.getByLabel('Mask bench');
const type = async (label: string, value: number, where = bench()) => {
  const field = where.getByLabel(`${label}, typed`, { exact: true });
  await field.fill(String(value));
  await field.press('Enter');
};
const click = async (at: Place) => visit.page.mouse.click(...(await onPicture(visit.page, ...at)));
const steps = () => visit.page.getByTestId(/^layer-/).count();

describe('a blend made ready', () => {
  it('has its black and white point set where the first pixels clip', async () => {
    const { page } = visit;
    const before = await resultAt(LAKE);
    await add('Levels');
    await page.getByTestId('clipped-White').waitFor();
    // The picture has black and white in plenty: more of it may clip for both to move.
    await page.getByLabel('Share of pixels that clip, per cent').fill('3');
    await button('Set both ends').click();
    await expect.poll(() => bench().getByLabel('Black, typed', { exact: true }).inputValue()).not.toBe('0');
    await expect.poll(() => resultAt(LAKE)).not.toEqual(before);
    await type('White', 60);
    await expect.poll(() => page.getByTestId('clipped-White').textContent()).toMatch(/\d{4}|,\d{3}|\d k/);
    await page.keyboard.press('Control+z');
    await settle(page);
    // While an end is dragged only what clips is seen: black but for a few pixels.
    const rule = bench().getByRole('slider', { name: 'White', exact: true });
    const box = await rule.boundingBox();
    if (!box) throw new Error('no rule');
    await page.mouse.move(box.x + box.width - 4, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * 0.9, box.y + box.height / 2, { steps: 3 });
    await settle(page);
    const [x, y] = await onPicture(page, ...SHORE);
    const shot = await page.screenshot({ clip: { x, y, width: 4, height: 4 } });
    await page.mouse.up();
    expect(Math.max(...(await sharp(shot).removeAlpha().raw().toBuffer()))).toBeLessThan(40);
  });

  it('has light painted in and out, and the map looked at alone', async () => {
    const { page } = visit;
    const [path, rock] = [await resultAt([0.4, 0.7]), await resultAt(SHORE)];
    await add('Dodge');
    await type('Full stroke', 3);
    await type('Strength', 100, page.getByRole('toolbar'));
    await stroke(page, [
      [0.3, 0.7],
      [0.55, 0.72],
    ]);
    expect(sum(await resultAt([0.4, 0.7]))).toBeGreaterThan(1.05 * sum(path));
    await page.getByRole('radio', { name: 'Burn' }).click();
    await stroke(page, [
      [0.45, 0.9],
      [0.6, 0.9],
    ]);
    expect(sum(await resultAt(SHORE))).toBeLessThan(0.95 * sum(rock));
    await probeAt(page, ...SKY);
    expect(await page.getByTestId('probe-mask').textContent()).toContain('50');
    await page.getByRole('radio', { name: 'Brights' }).last().click();
    await settle(page);
    expect(sum(await resultAt(SHORE))).toBeGreaterThan(0.98 * sum(rock));
    await page.keyboard.press('Control+z');
  });

  it('glows round a light, as strongly as wanted, and softly out of the shadows', async () => {
    await add('Lights');
    await button('Add a light…').click();
    const [far, dark] = [await resultAt(SHORE), await resultAt([0.5, 0.97])];
    await click(TOWER);
    await visit.page.getByTestId('light-0').waitFor();
    const near: Place = [TOWER[0] + 0.01, TOWER[1]];
    const full = sum(await resultAt(near));
    for (const opacity of [40, 20, 0]) {
      await type('Opacity', opacity);
      expect(sum(await resultAt(near))).toBeLessThan(full);
    }
    expect(await resultAt(SHORE)).toEqual(far);
    await type('Opacity', 100);
    await add('Soft glow');
    await type('Glow', 100);
    await type('No shadows', 90);
    const held = sum(await resultAt([0.5, 0.97]));
    await type('No shadows', 0);
    expect(sum(await resultAt([0.5, 0.97]))).toBeGreaterThanOrEqual(held);
    expect(held).toBeLessThan(1.3 * sum(dark) + 600);
    await add('High pass');
    await type('Of', 3);
    expect(await steps()).toBe(5);
    // Kept out of the sky in one press, by a guard.
    const sky = await resultAt(SKY);
    await button('light tones').click();
    await expect.poll(() => visit.page.getByRole('radio', { name: /^Guard ·/ }).count()).toBe(1);
    expect(Math.abs(sum(await resultAt(SKY)) - sum(sky))).toBeLessThan(4000);
  });

  it('follows a slider that is dragged without rest: all of it, and not the middle alone', async () => {
    const { page } = visit;
    await button('Select layer Levels').click();
    await settle(page);
    const before = await resultAt(LAKE);
    // How often most of the picture has changed since it last had, as it is on screen.
    await page.evaluate(() => {
      const canvas = document.querySelector('[data-testid=canvas]') as HTMLCanvasElement;
      const [width, height] = [15, 10];
      const small = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true });
      let seen: Uint8ClampedArray | undefined;
      const look = () => {
        small?.drawImage(canvas, 0, 0, width, height);
        const now = small?.getImageData(0, 0, width, height).data ?? new Uint8ClampedArray();
        let changed = 0;
        for (let at = 0; seen && at < now.length; at += 4) changed += Number(now[at + 1] !== seen[at + 1]);
        if (seen && changed > 0.7 * width * height)
          canvas.dataset.followed = String(Number(canvas.dataset.followed ?? 0) + 1);
        if (!seen || changed > 0.7 * width * height) seen = now;
        if (canvas.dataset.followed !== '4') requestAnimationFrame(look);
      };
      look();
    });
    // As fast as a hand's events come, and faster than a picture of this many steps is drawn.
    const rule = bench().getByRole('slider', { name: 'Midtones', exact: true });
    const followed = await rule.evaluate(async (slider: HTMLInputElement) => {
      const canvas = document.querySelector('[data-testid=canvas]') as HTMLCanvasElement;
      const middle = (Number(slider.min) + Number(slider.max)) / 2;
      const since = performance.now();
      for (let turn = 0; canvas.dataset.followed !== '4' && performance.now() - since < 30_000; turn++) {
        slider.value = String(middle + 0.3 * middle * Math.sin(turn / 20));
        slider.dispatchEvent(new Event('input', { bubbles: true }));
        await new Promise((resolve) => setTimeout(resolve, 4));
      }
      slider.dispatchEvent(new Event('change', { bubbles: true }));
      return canvas.dataset.followed;
    });
    expect(followed).toBe('4');
    // At rest it is what it is when it is drawn anew.
    await page.mouse.move(640, 20);
    await settle(page);
    const after = await page.getByTestId('canvas').screenshot();
    await page.getByRole('radio', { name: 'Grey', exact: true }).click();
    await settle(page);
    await page.getByRole('radio', { name: 'Picture', exact: true }).click();
    await settle(page);
    expect((await page.getByTestId('canvas').screenshot()).equals(after)).toBe(true);
    await page.keyboard.press('Control+z');
    await expect.poll(() => resultAt(LAKE)).toEqual(before);
  });

  it('has its dust found and covered by what is near it, and a bird by another frame', async () => {
    const { page } = visit;
    const covered = () => button(/^Spot at/).evaluateAll((all) => all.map((each) => each.getAttribute('aria-label')));
    const BIRD: Place = [0.4, 0.2];
    await part(/^Spots/);
    await settle(page);
    await button('Find dust').click();
    // As it lies on the sensor of the demo's camera, in pixels.
    const specks = [
      [276, 320],
      [1056, 128],
      [1032, 1224],
    ];
    const said = page.getByText(/^Visit \d+ of \d+/);
    await said.waitFor();
    const places = Number((await said.textContent())?.match(/of (\d+)/)?.[1]);
    for (let n = 1; n <= places; n++) {
      await page.getByText(`Visit ${n} of ${places}`).waitFor();
      await page.getByTestId('dust-ring').waitFor();
      await button('Cover it').click();
      await expect.poll(async () => (await covered()).length).toBe(n);
    }
    await said.waitFor({ state: 'hidden' });
    const found = (await covered()).map((name) => (name?.match(/\d+/g) ?? []).map(Number));
    for (const [x, y] of specks) expect(found.some(([u, v]) => Math.hypot(u - x, v - y) < 8)).toBe(true);
    const [speck, left, right] = [
      sum(await resultAt([0.115, 0.2])),
      sum(await resultAt([0.1, 0.2])),
      sum(await resultAt([0.13, 0.2])),
    ];
    expect((2 * speck) / (left + right)).toBeCloseTo(1, 1);
    await button('Find dust').click();
    await page.getByText('Nothing was found that stands at one place').waitFor();

    // In the view for seeing spots, which no step brightens.
    await button('See spots').click();
    const darkest = async () => {
      await settle(page);
      const [x, y] = await onPicture(page, ...BIRD);
      const shot = await page.screenshot({ clip: { x: x - 6, y: y - 3, width: 12, height: 6 } });
      return Math.min(...(await sharp(shot).removeAlpha().raw().toBuffer()));
    };
    await page.mouse.move(...(await onPicture(page, ...SHORE)));
    expect(await darkest()).toBeLessThan(70);
    await page.getByRole('radio', { name: 'Other frame' }).click();
    expect(
      await page
        .getByLabel('Frame', { exact: true })
        .evaluate((field: HTMLSelectElement) => field.selectedOptions[0].text),
    ).toBe('−2 EV');
    await click(BIRD);
    await expect.poll(async () => (await covered()).length).toBe(places + 1);
    await button(/^\d+ · from −2 EV$/).waitFor();
    await page.mouse.move(...(await onPicture(page, ...SHORE)));
    expect(await darkest()).toBeGreaterThan(70);
    await button('See spots').click();
    // Left of the divider is the blend, with its spots: not its base, in which the bird still flies.
    await part(/^Steps/);
    await button(/^The blend/).click();
    await page.keyboard.press('d');
    await page.getByText('Before: the blend').waitFor();
    expect(await darkest()).toBeGreaterThan(70);
    await page.keyboard.press('d');
    await part(/^Spots/);
    await stroke(page, [
      [0.5, 0.3],
      [0.53, 0.31],
    ]);
    await expect.poll(async () => (await covered()).length).toBe(places + 2);
    const source = button(/^2 · healed/);
    await source.click();
    await page.getByRole('radio', { name: 'Clone' }).last().click();
    await settle(page);
    const fact = await page.getByTestId('spot-source').boundingBox();
    await page.getByTestId('spot-source').focus();
    for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowDown');
    expect((await page.getByTestId('spot-source').boundingBox())?.y).toBeGreaterThan(fact?.y ?? 0);
    await page.keyboard.press('Delete');
    await expect.poll(async () => (await covered()).length).toBe(places + 1);
    await page.keyboard.press('Control+z');
    await expect.poll(async () => (await covered()).length).toBe(places + 2);
  });

  it('is straightened along a line, tilted by lines, cropped to a ratio, and told by the trail', async () => {
    const { page } = visit;
    await part(/^Turn and crop/);
    await settle(page);
    await button('Along a line…').click();
    const box = await page.getByTestId('canvas').boundingBox();
    if (!box) throw new Error('no canvas');
    const at = (u: number, v: number): [number, number] => [box.x + box.width * u, box.y + box.height * v];
    const drag = async (from: Place, to: Place) => {
      await page.mouse.move(...at(...from));
      await page.mouse.down();
      await page.mouse.move(...at(...to), { steps: 6 });
      await page.mouse.up();
    };
    await drag([0.3, 0.5], [0.7, 0.52]);
    const panel = page.getByLabel('Turn and crop', { exact: true }).last();
    const straighten = panel.getByLabel('Straighten, typed', { exact: true });
    await expect.poll(async () => Math.abs(Number(await straighten.inputValue()))).toBeGreaterThan(1);
    await button('16:9').click();
    await expect.poll(() => page.getByTestId('crop-fact').textContent()).toContain('16:9');
    await page.getByRole('link', { name: /^Finish 16:9/ }).waitFor();
    const frame = await page.getByTestId('crop-frame').boundingBox();
    await page.getByTestId('crop-lower-right').focus();
    for (let i = 0; i < 6; i++) await page.keyboard.press('ArrowLeft');
    const smaller = await page.getByTestId('crop-frame').boundingBox();
    expect(smaller?.width).toBeLessThan(frame?.width ?? 0);
    await expect.poll(() => page.getByTestId('crop-fact').textContent()).toContain('16:9');
    // Lines that cross say so and turn nothing.
    await button(/^Uprights…/).click();
    await drag([0.4, 0.3], [0.6, 0.7]);
    await drag([0.6, 0.3], [0.4, 0.7]);
    const now = await straighten.inputValue();
    await button('Put right').click();
    await page.getByText(/lines cross/).waitFor();
    expect(await straighten.inputValue()).toBe(now);
    await button('Forget').click();
  });

  it('is painted on through the turned and cropped picture, where the pointer is', async () => {
    const { page } = visit;
    await part(/^Steps/);
    await button('Select layer Dodge, burn').click();
    await settle(page);
    const box = await page.getByTestId('canvas').boundingBox();
    if (!box) throw new Error('no canvas');
    const middle: [number, number] = [box.x + box.width / 2, box.y + box.height / 2];
    const mask = async () => {
      await page.mouse.move(middle[0] + 3, middle[1]);
      await page.mouse.move(...middle);
      await settle(page);
      return Number.parseFloat((await page.getByTestId('probe-mask').locator('td').textContent()) ?? '');
    };
    const before = await mask();
    await page.getByRole('radio', { name: 'Dodge' }).click();
    await page.mouse.move(...middle);
    await page.mouse.down();
    await page.mouse.move(middle[0] + 8, middle[1], { steps: 4 });
    await page.mouse.up();
    await expect.poll(mask).toBeGreaterThan(before + 5);
  });

  it('comes back after undoing all of it and doing it again, and after a reload', async () => {
    const { page } = visit;
    const trail = page.getByRole('link', { name: /^Finish/ });
    const text = await trail.textContent();
    const shown = await resultAt(LAKE);
    let undone = 0;
    for (; await button('Undo').isEnabled(); undone++) await page.keyboard.press('Control+z');
    await expect.poll(() => trail.textContent()).toContain('as blended');
    for (let i = 0; i < undone; i++) await page.keyboard.press('Control+Shift+Z');
    await expect.poll(() => trail.textContent()).toBe(text);
    await settle(page);
    expect(await resultAt(LAKE)).toEqual(shown);
    await page.waitForTimeout(900);
    await page.reload();
    await page.getByTestId('canvas').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    await settle(page);
    await expect.poll(() => trail.textContent()).toBe(text);
    await expect.poll(() => resultAt(LAKE)).toEqual(shown);
  });

  it('keeps its steps as a set, and a file that is none says so', async () => {
    const { page } = visit;
    await button('Sets…').click();
    await page.getByLabel('Save the steps of this picture as').fill('evening');
    await button('Save').click();
    await button('Lay evening over this picture').waitFor();
    const file = await downloaded(page, () => button('Write evening to a file').click());
    expect(file.suggestedFilename()).toBe('evening.lusket-steps.json');
    const bad = { name: 'bad.json', mimeType: 'application/json', buffer: Buffer.from('{"lusketSteps": 99}') };
    await page.getByLabel('File of steps').setInputFiles(bad);
    await page.getByText(/newer Lusket/).waitFor();
    await button('Lay evening over this picture').click();
    await expect.poll(steps).toBe(10);
    await page.keyboard.press('Control+z');
    await expect.poll(steps).toBe(5);
  });

  it('shows how it will look elsewhere, and refuses a profile that is none', async () => {
    const { page } = visit;
    await button('Proof…').click();
    await page.getByLabel('Show the picture as on').check();
    await page.getByText('It has all colours of the picture.').waitFor();
    await page.getByTestId('proof').waitFor();
    const bad = { name: 'none.icc', mimeType: 'application/octet-stream', buffer: Buffer.from('no profile') };
    await page.getByLabel('Profile file').setInputFiles(bad);
    await page.getByText(/none\.icc is no ICC profile/).waitFor();
    await page.getByLabel('Profile file').setInputFiles('/usr/share/color/icc/colord/AdobeRGB1998.icc');
    await page.getByText(/^It has/).waitFor();
    await page.getByLabel('Show the picture as on').uncheck();
    await page.getByTestId('proof').waitFor({ state: 'hidden' });
    await page.keyboard.press('Escape');
  });

  it('exports what the command line renders, bit for bit', { timeout: 120_000 }, async () => {
    expect(await rendersAlike(visit.page, 'Tarn')).toBe(true);
    expect(visit.problems).toEqual([]);
  });

  it('lends its steps to another scene', async () => {
    const { page } = visit;
    await page.goto(visit.harness.address);
    await button('Demo: Viaduct').click();
    await page.getByTestId('frame-viaduct-7.jpg').waitFor();
    await page.getByText('Reading').waitFor({ state: 'hidden' });
    await page.getByRole('link', { name: /^Finish/ }).click();
    await page.getByTestId('canvas').waitFor();
    await button('Sets…').click();
    const scenes = page.getByLabel('Steps of another scene');
    await expect.poll(() => scenes.textContent()).toMatch(/^Tarn · 5 steps$/);
    await button('Lay the steps of that scene over this picture').click();
    await expect.poll(steps).toBe(5);
    await settle(page);
    await page.keyboard.press('Control+z');
    await expect.poll(steps).toBe(0);
    expect(visit.problems).toEqual([]);
  });
});
