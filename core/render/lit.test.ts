import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { clamp, nodeOf, size } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { decodeSrgb, encodeSrgb } from '../color/srgb.ts';
import { type DifferencePart, difference } from '../parts/difference.ts';
import { levelSize } from '../raster/size.ts';
import { maskOfParts } from '../scene/mask.ts';

/** A town before and after its lights come on, while dusk dims its sky by more than its ground. */
function dusk(seed: string): { before: PixelSource; after: PixelSource } {
  const random = alea(seed);
  const lamps = Array.from({ length: 25 }, () => [random() * size.width, random() * size.height, 1 + 4 * random()]);
  const phase = random() * 9;
  const toneAt = (x: number, y: number) =>
    (y < 90 + 12 * Math.sin(x / 17 + phase) ? 32000 : 9000) * (1 + 0.3 * Math.sin(x / 5 + phase) * Math.cos(y / 7));
  const rgb = (code: number, tint: number): [number, number, number] => [
    clamp(code),
    clamp(code * 0.9),
    clamp(code * tint),
  ];
  return {
    before: (x, y) => rgb(toneAt(x, y), 0.8),
    after: (x, y) => {
      const isLit = lamps.some(([cx, cy, radius]) => Math.hypot(x - cx, y - cy) < radius);
      const tone = toneAt(x, y);
      return rgb(isLit ? 52000 : tone * (tone > 18000 ? 0.55 : 0.8), 0.7);
    },
  };
}

/** The same in doubles at full size, straight from the description: the change of each place in stops, fitted to the tones before in
 * windows, three times over without what stands out; how far the picture rises above what that leaves. */
function plainly(before: Uint16Array, after: Uint16Array, radius: number): Float64Array {
  const floor = decodeSrgb(0.06);
  const light = (code: number) => decodeSrgb(code / 65535) + floor;
  const change = Float64Array.from(before, (code, i) => Math.log2(light(after[i]) / light(code)));
  const guide = Float64Array.from(before, (code) => code / 65535);
  const { width, height } = size;
  /** Means along a row or a column, of what the picture has of a window. */
  const along = (of: (at: number) => number, [length, step]: readonly [number, number]) =>
    Float64Array.from({ length: width * height }, (_, at) => {
      const place = Math.floor(at / step) % length;
      const [from, to] = [Math.max(0, place - radius), Math.min(length - 1, place + radius)];
      let sum = 0;
      for (let near = from; near <= to; near++) sum += of(at + (near - place) * step);
      return sum / (to - from + 1);
    });
  const mean = (of: (at: number) => number) => {
    const rows = along(of, [width, 1]);
    return along((at) => rows[at], [height, width]);
  };
  const [meanGuide, meanSquare] = [mean((at) => guide[at]), mean((at) => guide[at] ** 2)];
  const left = change.slice();
  let fitted = change;
  for (let round = 0; round < 3; round++) {
    const [meanLeft, meanBoth] = [mean((at) => left[at]), mean((at) => left[at] * guide[at])];
    const slope = meanBoth.map(
      (both, at) => (both - meanLeft[at] * meanGuide[at]) / (meanSquare[at] - meanGuide[at] ** 2 + 0.06 ** 2),
    );
    const offset = slope.map((each, at) => meanLeft[at] - each * meanGuide[at]);
    const [meanSlope, meanOffset] = [mean((at) => slope[at]), mean((at) => offset[at])];
    fitted = meanSlope.map((each, at) => each * guide[at] + meanOffset[at]);
    for (let at = 0; at < left.length; at++) left[at] = Math.min(left[at], fitted[at] + 0.25);
  }
  return fitted.map((stops, at) => {
    const expected = light(before[at]) * 2 ** stops - floor;
    return Math.max(0, after[at] / 65535 - encodeSrgb(Math.min(1, Math.max(0, expected))));
  });
}

describe('lights that came on', () => {
  // At a radius of 8 all is found at full size; beyond that at coarser levels, which lose what is finer.
  it.each([
    ['a', 8, 0.004],
    ['b', 8, 0.004],
    ['c', 24, 0.06],
  ])('are the same computed a second time in plain doubles: %s, around %i', (seed, around, most) => {
    const { before, after } = dusk(seed);
    const made = smallScene(size, [before, after]);
    const [first, second] = made.frameIds;
    const begun = difference.begin?.({ size, base: first, frame: second, otherMask: undefined }) as DifferencePart;
    const whole = (node: ReturnType<typeof nodeOf>, plane = 0) =>
      planeOfNode(node, plane, 0, levelSize(size, 0), made.context);
    const brightest = [first, second].map((at) => whole(nodeOf(made.scene, { what: 'frame', at })));
    // From nothing to full over the whole range: coverage is what was found.
    const part: DifferencePart = { ...begun, mode: 'lights', stops: 0, around, from: 0, shoulder: 1 };
    const recipe = maskOfParts([part]);
    const found = whole(nodeOf(made.scene, { what: 'recipe', recipe, at: made.scene.stack[0].id }));
    const expected = plainly(brightest[0], brightest[1], around);
    // The shoulder is a smooth step, which is turned back here.
    const smooth = (t: number) => t * t * (3 - 2 * t);
    const edge = 2 * around + 2;
    let worst = 0;
    for (let y = edge; y < size.height - edge; y++)
      for (let x = edge; x < size.width - edge; x++) {
        const at = y * size.width + x;
        worst = Math.max(worst, Math.abs(found[at] / 65535 - smooth(Math.min(1, expected[at]))));
      }
    expect(worst).toBeLessThan(most);
    expect(Math.max(...expected)).toBeGreaterThan(0.3);
  });
});
