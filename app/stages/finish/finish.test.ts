import { describe, expect, it } from 'vitest';
import { shiftMatrix } from '#core/align/placement.ts';
import { turningOf } from '#core/finish/turning.ts';
import { PLAIN_GEOMETRY } from '#core/scene/geometry.ts';
import { SCENE_ITSELF, turnedMap } from '../../bench/pictureMap.ts';
import { guideLines } from './guideLines.ts';
import { RATIOS, ratioKept, ratioOf, sayRatio } from './ratios.ts';

describe('ratios', () => {
  it('are called by their usual names, within a pixel or two', () => {
    for (const { label, value } of RATIOS)
      expect(sayRatio({ width: Math.floor(2000 * value), height: 2000 })).toBe(label);
    expect(sayRatio({ width: 2350, height: 1000 })).toBe('2.35:1');
  });

  it('are read as people type them', () => {
    expect(ratioOf('7:5')).toBeCloseTo(1.4, 9);
    expect(ratioOf(' 2,35 ')).toBeCloseTo(2.35, 9);
    expect(ratioOf('8 x 10')).toBeCloseTo(0.8, 9);
    for (const wrong of ['', 'wide', '3:', '3:0', '900:1', '-2']) expect(ratioOf(wrong)).toBeUndefined();
  });
});

describe('the ratio that a crop keeps', () => {
  const WIDE = { width: 1600, height: 900 };
  it('is the one that was chosen as long as the crop has it, turned or not', () => {
    expect(ratioKept(WIDE, true, 16 / 9)).toBe(16 / 9);
    expect(ratioKept({ width: 901, height: 1600 }, true, 16 / 9)).toBe(9 / 16);
    expect(ratioKept(WIDE, true, null)).toBeNull();
    // The crop was undone.
    expect(ratioKept({ width: 2400, height: 1600 }, false, 1)).toBeNull();
  });

  it('is that of a picture cropped before, if nothing was chosen yet', () => {
    expect(ratioKept(WIDE, true, undefined)).toBe(16 / 9);
    expect(ratioKept({ width: 1234, height: 1000 }, true, undefined)).toBeNull();
    expect(ratioKept({ width: 2400, height: 1600 }, false, undefined)).toBeNull();
  });
});

describe('guides', () => {
  const frame = { x: 10, y: 20, width: 300, height: 150 };
  it('divide a frame as they are called', () => {
    expect(guideLines('thirds', frame)[0]).toEqual({ x1: 110, y1: 20, x2: 110, y2: 170 });
    expect(guideLines('centre', frame)).toHaveLength(2);
    expect(guideLines('diagonals', frame)[1]).toEqual({ x1: 310, y1: 20, x2: 10, y2: 170 });
    // The smaller part is to the larger as that is to the whole.
    const [first] = guideLines('golden', frame);
    const [small, large] = [first.x1 - 10, 310 - first.x1];
    expect(small / large).toBeCloseTo(large / 300, 9);
    expect(guideLines('none', frame)).toEqual([]);
  });
});

describe('a map of a turned picture', () => {
  it('goes there and back, and knows how large things become', () => {
    const geometry = { ...PLAIN_GEOMETRY, straighten: 12, perspective: { vertical: 0.3, horizontal: -0.1 } };
    const map = turnedMap(turningOf(geometry, { width: 300, height: 200 }));
    for (const at of [
      { x: 10, y: 20 },
      { x: 150, y: 100 },
      { x: 299, y: 3 },
    ]) {
      const back = map.toScene(map.fromScene(at));
      expect(Math.hypot(back.x - at.x, back.y - at.y)).toBeLessThan(1e-6);
    }
    expect(map.scaleAt({ x: 150, y: 100 })).toBeGreaterThan(0.9);
    const region = map.regionFrom({ x: 100, y: 80, width: 20, height: 10 });
    const inner = map.fromScene({ x: 110, y: 85 });
    expect(inner.x > region.x && inner.x < region.x + region.width && inner.y > region.y).toBe(true);
  });

  it('counts from the corner, as canvases do', () => {
    expect(turnedMap(shiftMatrix(5, -3)).fromScene({ x: 1, y: 4 })).toEqual({ x: 6, y: 1 });
    expect(SCENE_ITSELF.regionFrom({ x: 1, y: 2, width: 3, height: 4 })).toEqual({ x: 1, y: 2, width: 3, height: 4 });
    expect(SCENE_ITSELF.scaleAt({ x: 0, y: 0 })).toBe(1);
  });
});
