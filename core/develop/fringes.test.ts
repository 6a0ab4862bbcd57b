import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { nodeOf } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { findApart } from '../align/findApart.ts';
import { TileSource } from '../align/tileSource.ts';
import { lmsMatrix, oklchOf } from '../color/oklab.ts';
import { decodeSrgb } from '../color/srgb.ts';
import { middleOf } from '../raster/lens.ts';
import { frameKey } from '../render/nodes/frameNode.ts';
import { developFrames } from '../scene/edits/developing.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { ADJUSTMENTS } from './list.ts';

const watch = { isCancelled: () => false, onProgress: () => undefined };
const sourceOf = (made: ReturnType<typeof smallScene>) => {
  const [frame] = made.scene.frames;
  return new TileSource(made.table, frameKey(frame.file.sha256), frame);
};

describe('channels that the lens drew apart', () => {
  const size = { width: 900, height: 620 };
  const { x: middleX, y: middleY } = middleOf(size);
  const random = alea('apart');
  const turns = Array.from({ length: 14 }, () => {
    const [angle, often] = [2 * Math.PI * random(), (2 * Math.PI) / (8 + 40 * random())];
    return { x: often * Math.cos(angle), y: often * Math.sin(angle), from: 7 * random() };
  });
  const toneAt = (x: number, y: number) =>
    turns.reduce((tone, turn) => tone + 1500 * Math.sin(turn.x * x + turn.y * y + turn.from), 26000);
  const scaled = (red: number, blue: number): PixelSource => {
    const noise = alea('noise');
    return (x, y) => {
      const at = (scale: number) =>
        toneAt(middleX + (x - middleX) / (1 + scale), middleY + (y - middleY) / (1 + scale));
      return [at(red), 0.8 * at(0), 0.6 * at(blue) + 3000].map((value) =>
        Math.round(Math.min(65535, Math.max(0, value + 100 * (noise() - 0.5)))),
      ) as unknown as ReturnType<PixelSource>;
    };
  };

  it('are found to hundredths of a pixel at the corners, and laid on each other', () => {
    const made = smallScene(size, [scaled(0.0022, -0.0014)]);
    const found = findApart(sourceOf(made), watch);
    const corner = Math.hypot(size.width, size.height) / 2;
    expect(Math.abs((found?.red ?? 1) - 0.0022) * corner).toBeLessThan(0.03);
    expect(Math.abs((found?.blue ?? 1) + 0.0014) * corner).toBeLessThan(0.03);
    const fringes = { ...ADJUSTMENTS.fringes.rest, red: found?.red ?? 0, blue: found?.blue ?? 0 };
    const scene = applyEdit(made.scene, developFrames({ frameIds: made.frameIds, change: { fringes } }));
    const off = (of: typeof scene) => {
      const node = nodeOf(of, { what: 'result' });
      const [red, green] = [0, 1].map((plane) => planeOfNode(node, plane, 0, size, made.context));
      let sum = 0;
      for (let y = 10; y < 110; y++)
        for (let x = 10; x < 110; x++) sum += (red[y * size.width + x] - green[y * size.width + x] / 0.8) ** 2;
      return Math.sqrt(sum / 10000);
    };
    expect(off(scene)).toBeLessThan(0.35 * off(made.scene));
  });

  it('are none in a picture that has none, and unknown in one that shows nothing', () => {
    const found = findApart(sourceOf(smallScene(size, [scaled(0, 0)])), watch);
    expect(Math.abs(found?.red ?? 1)).toBeLessThan(5e-5);
    expect(Math.abs(found?.blue ?? 1)).toBeLessThan(5e-5);
    expect(
      findApart(sourceOf(smallScene({ width: 500, height: 400 }, [() => [20000, 20000, 20000]])), watch),
    ).toBeUndefined();
  });
});

describe('lines of a hue at hard edges', () => {
  const size = { width: 260, height: 140 };
  const encode = (r: number, g: number, b: number) =>
    [r, g, b].map((value) => Math.round(65535 * value)) as unknown as ReturnType<PixelSource>;
  /** Dark to bright at 100 with a purple line of two pixels beside it, and a purple patch far from any edge. */
  const made = smallScene(size, [
    (x) => {
      if (x < 98) return encode(0.1, 0.1, 0.1);
      if (x < 100) return encode(0.55, 0.3, 0.75);
      if (x < 180) return encode(0.9, 0.9, 0.9);
      const soft = Math.min(1, (x - 180) / 60);
      return encode(0.9 - 0.35 * soft, 0.9 - 0.6 * soft, 0.9 - 0.15 * soft);
    },
  ]);
  const [id] = made.frameIds;
  const read = (change: object) => {
    const fringes = { ...ADJUSTMENTS.fringes.rest, ...change };
    const scene = applyEdit(made.scene, developFrames({ frameIds: [id], change: { fringes } }));
    const node = nodeOf(scene, { what: 'result' });
    const planes = [0, 1, 2].map((plane) => planeOfNode(node, plane, 0, size, made.context));
    const matrix = lmsMatrix('srgb');
    return (x: number) => {
      const rgb = planes.map((plane) => decodeSrgb(plane[70 * size.width + x] / 65535));
      return oklchOf(matrix, rgb as unknown as [number, number, number]);
    };
  };
  const taken = read({});

  it('lose their colour and keep their lightness; the same hue elsewhere stays', () => {
    const grey = read({ purple: { amount: 1, centre: 310, width: 30 } });
    expect(taken(99).c).toBeGreaterThan(0.1);
    expect(grey(99).c).toBeLessThan(0.03);
    expect(grey(99).l).toBeCloseTo(taken(99).l, 3);
    expect(grey(255)).toEqual(taken(255));
  });

  it('of another hue stay, and half as much takes half', () => {
    const green = read({ green: { amount: 1, centre: 145, width: 25 } });
    expect(green(99).c).toBeCloseTo(taken(99).c, 4);
    const half = read({ purple: { amount: 0.5, centre: 310, width: 30 } });
    expect(half(99).c / taken(99).c).toBeCloseTo(0.5, 1);
  });
});
