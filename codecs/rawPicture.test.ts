import { describe, expect, it } from 'vitest';
import { PLAIN_READING } from '#core/reading.ts';
import type { RawFacts, RawModule, RawSettings } from './rawModule.ts';
import { openRaw } from './rawPicture.ts';

/** A library that knows a sensor, and tells what was asked of it. */
function libraryOf(sensor: Pick<RawFacts, 'colors' | 'color_data'>) {
  const asked: RawSettings[] = [];
  const left = { open: 0 };
  class LibRaw {
    constructor() {
      left.open++;
    }
    open(_: Uint8Array, settings: RawSettings) {
      asked.push(settings);
    }
    metadata(): RawFacts {
      return { width: 40, height: 30, flip: 0, shutter: 1, aperture: 8, iso_speed: 100, timestamp: 0, ...sensor };
    }
    imageData() {
      return undefined;
    }
    delete() {
      left.open--;
    }
  }
  return { library: { LibRaw } as RawModule, asked, left };
}

const noVips = () => Promise.reject(new Error('not asked for'));
const reading = { ...PLAIN_READING, highlights: 'continued' } as const;
const rows = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

describe('highlights of a raw file', () => {
  it("are continued in the sensor's own colours, where these are red, green and blue and known", () => {
    const { library, asked } = libraryOf({ colors: 3, color_data: { cam_mul: [2, 1, 1.5, 0], rgb_cam: rows } });
    const picture = openRaw(library, new Uint8Array(4), 'raw', reading, noVips);
    expect(asked).toMatchObject([{ highlight: 1, outputColor: 0 }]);
    expect(picture.headroom).toBe(1);
  });

  it.each([
    ['of four colours', { colors: 4, color_data: { cam_mul: [2, 1, 1.5, 1], rgb_cam: rows } }],
    ['of which nothing is known', { colors: 3, color_data: { cam_mul: [2, 1, 1.5, 0] } }],
    ['whose white nobody knows', { colors: 3, color_data: { cam_mul: [0, 0, 0, 0], rgb_cam: rows } }],
  ])('are left to the library with a sensor %s', (_, sensor) => {
    const { library, asked, left } = libraryOf(sensor);
    const picture = openRaw(library, new Uint8Array(4), 'raw', reading, noVips);
    expect(asked.map(({ highlight, outputColor }) => [highlight, outputColor])).toEqual([
      [1, 0],
      [5, 1],
    ]);
    expect(left.open).toBe(1);
    picture.close();
    expect(left.open).toBe(0);
  });
});
