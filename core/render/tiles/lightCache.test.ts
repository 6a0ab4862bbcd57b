import { describe, expect, it } from 'vitest';
import { Arena } from '../../raster/arena.ts';
import { keyOf } from '../../raster/tileKey.ts';
import { LightCache } from './lightCache.ts';

const cache = new LightCache(new Arena(new ArrayBuffer(2 ** 22), 0, 2 ** 22));
let made = 0;
const get = (name: number, place = 0) =>
  cache.get(keyOf('light', name), place, (light) => {
    made++;
    for (const plane of light) plane.fill(name);
  });

describe('the light of tiles read last', () => {
  it('is made once for a key and a place, and forgotten when eight others were read', () => {
    expect(get(1)[2][5]).toBe(1);
    expect(get(1)[0][5]).toBe(1);
    expect(made).toBe(1);
    expect(get(1, 7)[0][5]).toBe(1);
    expect(made).toBe(2);
    for (let other = 2; other < 9; other++) expect(get(other)[1][9]).toBe(other);
    expect(cache.find(keyOf('light', 1), 0)).toBeUndefined();
    expect(cache.find(keyOf('light', 1), 7)?.[0][5]).toBe(1);
    expect(get(1)[0][5]).toBe(1);
    expect(cache.find(keyOf('light', 1), 7)).toBeUndefined();
  });

  it('is not found where making it failed', () => {
    const fail = () => {
      throw new RangeError('memory is full');
    };
    expect(() => cache.get(keyOf('light', 99), 0, fail)).toThrow('memory is full');
    expect(cache.find(keyOf('light', 99), 0)).toBeUndefined();
    expect(get(99)[0][0]).toBe(99);
  });
});
