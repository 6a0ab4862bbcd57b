import { describe, expect, it } from 'vitest';
import { openPixels } from '../../tests/smallScene.ts';
import { TILE, TILE_SAMPLES } from './size.ts';
import { copyTile, gatherArea, tilesOfArea } from './tileArea.ts';

const whole = { width: 300, height: 210 };
const { kernels, arena } = openPixels(2 ** 20).resources;

/** A picture whose samples tell where they lie; what its tiles hold beyond it is to be seen nowhere. */
const at = (x: number, y: number, channel: number) => (x * 211 + y * 97 + channel * 20_011) & 0x7fff;
function tileOf(tx: number, ty: number): Uint16Array[] {
  return [0, 1].map((channel) => {
    const plane = arena.samples(TILE_SAMPLES);
    for (let i = 0; i < TILE_SAMPLES; i++) {
      const [x, y] = [tx * TILE + (i % TILE), ty * TILE + Math.floor(i / TILE)];
      plane[i] = x < whole.width && y < whole.height ? at(x, y, channel) : 0xffff;
    }
    return plane;
  });
}
const tiles = new Map(
  tilesOfArea({ x: 0, y: 0, ...whole }, whole).map(({ tx, ty }) => [`${tx},${ty}`, tileOf(tx, ty)] as const),
);

describe('a region of a tiled picture', () => {
  it.each([
    ['inside one tile', { x: 20, y: 31, width: 70, height: 64 }],
    ['over four tiles', { x: 100, y: 99, width: 90, height: 71 }],
    ['as large as the picture', { x: 0, y: 0, ...whole }],
    ['over the upper left corner', { x: -9, y: -5, width: 140, height: 60 }],
    ['over the lower right corner', { x: 250, y: 180, width: 80, height: 66 }],
    ['around all of it', { x: -3, y: -4, width: 310, height: 222 }],
    ['beyond one side', { x: 320, y: 40, width: 12, height: 30 }],
    ['beyond a corner', { x: -40, y: -30, width: 12, height: 8 }],
  ])('%s is what lies there, and at the edges what is nearest', (_, region) => {
    const stride = region.width + 5;
    for (const tools of [undefined, kernels]) {
      const out = [0, 1].map(() => arena.samples(16 * Math.ceil((stride * region.height) / 16)).fill(0xeeee));
      if (tools)
        for (const { tx, ty } of tilesOfArea(region, whole))
          copyTile(tiles.get(`${tx},${ty}`) ?? [], tx, ty, region, whole, out, stride, tools);
      else gatherArea(region, whole, (tx, ty, use) => use(tiles.get(`${tx},${ty}`) ?? []), out, stride);
      let wrong = 0;
      for (const channel of [0, 1])
        for (let y = 0; y < region.height; y++)
          for (let x = 0; x < stride; x++) {
            const [px, py] = [
              Math.min(whole.width - 1, Math.max(0, region.x + x)),
              Math.min(whole.height - 1, Math.max(0, region.y + y)),
            ];
            const expected = x < region.width ? at(px, py, channel) : 0xeeee;
            if (out[channel][y * stride + x] !== expected) wrong++;
          }
      expect(wrong).toBe(0);
    }
  });
});
