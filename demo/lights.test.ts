import { describe, expect, it } from 'vitest';
import { type DifferencePart, difference, LIGHTS_FROM } from '#core/parts/difference.ts';
import { compilePlan } from '#core/render/plan/plan.ts';
import type { TileNode } from '#core/render/tiles/renderContext.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import { planeOfNode, smallScene } from '../tests/smallScene.ts';
import { expose, STILL } from './camera/camera.ts';
import type { RadianceCanvas } from './radiance/canvas.ts';
import { radianceOfViaduct } from './radiance/viaduct/viaduct.ts';
import { DEMO_SETS } from './sets.ts';

const size = { width: 900, height: 600 };
const UNLIT = { lamps: 0, windows: 0, dial: 0 };
const shots = DEMO_SETS.find(({ name }) => name === 'viaduct')?.shots ?? [];
const quiet = () => undefined;
const lightOf = (shot: number, lights?: typeof UNLIT) => radianceOfViaduct(size.width, 1, quiet, shot, lights);

/** How many times brighter each place is with its lights than without. */
function gains(lit: RadianceCanvas, unlit: RadianceCanvas): Float64Array {
  const brightest = ({ rgb }: RadianceCanvas, i: number) => Math.max(rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]);
  return Float64Array.from({ length: size.width * size.height }, (_, i) => brightest(lit, i) / brightest(unlit, i));
}

describe('lights that came on between two frames of Viaduct', () => {
  // Trams pass in frames 3 and 5, whose trails are lights as well.
  it.each([
    [0, 5],
    [0, 3],
    [1, 3],
  ])('are found between frames %i and %i, and no sky, water or stone', { timeout: 60_000 }, (before, after) => {
    const [first, second] = [lightOf(before), lightOf(after)];
    const [gainBefore, gainAfter] = [gains(first, lightOf(before, UNLIT)), gains(second, lightOf(after, UNLIT))];
    const frames = [first, second].map((light, k) =>
      expose(light, { ...shots[[before, after][k]], placement: STILL }, quiet),
    );
    const made = smallScene(
      size,
      frames.map((samples) => (x, y) => {
        const at = 3 * (y * size.width + x);
        return [samples[at], samples[at + 1], samples[at + 2]];
      }),
    );
    const [base, frame] = made.frameIds;
    const begun = difference.begin?.({ size, base, frame, otherMask: undefined }) as DifferencePart;
    const recipe = maskOfParts([{ ...begun, mode: 'lights', ...LIGHTS_FROM }]);
    const request = { what: 'recipe', recipe, at: made.scene.stack[0].id } as const;
    const node = compilePlan(made.scene)?.node(request) as TileNode;
    const plane = planeOfNode(node, 0, 0, size, made.context);

    const coveredOf = (isMeant: (gain: number, at: number) => boolean): number => {
      let [all, covered] = [0, 0];
      plane.forEach((value, at) => {
        if (!isMeant(gainAfter[at], at)) return;
        all++;
        if (value >= 32768) covered++;
      });
      expect(all).toBeGreaterThan(1000);
      return covered / all;
    };
    const waterline = 0.604 * size.height * size.width;
    expect(coveredOf((gain, at) => at < waterline && gain > 3 && gainBefore[at] < 1.2)).toBeGreaterThan(0.9);
    expect(coveredOf((gain, at) => at < waterline && gain < 1.1)).toBeLessThan(0.03);
    expect(coveredOf((gain, at) => at >= waterline && gain < 1.1)).toBeLessThan(0.03);
  });
});
