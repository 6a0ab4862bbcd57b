import alea from 'alea';
import { expect, it } from 'vitest';
import { openPixels } from '../../tests/smallScene.ts';
import { leastAround } from './leastAround.ts';

const { arena, kernels } = openPixels(2 ** 20).resources;
const [shared, sharedSpare] = [arena.floats(2048), arena.floats(2048)];

it('finds the least of every square, as looking at each of its samples does', () => {
  const random = alea('least');
  for (let run = 0; run < 80; run++) {
    const [width, height] = [1 + Math.floor(40 * random()), 1 + Math.floor(30 * random())];
    const radius = Math.floor(12 * random());
    const values = Array.from({ length: width * height }, () => Math.floor(255 * random() ** 2));
    const plane = run % 2 ? Float32Array.from(values) : Uint8Array.from(values);
    const expected = values.map((_, i) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      let least = 255;
      for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
        for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++)
          least = Math.min(least, values[v * width + u]);
      return least;
    });
    leastAround(plane, plane.slice(), width, height, radius);
    expect([...plane], `${width} x ${height}, ${radius}`).toEqual(expected);
    if (width % 4 !== 0) continue;
    // As it is compiled, beside what must stay.
    shared.fill(-1).set(values);
    kernels.leastAround(shared, sharedSpare, width, height, radius);
    expect([...shared.subarray(0, width * height + 8)]).toEqual([...expected, ...new Array(8).fill(-1)]);
  }
});
