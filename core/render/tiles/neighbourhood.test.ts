import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { nodeOf } from '../../../tests/renderScene.ts';
import { planeOfNode, smallScene } from '../../../tests/smallScene.ts';
import { levelSize, type Size } from '../../raster/size.ts';
import { areaAround, withArea } from './neighbourhood.ts';

const random = alea('areas');

/** A sample of a picture of a size; beyond the picture its edge repeats. */
const edged = (plane: ArrayLike<number>, { width, height }: Size, x: number, y: number): number =>
  plane[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))];

describe.each([
  ['neither of whole tiles nor of a multiple of four pixels', { width: 393, height: 287 }],
  ['of whole tiles', { width: 384, height: 256 }],
  ['just beyond whole tiles, and within one', { width: 385, height: 63 }],
])('an area around a tile of a picture %s', (_, size) => {
  const made = smallScene(size, [() => [random() * 65535, random() * 65535, random() * 65535]]);
  const node = nodeOf(made.scene, { what: 'frame', at: made.frameIds[0], taken: true });

  it.each([
    [0, 6, 0],
    [0, 20, 1],
    [0, 40, 2],
    [1, 20, 0],
    [1, 40, 1],
  ])(
    'of level %i, %i pixels wide, holds the mean of what it is gathered from, halved %i times',
    (level, reach, halvings) => {
      const { width, height } = levelSize(size, level);
      for (let ty = 0; ty * 128 < height; ty++)
        for (let tx = 0; tx * 128 < width; tx++) {
          const area = areaAround({ level, tx, ty }, size, reach, 12, (length) => 3 * length);
          expect(area.halvings).toBe(halvings);
          const step = 2 ** halvings;
          const gathered = area.level - halvings;
          for (const which of [0, 2]) {
            const plane = planeOfNode(node, which, gathered, levelSize(size, gathered), made.context);
            const found = withArea(
              [node],
              area,
              made.context,
              0,
              (out) => out.slice(),
              () => new Float32Array(0),
              which,
            );
            let worst = 0;
            for (let i = 0; i < area.side ** 2; i++) {
              const [x, y] = [(area.left + (i % area.side)) * step, (area.top + Math.floor(i / area.side)) * step];
              let sum = 0;
              for (let v = 0; v < step; v++)
                for (let u = 0; u < step; u++) sum += edged(plane, levelSize(size, gathered), x + u, y + v);
              worst = Math.max(worst, Math.abs(found[i] - sum / step ** 2 / 65535));
            }
            expect(worst).toBeLessThan(1e-6);
          }
        }
    },
  );
});
