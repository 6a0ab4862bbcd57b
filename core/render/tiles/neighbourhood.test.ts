import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { nodeOf } from '../../../tests/renderScene.ts';
import { planeOfNode, smallScene } from '../../../tests/smallScene.ts';
import { levelSize } from '../../raster/size.ts';
import { areaAround, withArea } from './neighbourhood.ts';

const random = alea('areas');
// Neither whole tiles nor a multiple of four.
const size = { width: 393, height: 287 };
const made = smallScene(size, [() => [random() * 65535, random() * 65535, random() * 65535]]);
const node = nodeOf(made.scene, { what: 'frame', at: made.frameIds[0], taken: true });

/** A sample of a level; beyond the picture its edge repeats. */
function edged(plane: ArrayLike<number>, level: number, x: number, y: number): number {
  const { width, height } = levelSize(size, level);
  return plane[Math.min(height - 1, Math.max(0, y)) * width + Math.min(width - 1, Math.max(0, x))];
}

describe('an area around a tile', () => {
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
              for (let v = 0; v < step; v++) for (let u = 0; u < step; u++) sum += edged(plane, gathered, x + u, y + v);
              worst = Math.max(worst, Math.abs(found[i] - sum / step ** 2 / 65535));
            }
            expect(worst).toBeLessThan(1e-6);
          }
        }
    },
  );
});
