import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Stroke } from '#core/masks/stroke.ts';
import type { Region } from '#core/raster/size.ts';
import { newBenchState } from '../stores/benchState.ts';
import { type BrushPoint, BrushTool, brushIn } from './brushTool.ts';
import { HandSpeed } from './handSpeed.ts';
import { fitScale, levelFitted, levelSeen, panBy, toScene, transformOf, zoomAt } from './viewTransform.ts';

const picture = { width: 2400, height: 1600 };
const canvas = { width: 900, height: 700 };
const fitted = newBenchState().viewport;

describe('the view', () => {
  it('fits the whole picture in the middle, and never enlarges to fit', () => {
    const view = transformOf(fitted, picture, canvas);
    expect(view.scale).toBeCloseTo((900 - 32) / 2400, 6);
    const middle = toScene(view, { x: 450, y: 350 });
    expect(Math.abs(middle.x - 1200)).toBeLessThan(2);
    expect(fitScale({ width: 10, height: 10 }, canvas)).toBe(1);
  });

  it('keeps the point under the pointer when zooming', () => {
    const place = fc.record({ x: fc.integer({ min: 0, max: 900 }), y: fc.integer({ min: 0, max: 700 }) });
    fc.assert(
      fc.property(place, fc.double({ min: 0.2, max: 5, noNaN: true }), (screen, factor) => {
        const before = transformOf(fitted, picture, canvas);
        const after = transformOf(zoomAt(before, canvas, screen, factor), picture, canvas);
        const [a, b] = [toScene(before, screen), toScene(after, screen)];
        // Offsets are whole device pixels, so that 100 % is sharp: half a screen pixel either way.
        expect(Math.abs(a.x - b.x) * after.scale).toBeLessThan(1.01);
        expect(Math.abs(a.y - b.y) * after.scale).toBeLessThan(1.01);
      }),
    );
  });

  it('is drawn from little more than is seen where all of it fits, and from whole levels nearer to it', () => {
    const { scale } = transformOf(fitted, picture, canvas);
    expect(levelFitted(picture, canvas)).toBe(1.25);
    expect(levelSeen(scale, picture, canvas)).toBe(1.25);
    expect(levelSeen(scale / 1.3, picture, canvas)).toBe(1.75);
    expect(levelSeen(scale * 1.01, picture, canvas)).toBe(1);
    expect(levelSeen(1, picture, canvas)).toBe(0);
    // What never fills the canvas is seen whole at every scale up to its own.
    expect(levelSeen(0.8, { width: 700, height: 400 }, canvas)).toBe(0.25);
  });

  it('lies on whole device pixels at 100 %', () => {
    const view = transformOf({ fit: false, scale: 1, x: 777.3, y: 401.9 }, picture, canvas);
    expect(Number.isInteger(view.offsetX) && Number.isInteger(view.offsetY)).toBe(true);
  });

  it('cannot be panned off the picture', () => {
    let viewport = { fit: false, scale: 1, x: 100, y: 100 };
    for (let i = 0; i < 50; i++) viewport = panBy(transformOf(viewport, picture, canvas), picture, canvas, 300, 300);
    expect(viewport).toMatchObject({ x: 0, y: 0 });
  });
});

describe('the brush', () => {
  const brush = newBenchState().brush;
  const at = (x: number, y: number, timeMs = 0): BrushPoint => ({ x, y, pressure: 0.5, timeMs });

  function tool() {
    const log = {
      began: [] as Stroke[],
      replaced: [] as (string | undefined)[],
      regions: [] as Region[],
      finished: [] as Float32Array[],
      cancelled: [] as Region[],
    };
    const now = { isLast: true, isThroughSame: true };
    const made = new BrushTool({
      isLast: () => now.isLast,
      isThroughSame: () => now.isThroughSame,
      begin: (stroke, replaces) => {
        log.began.push(stroke);
        log.replaced.push(replaces);
      },
      extend: (_stroke, _points, region) => log.regions.push(region),
      finish: (_stroke, points) => log.finished.push(points),
      cancel: (_stroke, region) => log.cancelled.push(region),
    });
    return { made, log, now };
  }

  it('makes a stroke of what the pointer did, in its own time', () => {
    const { made, log } = tool();
    made.press({ ...brush, effect: 'hide' }, at(10, 20, 1000), false);
    made.move([at(30, 20, 1008), at(50, 25, 1016)]);
    made.release();
    expect(log.began[0]).toMatchObject({ target: 0, size: brush.size, strength: brush.strength });
    expect([...log.finished[0]]).toEqual([10, 20, 0.5, 0, 30, 20, 0.5, 8, 50, 25, 0.5, 16]);
    expect(made.isPainting).toBe(false);
  });

  it('reveals what is turned round before it counts by taking away, and hides it by adding', () => {
    const { made, log } = tool();
    for (const effect of ['reveal', 'hide', 'back'] as const)
      for (const isTurned of [false, true]) {
        made.press({ ...brush, effect, grey: 0.75 }, at(10, 20, 1000), false, { isTurned });
        made.release();
      }
    expect(log.began.map(({ target }) => target)).toEqual([0.75, 0.25, 0, 1, 0.5, 0.5]);
  });

  it('tells of the place that each piece changes, joined to the piece before', () => {
    const { made, log } = tool();
    made.press({ ...brush, size: 20 }, at(100, 100), false);
    made.move([at(200, 100)]);
    expect(log.regions[1]).toEqual({ x: 88, y: 88, width: 124, height: 24 });
  });

  it('runs straight from the end of the last stroke, as one stroke with it', () => {
    const { made, log } = tool();
    made.press(brush, at(10, 10), false);
    made.move([at(40, 60, 20)]);
    made.release();
    for (const [x, timeMs] of [
      [300, 5000],
      [200, 9000],
    ] as const) {
      made.press(brush, at(x, 60, timeMs), true);
      made.release();
    }
    const ends = [10, 10, 0.5, 0, 40, 60, 0.5, 20, 300, 60, 0.5, 21];
    expect([...log.finished[1]]).toEqual(ends);
    expect([...log.finished[2]]).toEqual([...ends, 200, 60, 0.5, 22]);
    expect(log.replaced).toEqual([undefined, log.began[0].id, log.began[1].id]);
    // All of it is drawn anew, since it is another stroke.
    expect(log.regions.at(-1)).toEqual({ x: 10 - 202, y: 10 - 202, width: 290 + 404, height: 50 + 404 });
  });

  it('with another brush, or through another stencil, runs on as a stroke of its own', () => {
    const { made, log, now } = tool();
    made.press(brush, at(10, 10), false);
    made.release();
    made.press({ ...brush, strength: 0.9 }, at(90, 10, 50), true);
    made.release();
    expect([...log.finished[1]]).toEqual([10, 10, 0.5, 0, 90, 10, 0.5, 1]);
    now.isThroughSame = false;
    made.press({ ...brush, strength: 0.9 }, at(90, 80, 99), true);
    made.release();
    expect([...log.finished[2]]).toEqual([90, 10, 0.5, 1, 90, 80, 0.5, 2]);
    expect(log.replaced).toEqual([undefined, undefined, undefined]);
  });

  it('does not run from a stroke that was undone', () => {
    const { made, log, now } = tool();
    made.press(brush, at(10, 10), false);
    made.release();
    expect(made.runsFrom).toEqual({ x: 10, y: 10 });
    now.isLast = false;
    expect(made.runsFrom).toBeUndefined();
    made.press(brush, at(7, 7), true);
    made.release();
    expect([...log.finished[1]]).toEqual([7, 7, 0.5, 0]);
  });

  it('leaves nothing of a stroke that is given up, but says where to draw anew', () => {
    const { made, log } = tool();
    made.press({ ...brush, size: 10 }, at(0, 0), false);
    made.move([at(90, 40)]);
    made.cancel();
    expect(log.finished).toEqual([]);
    expect(log.cancelled[0]).toEqual({ x: -7, y: -7, width: 104, height: 54 });
    made.move([at(5, 5)]);
    expect(log.regions).toHaveLength(2);
  });
});

describe('a hand instead of a pen', () => {
  it('presses hard when it is slow, lightly when it is quick, and without jerks', () => {
    const pressureAfter = (pixels: number) => {
      const hand = new HandSpeed();
      hand.begin(0, 0, 0);
      let pressure = 0;
      for (let i = 1; i <= 20; i++) pressure = hand.pressureAt(i * pixels, 0, i * 8);
      return pressure;
    };
    expect(pressureAfter(0.4)).toBeGreaterThan(0.9);
    expect(pressureAfter(40)).toBeLessThan(0.2);
    const hand = new HandSpeed();
    hand.begin(0, 0, 0);
    const [first, second] = [hand.pressureAt(1, 0, 8), hand.pressureAt(200, 0, 16)];
    expect(first - second).toBeLessThan(0.6);
    expect(hand.pressureAt(200, 0, 16)).toBe(second);
  });
});

describe('a hand', () => {
  const { brush } = newBenchState();

  it('is felt with a pen only, and a pen held by its other end does the reverse', () => {
    expect(brush.pressure).toBe('strength');
    expect(brushIn({ isFelt: false, isTurned: false }, brush).pressure).toBe('none');
    expect(brushIn({ isFelt: true, isTurned: false }, brush)).toEqual(brush);
    expect(brushIn({ isFelt: true, isTurned: true }, brush).effect).toBe('hide');
    expect(brushIn({ isFelt: true, isTurned: true }, { ...brush, effect: 'hide' }).effect).toBe('reveal');
    expect(brushIn({ isFelt: true, isTurned: true }, { ...brush, effect: 'soften' }).effect).toBe('soften');
  });
});
