import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { PLAIN_READING } from '#core/reading.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { setToneUse } from '#core/scene/edits/older.ts';
import type { Frame } from '#core/scene/frame.ts';
import { newScene } from '#core/scene/scene.ts';
import { startEngine } from '../engine/node/startEngine.ts';
import { goToBlend, type Harness, openDemo, openPage, probeAt, settle, startHarness, stroke } from './harness.ts';

const BUILT = new URL('../dist/node/', import.meta.url);
const NAMES = [1, 2, 3, 4, 5].map((n) => `tarn-${n}.jpg`);
const blobOf = async (name: string) => new Blob([await readFile(`demo/frames/tarn/${name}`)]);
const MEGABYTE = 2 ** 20;

/** The demo with tones laid as masks, rendered in a memory of some size, and how much of it lay outside. */
async function rendered(budgetBytes: number) {
  const { engine, codec, loader, close } = await startEngine(BUILT, budgetBytes);
  try {
    const frames: Frame[] = [];
    for (const name of NAMES)
      frames.push(
        await codec.load({ file: await blobOf(name), name, reading: PLAIN_READING }, frames[0], () => undefined),
      );
    let scene = applyEdit(newScene('Overflow'), addFrames({ frames }));
    for (const { id } of scene.stack) scene = applyEdit(scene, setToneUse({ layerId: id, use: 'mask' }));
    engine.setScene(scene);
    const image = await engine.render(
      { what: 'result' },
      frames[0],
      { x: 0, y: 0, width: frames[0].width, height: frames[0].height },
      'srgb',
      () => undefined,
    );
    const { moveable, resident } = loader.table.room;
    return { image, outside: moveable + resident > loader.table.slab.maxSlots };
  } finally {
    close();
  }
}

describe('frames larger than the memory, in Node', () => {
  it('render to the very same picture as in ample memory', async () => {
    const [ample, tight] = [await rendered(1024 * MEGABYTE), await rendered(100 * MEGABYTE)];
    expect(ample.outside).toBe(false);
    expect(tight.outside).toBe(true);
    const bytes = (image: Uint16Array | undefined) => Buffer.from(image?.buffer ?? new ArrayBuffer(0));
    expect(bytes(tight.image).length).toBe(2400 * 1600 * 6);
    expect(bytes(tight.image).equals(bytes(ample.image))).toBe(true);
  });

  it('are refused with the figures before they are decoded, when not even their coarse levels fit', async () => {
    await expect(rendered(16 * MEGABYTE)).rejects.toMatchObject({
      code: 'memory-full',
      detail: expect.stringMatching(/^0\.0 of [\d.]+ of [\d.]+$/),
    });
  });
});

describe('frames larger than the memory, in the browser', () => {
  let harness: Harness;
  beforeAll(async () => {
    harness = await startHarness();
  });
  afterAll(() => harness.close());

  it('are opened, shown and painted on like any others', async () => {
    // A device that says it has a fifth of a gigabyte, of which half may be taken.
    const { page, problems } = await openPage(harness, '/', () =>
      Object.defineProperty(navigator, 'deviceMemory', { value: 0.19 }),
    );
    await openDemo(page);
    await goToBlend(page);
    const sizes = await page.evaluate(async () => {
      const folder = await navigator.storage.getDirectory();
      const found: number[] = [];
      for await (const entry of (folder as unknown as { values(): AsyncIterable<FileSystemFileHandle> }).values())
        found.push((await entry.getFile()).size);
      return found;
    });
    expect(Math.max(...sizes)).toBeGreaterThan(MEGABYTE);
    await page.getByRole('button', { name: 'Select layer −2 EV' }).click();
    await stroke(page, [
      [0.2, 0.2],
      [0.8, 0.25],
    ]);
    await page.keyboard.press('z');
    await settle(page);
    const probe = await probeAt(page, 0.5, 0.22);
    expect(probe.Mask[0]).toBeGreaterThan(20);
    expect(probe.Result[0]).toBeLessThan(probe['0 EV'][0]);
    expect(problems).toEqual([]);
  });
});
