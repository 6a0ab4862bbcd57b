import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { startOpenCv } from '../../tests/openCv.ts';
import { PlainPixel } from '../../tests/plainRender.ts';
import { randomFinished } from '../../tests/randomFinished.ts';
import { randomScene } from '../../tests/randomScene.ts';
import { edit, maskOf, nodeOf, paint, resultOf, setUp, size } from '../../tests/renderScene.ts';
import { planeOfNode } from '../../tests/smallScene.ts';
import type { Stroke } from '../masks/stroke.ts';
import { allTiles } from '../raster/region.ts';
import { levelSize, type Size, TILE, tileRegion } from '../raster/size.ts';
import { addStroke } from '../scene/edits/painting.ts';
import { setGeometry } from '../scene/edits/turning.ts';
import { withRounded } from './tiles/pictureTile.ts';
import { type TileNode, withTile } from './tiles/renderContext.ts';

const { made } = setUp();
const frameOf = (index: number): TileNode =>
  nodeOf(made.scene, { what: 'frame', at: made.frameIds[index], taken: true });

/** The mean of a plane, by area, over a pixel that is `step` times as wide; beyond its end it repeats. Written out in doubles. */
function meanOver(plane: ArrayLike<number>, { width, height }: Size, step: number, x: number, y: number): number {
  let sum = 0;
  for (let v = Math.floor(y * step); v < (y + 1) * step; v++)
    for (let u = Math.floor(x * step); u < (x + 1) * step; u++) {
      const wide = Math.min(u + 1, (x + 1) * step) - Math.max(u, x * step);
      const high = Math.min(v + 1, (y + 1) * step) - Math.max(v, y * step);
      sum += wide * high * plane[Math.min(height - 1, v) * width + Math.min(width - 1, u)];
    }
  return sum / step ** 2;
}

/** The three planes of a picture at a level. */
function planesOf(node: TileNode, level: number): Uint16Array[] {
  const { width, height } = levelSize(node.extent.size, level);
  const planes = [0, 1, 2].map(() => new Uint16Array(width * height));
  for (const { tx, ty } of allTiles(node.extent.size, level)) {
    const part = tileRegion(node.extent.size, level, tx, ty);
    withTile(node, { level, tx, ty }, made.context, (tile) =>
      withRounded(tile, made.context, (rgb) => {
        for (const [channel, plane] of planes.entries())
          for (let y = 0; y < part.height; y++) {
            const row = rgb[channel].subarray(y * TILE, y * TILE + part.width);
            plane.set(row, (part.y + y) * width + part.x);
          }
      }),
    );
  }
  return planes;
}

describe('a frame at a level between two', () => {
  it.each([0.25, 0.5, 0.75, 1.25, 2.5])('is the mean of what each pixel lies over: level %f', (level) => {
    const finer = Math.floor(level);
    for (const index of [0, 2]) {
      const [fine, made] = [planesOf(frameOf(index), finer), planesOf(frameOf(index), level)];
      const { width } = levelSize(size, level);
      let worst = 0;
      for (const [channel, plane] of made.entries())
        for (const [at, value] of plane.entries()) {
          const [x, y] = [at % width, Math.floor(at / width)];
          const mean = meanOver(fine[channel], levelSize(size, finer), 2 ** (level - finer), x, y);
          worst = Math.max(worst, Math.abs(value - mean));
        }
      // Rounded to whole steps, from sums of floats.
      expect(worst).toBeLessThan(0.51);
    }
  });

  it.each([0.25, 0.5, 0.75])('is what OpenCV makes of it by areas: level %f', async (level) => {
    const { cv } = await startOpenCv();
    const [plane] = planesOf(frameOf(1), 0);
    const [from, to] = [cv.matFromArray(size.height, size.width, cv.CV_16UC1, plane), new cv.Mat()];
    try {
      // By its factor and not by its size, which it would be stretched to.
      cv.resize(from, to, new cv.Size(0, 0), 2 ** -level, 2 ** -level, cv.INTER_AREA);
      const [own] = planesOf(frameOf(1), level);
      const { width } = levelSize(size, level);
      const apart: number[] = [];
      // Its last column and row may be of less.
      for (let y = 0; y < to.rows - 1; y++)
        for (let x = 0; x < to.cols - 1; x++)
          apart.push(Math.abs(own[y * width + x] - to.data16U[y * to.cols + x]) - own[y * width + x] / 500);
      expect(to.cols).toBeGreaterThan(170);
      // It leaves out what a pixel lies over by less than a thousandth of one, on either side.
      expect(Math.max(...apart)).toBeLessThanOrEqual(1);
    } finally {
      from.delete();
      to.delete();
    }
  });
});

describe('a scene at a level between two', () => {
  it.each([0.25, 0.5, 0.75, 1.25])('is what plain doubles make of its frames there: level %f', (level) => {
    const { width, height } = levelSize(size, level);
    const step = 2 ** level;
    const pixels = made.frameIds.map((_, index) => planesOf(frameOf(index), level));
    for (let seed = 0; seed < 4; seed++) {
      const scene = randomScene(made.scene, `quarter ${level} ${seed}`, { layers: 2 + seed, parts: 6 });
      const result = planesOf(resultOf(scene), level);
      const random = alea(`places ${seed}`);
      for (let place = 0; place < 12; place++) {
        const [x, y] = [Math.floor(width * random()), Math.floor(height * random())];
        const at = y * width + x;
        const frames = new Map(
          made.frameIds.map((id, index) => {
            const [r, g, b] = pixels[index].map((plane) => plane[at]);
            return [id, () => [r, g, b] as const];
          }),
        );
        // Where its middle lies among pixels at full size.
        const plain = new PlainPixel(scene, frames, (x + 0.5) * step - 0.5, (y + 0.5) * step - 0.5).result;
        for (const [channel, plane] of result.entries())
          expect(Math.abs(plane[at] - 65535 * plain[channel])).toBeLessThanOrEqual(8);
      }
    }
  });

  it.each([
    [0.25, 40],
    [0.5, 40],
    [0.75, 40],
    // Means of means that were taken over others.
    [1.25, 60],
    [1.5, 100],
  ])('is the mean of what it is at full size, whatever is done to it, turned or not: level %f', (level, allowed) => {
    for (let seed = 0; seed < 10; seed++) {
      const { scene } = randomFinished(made.scene, `quarter ${level} ${seed}`);
      const random = alea(`angle ${seed}`);
      const turned = edit(scene, setGeometry({ change: { straighten: 8 * random() - 4, quarters: seed % 4 } }));
      const node = nodeOf(turned, { what: 'result', ...(seed % 2 === 0 && { turned: 'finished' as const }) });
      const whole = planesOf(node, 0);
      const off = offBy(planesOf(node, level), whole, levelSize(node.extent.size, 0), level);
      expect({ seed, off: off < allowed ? 'little' : off }).toEqual({ seed, off: 'little' });
    }
  });

  it.each([0.25, 0.5, 0.75, 1.25, 2.5])(
    'holds strokes as they lie at full size, also while they grow: level %f',
    (level) => {
      const brushes: Partial<Stroke>[] = [
        { size: 60, hardness: 0.3 },
        { size: 36, hardness: 1, strength: 0.7 },
        { size: 900, hardness: 0, strength: 0.4 },
        { size: 70, hardness: 0.5, target: 0, keepTo: { frame: made.frameIds[1], tolerance: 0.2 } },
        { size: 50, hardness: 0.2, pressure: 'both' },
      ];
      const { made: own, dark } = setUp();
      const ways = brushes.map((_, i) => [[20 + 40 * i, 180 - 20 * i] as const, [270 - 30 * i, 20 + 30 * i] as const]);
      const strokes = brushes.map((brush, i) => paint(own, [ways[i][0]], brush));
      const scene = edit(own.scene, ...strokes.map((stroke) => addStroke({ owner: dark, stroke })));
      const { width, height } = levelSize(size, level);
      const at = (context = own.context) => planeOfNode(maskOf(scene, dark), 0, level, { width, height }, context);
      const first = at();
      for (const [i, stroke] of strokes.entries())
        own.context.strokes.append(stroke.id, Float32Array.of(...ways[i][1], 1, 40));
      const grown = at();
      expect(differing(first, grown)).toBeGreaterThan(1000 / 4 ** level);
      const anew = setUp().made.context;
      for (const [i, stroke] of strokes.entries())
        anew.strokes.append(stroke.id, Float32Array.of(...ways[i][0], 1, 0, ...ways[i][1], 1, 40));
      expect(differing(at(anew), grown)).toBe(0);
      const whole = planeOfNode(maskOf(scene, dark), 0, 0, size, own.context);
      // An edge within a pixel lies between its neighbours.
      expect(offBy([grown], [whole], size, level)).toBeLessThan(0.02 * 65535);
    },
  );
});

const differing = (a: Uint16Array, b: Uint16Array): number =>
  a.reduce((sum, each, i) => sum + Number(each !== b[i]), 0);

/** Root mean square of how far a picture at a level is from the means of one at full size. */
function offBy(planes: readonly Uint16Array[], whole: readonly Uint16Array[], from: Size, level: number): number {
  const { width, height } = levelSize(from, level);
  let [sum, count] = [0, 0];
  for (const [channel, plane] of planes.entries())
    for (let y = 1; y < height - 1; y++)
      for (let x = 1; x < width - 1; x++, count++)
        sum += (plane[y * width + x] - meanOver(whole[channel], from, 2 ** level, x, y)) ** 2;
  return Math.sqrt(sum / count);
}
