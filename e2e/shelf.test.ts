import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { goToBlend, openDemo, openPage, probeAt, savedScene, stroke, visitOnce } from './harness.ts';

const folder = mkdtempSync(join(tmpdir(), 'lusket-shelf-'));
const visit = visitOnce();

async function made(
  name: string,
  width: number,
  height: number,
  ending: 'png' | 'tiff' | 'jpeg',
  tone: number,
): Promise<string> {
  const path = join(folder, name);
  await sharp({ create: { width, height, channels: 3, background: { r: tone, g: tone, b: tone } } })
    .toFormat(ending)
    .toFile(path);
  return path;
}

describe('gathering files', () => {
  it('takes what can be read and says of the rest what is wrong', async () => {
    const good = await Promise.all([
      made('one.png', 300, 200, 'png', 40),
      made('two.tif', 300, 200, 'tiff', 90),
      made('three.jpg', 300, 200, 'jpeg', 160),
    ]);
    const other = await made('other size.png', 310, 200, 'png', 10);
    const whole = readFileSync(await made('whole.jpg', 300, 200, 'jpeg', 77));
    const cut = join(folder, 'cut.jpg');
    writeFileSync(cut, whole.subarray(0, whole.length / 2));
    const empty = join(folder, 'empty.png');
    writeFileSync(empty, '');
    const text = join(folder, 'text.tif');
    writeFileSync(text, 'this is no picture');
    await visit.page.getByTestId('choose-frames').setInputFiles([...good, other, cut, empty, text]);
    const list = visit.page.getByRole('alert', { name: 'Files left out' });
    await list.waitFor();
    await visit.page.getByText('Reading').waitFor({ state: 'hidden' });
    await visit.page.getByTestId('frame-three.jpg').waitFor();
    const said = (await list.textContent()) ?? '';
    expect(said).toMatch(/other size\.png.*another size.*310 x 200, not 300 x 200/);
    expect(said).toMatch(/cut\.jpg.*damaged/);
    expect(said).toMatch(/empty\.png.*empty/);
    expect(said).toMatch(/text\.tif.*cannot read this kind of file/);
    await expect.poll(() => visit.page.getByRole('list', { name: 'Frames' }).locator('li').count()).toBe(3);
    // 310 x 200 has other proportions than 300 x 200: it is tried, and then refused for good.
    await visit.page.getByRole('button', { name: 'Fit the one of another size by scaling' }).click();
    await list.getByText('other proportions').waitFor();
    await visit.page.getByRole('button', { name: 'Understood' }).click();
    await visit.page.getByTestId('add-frames').setInputFiles(await made('larger.png', 450, 300, 'png', 10));
    await visit.page.getByRole('button', { name: 'Fit the one of another size by scaling' }).click();
    await visit.page.getByTestId('frame-larger.png').waitFor();
    await visit.page.getByTestId('frame-larger.png').getByRole('button', { name: 'More for this frame' }).click();
    await visit.page.getByRole('menuitem', { name: 'Remove frame' }).click();
    // Nothing in the files tells how they were exposed: it is estimated from the pictures, and marked as such.
    await expect
      .poll(() => visit.page.getByTestId('frame-three.jpg').getByLabel('Label of the frame').inputValue())
      .toMatch(/^≈ \+/);
  });

  it('tells of a frame that is there already, and takes frames out and back', async () => {
    await visit.page.getByTestId('add-frames').setInputFiles(join(folder, 'one.png'));
    await visit.page.getByText('in the scene already').waitFor();
    await visit.page.getByRole('button', { name: 'Understood' }).click();
    await visit.page.getByTestId('frame-one.png').getByRole('button', { name: 'More for this frame' }).click();
    await visit.page.getByRole('menuitem', { name: 'Remove frame' }).click();
    await expect.poll(() => visit.page.getByRole('list', { name: 'Frames' }).locator('li').count()).toBe(2);
    await visit.page.getByRole('button', { name: 'Undo' }).last().click();
    await visit.page.getByTestId('frame-one.png').waitFor();
    // The next story leaves the page, and a later one looks for the scene with what came back.
    await visit.page.getByText('Saved', { exact: true }).waitFor();
  });

  it('takes files that are dropped, and puts frames in order of exposure', async () => {
    await visit.page.goto(visit.harness.address);
    await visit.page.evaluate(async () => {
      const data = new DataTransfer();
      for (const name of ['tarn-4.jpg', 'tarn-2.jpg', 'tarn-1.jpg', 'tarn-3.jpg']) {
        const answer = await fetch(`/demo/tarn/${name}`);
        data.items.add(new File([await answer.blob()], name));
      }
      const target = document.querySelector('[data-testid=choose-frames]') as HTMLElement;
      target.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }));
    });
    await visit.page.getByTestId('frame-tarn-3.jpg').waitFor();
    await visit.page.getByText('Reading').waitFor({ state: 'hidden' });
    const frames = visit.page.getByRole('list', { name: 'Frames', exact: true }).locator('[data-frame]');
    const names = () =>
      frames.evaluateAll((cards) => cards.map((card) => (card as HTMLElement).dataset.testid?.slice('frame-'.length)));
    expect(await names()).toEqual(['tarn-4.jpg', 'tarn-2.jpg', 'tarn-1.jpg', 'tarn-3.jpg']);
    await visit.page.getByRole('radio', { name: 'Exposure' }).click();
    await expect.poll(names).toEqual(['tarn-1.jpg', 'tarn-2.jpg', 'tarn-3.jpg', 'tarn-4.jpg']);
    expect(await frames.getByText('Base', { exact: true }).count()).toBe(4); // three buttons, and the mark of the base
    await visit.page.getByText('Saved').waitFor();
  });

  it('can be stopped while it reads', async () => {
    await visit.page.goto(visit.harness.address);
    const noise = Buffer.from(Uint8Array.from({ length: 5000 * 3000 * 3 }, (_, i) => (i * 2654435761) >>> 24));
    const big = join(folder, 'big.png');
    await sharp(noise, { raw: { width: 5000, height: 3000, channels: 3 } })
      .png({ compressionLevel: 1 })
      .toFile(big);
    await visit.page.getByTestId('choose-frames').setInputFiles(big);
    await visit.page.getByRole('button', { name: 'Stop' }).click();
    await visit.page.getByText('Reading').waitFor({ state: 'hidden' });
    expect(await visit.page.getByText('No frames yet').count()).toBe(1);
    expect(await visit.page.getByRole('alert').count()).toBe(0);
  });
});

describe('the shelf of scenes', () => {
  it('renames, duplicates, deletes and brings back', async () => {
    await visit.page.goto(visit.harness.address);
    const card = visit.page.getByRole('list', { name: 'Scenes' }).locator('li').filter({ hasText: '3 frames' });
    await card.getByRole('button', { name: 'Rename' }).click();
    await visit.page.getByLabel('Name of the scene').fill('Grey fields');
    await visit.page.getByLabel('Name of the scene').press('Enter');
    await visit.page.getByTestId('scene-Grey fields').getByRole('button', { name: 'Duplicate' }).click();
    const copy = visit.page.getByTestId('scene-Grey fields copy');
    await copy.waitFor();
    await copy.getByRole('button', { name: 'Delete' }).click();
    await copy.waitFor({ state: 'detached' });
    await visit.page.getByRole('button', { name: 'Restore' }).click();
    await copy.waitFor();
    await copy.getByRole('link').first().click();
    await visit.page.getByTestId('canvas').waitFor();
    await expect.poll(() => visit.page.title()).toMatch(/Grey fields copy/);
  });

  it('opens a scene file as a new scene with the same picture', async () => {
    await visit.page.goto(visit.harness.address);
    await openDemo(visit.page);
    await goToBlend(visit.page);
    await visit.page.getByRole('button', { name: 'Select layer −2 EV' }).click();
    await stroke(visit.page, [
      [0.2, 0.3],
      [0.8, 0.3],
    ]);
    const before = await probeAt(visit.page, 0.5, 0.3);
    expect(before.Mask[0]).toBeGreaterThan(20);
    const path = join(folder, 'tarn.lusket');
    await (await savedScene(visit.page, 'Save Tarn.lusket')).saveAs(path);

    const fresh = await openPage(visit.harness);
    await fresh.page.getByTestId('open-scene-file').setInputFiles(path);
    await fresh.page.getByTestId('canvas').waitFor();
    await fresh.page.getByText('Reading').waitFor({ state: 'hidden' });
    expect(await probeAt(fresh.page, 0.5, 0.3)).toEqual(before);

    await fresh.page.goto(visit.harness.address);
    writeFileSync(join(folder, 'broken.lusket'), readFileSync(path).subarray(0, 5000));
    await fresh.page.getByTestId('open-scene-file').setInputFiles(join(folder, 'broken.lusket'));
    await fresh.page.getByText('This is not a Lusket scene file').waitFor();
    expect(await fresh.page.getByRole('list', { name: 'Scenes' }).locator('li').count()).toBe(1);
    expect(fresh.problems).toEqual([]);
    await fresh.context.close();
  });

  it('lists a scene as it was left a moment ago, with its picture', async () => {
    await visit.page.goto(visit.harness.address);
    await openDemo(visit.page);
    await visit.page.getByLabel('Name of the scene').fill('Left quickly');
    await visit.page.getByLabel('Name of the scene').press('Enter');
    await visit.page.getByRole('link', { name: 'Lusket' }).click();
    const card = visit.page.getByTestId('scene-Left quickly');
    await card.waitFor();
    await card.locator('img').waitFor();
    expect(await card.textContent()).toContain('5 frames');
  });

  it('had no error on the page all the while', () => {
    expect(visit.problems).toEqual([]);
  });
});

describe('without isolation', () => {
  it('the page says what is missing and how to get it', async () => {
    const plain: Server = createServer(async (request, response) => {
      const answer = await fetch(visit.harness.address + request.url);
      response.writeHead(answer.status, { 'content-type': answer.headers.get('content-type') ?? 'text/plain' });
      response.end(Buffer.from(await answer.arrayBuffer()));
    });
    await new Promise<void>((resolve) => plain.listen(0, '127.0.0.1', resolve));
    const bare = await visit.harness.browser.newPage();
    await bare.goto(`http://127.0.0.1:${(plain.address() as AddressInfo).port}/`);
    await bare.getByText('Lusket cannot run here yet').waitFor();
    expect(await bare.getByRole('alert').textContent()).toMatch(/npm run demo/);
    await bare.close();
    plain.close();
  });
});
