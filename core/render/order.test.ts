import { describe, expect, it } from 'vitest';
import { edit, nodeOf, resultOf } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { encodeSrgb } from '../color/srgb.ts';
import { newTonePart } from '../parts/tone.ts';
import { levelSize } from '../raster/size.ts';
import { AT_REST } from '../refinements/list.ts';
import { addPart, setRefinement } from '../scene/edits/masks.ts';
import { layersOfFrame } from '../scene/tree.ts';
import { limitOf } from './nodes/orderNode.ts';

const size = { width: 420, height: 300 };
const HORIZON = 120;

/** Evening: a sky, and a sea with waves that is darker than it; exposed by stops. */
const evening =
  (stops: number): PixelSource =>
  (x, y) => {
    const waves = 1 + 0.35 * Math.sin(x / 4 + 2 * Math.sin(y / 6)) * Math.cos(y / 3);
    const light = y < HORIZON ? 0.36 + 0.02 * Math.sin(x / 60) : 0.11 * waves;
    const code = Math.round(65535 * encodeSrgb(Math.min(1, light * 2 ** stops)));
    return [code, code, code];
  };

/** Mean light, and mean contrast from column to column, of a block of rows far from the horizon. */
function block(plane: Uint16Array, from: number, to: number) {
  let [sum, contrast, count] = [0, 0, 0];
  for (let y = from; y < to; y++)
    for (let x = 20; x < size.width - 20; x++, count++) {
      sum += plane[y * size.width + x] / 65535;
      contrast += Math.abs(plane[y * size.width + x + 2] - plane[y * size.width + x]) / 65535;
    }
  return { mean: sum / count, contrast: contrast / count };
}

describe('core fill', () => {
  const made = smallScene(size, [evening(-3), evening(0), evening(3)]);
  const whole = (node: ReturnType<typeof nodeOf>, level = 0) =>
    planeOfNode(node, 0, level, levelSize(size, level), made.context);
  /** The other frame over the base through the base's own tones, with its inside filled. */
  function filled(base: number, over: number, side: 'dark' | 'light', change: object, reach = 40) {
    const [layer] = layersOfFrame(made.scene, made.frameIds[over]);
    const bare = { ...made.scene, stack: [{ ...layer, visible: true }], base: made.frameIds[base] };
    const ends = side === 'dark' ? { to: 0.5, toShoulder: 0.08 } : { from: 0.5, fromShoulder: 0.08 };
    const part = { ...newTonePart('base'), side, narrowing: 1, ...ends };
    return edit(
      bare,
      addPart({ owner: layer.id, part }),
      setRefinement({
        owner: layer.id,
        part: null,
        change: { coreFill: { ...AT_REST.coreFill, amount: 1, reach, ...change } },
      }),
    );
  }
  const seaAndSky = (scene: ReturnType<typeof filled>) => {
    const plane = whole(resultOf(scene));
    return { sea: block(plane, 180, 290), sky: block(plane, 10, 80) };
  };

  it.each([12, 40, 150])('does not make a sea brighter than its sky, whose depth it gives back: reach %i', (reach) => {
    const free = seaAndSky(filled(1, 2, 'dark', { keepsOrder: false }, reach));
    const kept = seaAndSky(filled(1, 2, 'dark', {}, reach));
    const before = block(whole(nodeOf(made.scene, { what: 'frame', at: made.frameIds[1] })), 180, 290);
    expect(free.sea.mean).toBeGreaterThan(free.sky.mean);
    expect(kept.sea.mean).toBeLessThan(kept.sky.mean);
    expect(kept.sea.mean).toBeGreaterThan(before.mean);
    // Waves are not flattened to one light: as much contrast as in the base at the least.
    expect(kept.sea.contrast).toBeGreaterThan(before.contrast);
  });

  it('does not make a sky darker than its sea', () => {
    const [free, kept] = [{ keepsOrder: false }, {}].map((change) => seaAndSky(filled(1, 0, 'light', change)));
    expect(free.sky.mean).toBeLessThan(free.sea.mean);
    expect(kept.sky.mean).toBeGreaterThan(kept.sea.mean);
  });

  it('is not held back where no order is at stake', () => {
    // The darker frame on what is dark already.
    const [free, kept] = [{ keepsOrder: false }, {}].map((change) => whole(resultOf(filled(1, 0, 'dark', change))));
    expect(kept).toEqual(free);
  });

  it('fills evenly, has no seams between tiles, and is the same at every level', () => {
    const scene = filled(1, 2, 'dark', {});
    const at = scene.stack[0].id;
    const [plain, limited] = [
      edit(scene, setRefinement({ owner: at, part: null, change: { coreFill: AT_REST.coreFill } })),
      scene,
    ].map((each) => whole(nodeOf(each, { what: 'mask', at })));
    // Far inside the mask's own waves are gone: one coverage holds the sea as it is.
    const inside = limited.filter((_, i) => Math.floor(i / size.width) > 200);
    expect(Math.max(...inside) - Math.min(...inside)).toBeLessThan(0.06 * 65535);
    const extra = limited.map((value, i) => value - plain[i]);
    const step = (x: number) => {
      let sum = 0;
      for (let y = 150; y < 280; y++) sum += Math.abs(extra[y * size.width + x] - extra[y * size.width + x - 1]);
      return sum;
    };
    const usual = [120, 140, 200, 230].map(step).reduce((a, b) => a + b) / 4;
    for (const x of [128, 256]) expect(step(x)).toBeLessThan(2 * usual + 2000);
    const coarse = whole(nodeOf(scene, { what: 'mask', at }), 1);
    for (let y = 100; y < 140; y += 7)
      for (let x = 10; x < 200; x += 13)
        expect(Math.abs(coarse[y * 210 + x] - limited[2 * y * size.width + 2 * x])).toBeLessThan(0.09 * 65535);
  });

  it('is limited by the light around it, and by nothing else', () => {
    // Half way up is as bright as outside, but for a margin.
    expect(limitOf(0.3, 0.9, 0.6)).toBeCloseTo(0.48, 9);
    expect(limitOf(0.7, 0.1, 0.4)).toBeCloseTo(0.48, 9);
    // It does not get there, goes the other way, or there is no telling which is darker.
    for (const [below, layer, outside] of [
      [0.3, 0.5, 0.6],
      [0.3, 0.1, 0.6],
      [0.5, 0.9, 0.51],
    ])
      expect(limitOf(below, layer, outside)).toBe(1);
  });
});
