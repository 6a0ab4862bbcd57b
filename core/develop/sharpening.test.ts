import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { nodeOf } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { developFrames } from '../scene/edits/developing.ts';
import { applyEdit } from '../scene/edits/index.ts';

const size = { width: 300, height: 120 };
const random = alea('sharp');
const grain = Float64Array.from({ length: size.width * size.height }, () => 0.004 * (random() - 0.5));
const at = (x: number, y: number) => y * size.width + x;
/** Flat but for a little noise, with a soft edge in the middle. */
const toneAt = (x: number, y: number) => 0.3 + 0.4 / (1 + Math.exp(-(x - 150))) + grain[at(x, y)];
const made = smallScene(size, [
  (x, y) => {
    const tone = toneAt(x, y);
    return [tone, tone * 0.9, tone * 0.8].map((value) =>
      Math.round(65535 * value),
    ) as unknown as ReturnType<PixelSource>;
  },
]);
const [id] = made.frameIds;

function planesOf(sharpening: { amount: number; radius: number; flat: number }): Float64Array[] {
  const scene = applyEdit(made.scene, developFrames({ frameIds: [id], change: { sharpening } }));
  const node = nodeOf(scene, { what: 'result' });
  return [0, 1, 2].map((plane) => Float64Array.from(planeOfNode(node, plane, 0, size, made.context), (v) => v / 65535));
}
const before = planesOf({ amount: 0, radius: 1, flat: 0.01 });
const brightness = (planes: readonly Float64Array[], x: number, y: number) =>
  (planes[0][at(x, y)] + 2 * planes[1][at(x, y)] + planes[2][at(x, y)]) / 4;

describe('sharpening', () => {
  const after = planesOf({ amount: 1, radius: 1.5, flat: 0.01 });

  it('makes an edge steeper, and leaves what is flat alone, noise and all', () => {
    const slope = (planes: readonly Float64Array[]) => brightness(planes, 151, 60) - brightness(planes, 149, 60);
    expect(slope(after)).toBeGreaterThan(1.15 * slope(before));
    for (let x = 10; x < 110; x += 7)
      for (let y = 10; y < 110; y += 7) expect(after[1][at(x, y)]).toBeCloseTo(before[1][at(x, y)], 6);
  });

  it('is what it is, worked out plainly', () => {
    const [amount, flat, sigma] = [0.8, 0.002, 1.3];
    const planes = planesOf({ amount, radius: sigma, flat });
    const blurred = (of: (x: number, y: number) => number, x: number, y: number, deviation: number) => {
      const reach = Math.ceil(3 * deviation);
      let [sum, mass] = [0, 0];
      for (let dy = -reach; dy <= reach; dy++)
        for (let dx = -reach; dx <= reach; dx++) {
          const weight = Math.exp(-(dx * dx + dy * dy) / (2 * deviation * deviation));
          sum += weight * of(x + dx, y + dy);
          mass += weight;
        }
      return sum / mass;
    };
    const own = (x: number, y: number) =>
      brightness(before, Math.min(size.width - 1, Math.max(0, x)), Math.min(size.height - 1, Math.max(0, y)));
    const detail = (x: number, y: number) => own(x, y) - blurred(own, x, y, sigma);
    for (const [x, y] of [
      [147, 60],
      [154, 3],
      [60, 60],
      [297, 117],
    ]) {
      const energy = Math.sqrt(blurred((px, py) => detail(px, py) ** 2, x, y, 1.5 * sigma));
      const t = Math.min(1, Math.max(0, energy / flat - 0.5));
      const change = amount * t * t * (3 - 2 * t) * detail(x, y);
      for (const plane of [0, 1, 2])
        expect(Math.abs(planes[plane][at(x, y)] - (before[plane][at(x, y)] + change)), `${x}, ${y}`).toBeLessThan(1e-4);
    }
  });
});
