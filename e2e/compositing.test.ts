import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { blendOver } from '#core/kernels/blendOver.ts';
import { mixThroughMask } from '#core/kernels/composite.ts';
import { MODES, modeNumber } from '#core/modes/list.ts';
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

/** What the trade has besides the standard's. */
const OWN: ReadonlySet<string> = new Set(['linear-burn', 'linear-light', 'vivid-light']);

describe('modes', () => {
  it.each([1, 0.6])(
    "agree with the browser's own canvas compositing within 1/255, at an opacity of %d",
    async (alpha) => {
      const [below, above] = [0, 3].map((seed) => [made(seed + 1), made(seed + 2), made(seed + 3)]);
      const page = await harness.browser.newPage();
      for (const mode of MODES.filter((name) => !OWN.has(name))) {
        const operation = { normal: 'source-over', 'plus-lighter': 'lighter' }[mode as string] ?? mode;
        const theirs = await page.evaluate(
          ({ under, over, operation, alpha }) => {
            const canvas = (planes: number[][]) => {
              const made = new OffscreenCanvas(64, 64);
              // In eight bits the browser rounds in between.
              const context = made.getContext('2d', {
                willReadFrequently: true,
                colorType: 'float16',
              } as never) as OffscreenCanvasRenderingContext2D;
              const image = context.createImageData(64, 64);
              for (let i = 0; i < 4096; i++) image.data.set([planes[0][i], planes[1][i], planes[2][i], 255], i * 4);
              context.putImageData(image, 0, 0);
              return { made, context };
            };
            const { context } = canvas(under);
            context.globalAlpha = alpha;
            context.globalCompositeOperation = operation as GlobalCompositeOperation;
            context.drawImage(canvas(over).made, 0, 0);
            return Array.from(context.getImageData(0, 0, 64, 64).data);
          },
          { under: below.map((plane) => [...plane]), over: above.map((plane) => [...plane]), operation, alpha },
        );
        const planes = (of: readonly Uint8Array[]) =>
          of.map((plane) => Float32Array.from(plane, (value) => value * 257)) as [
            Float32Array,
            Float32Array,
            Float32Array,
          ];
        const own = planes(below);
        blendOver(modeNumber(mode), own, planes(above), 65535, alpha, null, own);
        let worst = 0;
        for (let i = 0; i < COUNT; i++)
          for (const channel of [0, 1, 2] as const)
            worst = Math.max(worst, Math.abs(own[channel][i] / 257 - theirs[i * 4 + channel]));
        // A rounding of ours to eight bits, and theirs.
        expect(worst, mode).toBeLessThanOrEqual(1.5);
      }
      await page.close();
    },
  );
});
