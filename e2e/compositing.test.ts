import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { mixThroughMask } from '#core/kernels/composite.ts';
import { type Harness, startHarness } from './harness.ts';

let harness: Harness;
beforeAll(async () => {
  harness = await startHarness();
});
afterAll(() => harness.close());

const COUNT = 4096;

/** Made 8-bit samples that no formula of ours produced. */
const made = (seed: number) =>
  Uint8Array.from({ length: COUNT }, (_, i) => (Math.imul(i + 1, 2654435761 + seed * 40503) >>> 13) & 255);

describe('source-over through a mask', () => {
  it("agrees with the browser's own canvas compositing within 1/255", async () => {
    const [lower, upper, mask] = [made(1), made(2), made(3)];
    const page = await harness.browser.newPage();
    const theirs = await page.evaluate(
      ({ below, above, alpha }) => {
        const canvas = (fill: (data: Uint8ClampedArray, i: number) => void) => {
          const made = new OffscreenCanvas(64, 64);
          const context = made.getContext('2d') as OffscreenCanvasRenderingContext2D;
          const image = context.createImageData(64, 64);
          for (let i = 0; i < 4096; i++) fill(image.data, i);
          context.putImageData(image, 0, 0);
          return { made, context };
        };
        const under = canvas((data, i) => data.set([below[i], below[i], below[i], 255], i * 4));
        const over = canvas((data, i) => data.set([above[i], above[i], above[i], alpha[i]], i * 4));
        under.context.drawImage(over.made, 0, 0);
        return Array.from(under.context.getImageData(0, 0, 64, 64).data).filter((_, i) => i % 4 === 0);
      },
      { below: [...lower], above: [...upper], alpha: [...mask] },
    );
    await page.close();
    const own = Float32Array.from(lower, (value) => value / 255);
    mixThroughMask(
      own,
      Uint16Array.from(upper, (value) => value * 257),
      Uint16Array.from(mask, (value) => value * 257),
      1,
    );
    for (let i = 0; i < COUNT; i++) expect(Math.abs(Math.round(own[i] * 255) - theirs[i])).toBeLessThanOrEqual(1);
  });
});
