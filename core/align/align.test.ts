import alea from 'alea';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { loadPixels, madeFrame, openPixels, type PixelSource } from '../../tests/smallScene.ts';
import { bentPlace, PLAIN_LENS } from '../raster/lens.ts';
import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import type { Size } from '../raster/size.ts';
import { frameKey } from '../render/nodes/frameNode.ts';
import { handNumbers, placeByCorners, placedCorners, withHandNumbers } from './byHand.ts';
import { AlignCancelled } from './cancelled.ts';
import { alignThrough } from './chain.ts';
import { commonArea } from './commonArea.ts';
import { estimatePlacement } from './estimate.ts';
import { fitModel, type Match, uncertainty } from './fit.ts';
import { compose, cornerDistance, fromLevel, mapPoint, shiftMatrix } from './placement.ts';
import { placeByPairs, snapPair } from './pointPairs.ts';
import { TileSource } from './tileSource.ts';
import { exposureStops, FLOOR, toneSignal } from './toneSignal.ts';

const size: Size = { width: 720, height: 480 };
const plain = (placement: Matrix3) => ({ placement, lens: PLAIN_LENS });

/** Smooth waves of all directions and sizes, so that it can be read anywhere between pixels: light, 0..1. */
const random = alea('land');
const WAVES = Array.from({ length: 60 }, () => {
  const angle = random() * Math.PI * 2;
  const length = 6 * 30 ** random();
  return { x: Math.cos(angle) / length, y: Math.sin(angle) / length, phase: random() * 7, height: length / 60 };
});
const SUM = WAVES.reduce((sum, { height }) => sum + height * height, 0) ** 0.5;
function lightAt(x: number, y: number): number {
  let sum = 0;
  for (const wave of WAVES) sum += wave.height * Math.sin(2 * Math.PI * (wave.x * x + wave.y * y) + wave.phase);
  return 0.18 * 2 ** ((1.6 * sum) / SUM);
}

const encode = (light: number) => {
  const inside = Math.min(1, Math.max(0, light));
  return Math.round(65535 * (inside <= 0.0031308 ? 12.92 * inside : 1.055 * inside ** (1 / 2.4) - 0.055));
};

/** A picture of the waves, seen through a placement (frame to base), at an exposure. */
const seen =
  (placement: Matrix3, stops = 0, noise = 0): PixelSource =>
  (x, y) => {
    const at = mapPoint(placement, { x, y });
    const light = lightAt(at.x, at.y) * 2 ** stops + noise * (random() + random() - 1);
    return [encode(light), encode(light * 0.9), encode(light * 0.8)];
  };

const { resources, loader } = openPixels();
let made = 0;
function source(pixels: PixelSource): TileSource {
  const frame = madeFrame(1000 + made++, size);
  loadPixels(loader, frame, pixels);
  return new TileSource(resources.table, frameKey(frame.file.sha256, frame.reading), size);
}
const still = source(seen(shiftMatrix(0, 0)));

const turned = (degrees: number, scale: number, x: number, y: number): Matrix3 => {
  const [c, s] = [scale * Math.cos((degrees * Math.PI) / 180), scale * Math.sin((degrees * Math.PI) / 180)];
  return compose(shiftMatrix(-360, -240), [c, -s, 0, s, c, 0, 0, 0, 1], shiftMatrix(360 + x, 240 + y));
};

describe('finding a placement', () => {
  it('identical frames lie exactly right', () => {
    const found = estimatePlacement(still, still);
    expect(found).toMatchObject({ matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1], model: 'none', verdict: 'good' });
  });

  it('a shift by whole pixels is exactly that', () => {
    const found = estimatePlacement(still, source(seen(shiftMatrix(7, -11))));
    expect(found).toMatchObject({ matrix: [1, 0, 7, 0, 1, -11, 0, 0, 1], model: 'shift', verdict: 'good' });
  });

  it.each([
    ['a fraction of a pixel', shiftMatrix(0.37, -0.64), 'shift', 0],
    ['turned and scaled', turned(0.8, 1.008, 9.3, -6.1), 'similarity', 0],
    ['turned and scaled, 2 stops brighter', turned(-0.6, 0.994, -7.7, 4.2), 'similarity', 2],
    ['turned and scaled, 3 stops darker', turned(0.4, 1.003, 5.5, 8.25), 'similarity', -3],
    ['tilted', compose(turned(0.5, 1, 6, 3), [1, 0, 0, 0, 1, 0, 3e-5, -2e-5, 1]), 'perspective', 1],
  ] as const)('%s, within 0.08 pixels at every corner', (_name, truth, model, stops) => {
    const found = estimatePlacement(still, source(seen(truth, stops)));
    expect(cornerDistance(found.matrix, truth, size)).toBeLessThan(0.08);
    expect([found.model, found.verdict]).toEqual([model, 'good']);
    expect(found.stops).toBeCloseTo(stops, 0);
    expect(found.residualPx).toBeLessThan(0.05);
  });

  it('the still part wins over a part that moved, and is told of', () => {
    const truth = turned(0.3, 1, 4.4, 2.2);
    const there = seen(truth);
    const elsewhere = seen(compose(truth, shiftMatrix(6, 2)));
    const isMoved = (x: number, y: number) => x > 120 && x < 380 && y > 150 && y < 350;
    const found = estimatePlacement(
      still,
      source((x, y) => (isMoved(x, y) ? elsewhere : there)(x, y)),
    );
    expect(cornerDistance(found.matrix, truth, size)).toBeLessThan(0.1);
    const moved = found.places.filter(({ x, y, missPx }) => isMoved(x, y) && (missPx === null || missPx > 1));
    expect(moved.length).toBeGreaterThan(10);
  });

  it('what has nothing in common fails, and says so', () => {
    const noise = source(() => [random() * 65535, random() * 65535, random() * 65535].map(Math.floor) as never);
    expect(estimatePlacement(still, noise).verdict).toBe('failed');
    const black = source(() => [0, 0, 0]);
    expect(estimatePlacement(still, black)).toMatchObject({ verdict: 'failed', agreement: 0 });
  });

  it('looks only where it is told to', () => {
    const truth = shiftMatrix(5.5, 3.25);
    const [there, elsewhere] = [seen(truth), seen(shiftMatrix(-4, 8))];
    // Nearly all of it moved; the user marks what stands still.
    const mixed = source((x, y) => (y > 330 ? there : elsewhere)(x, y));
    const wanted = ({ y }: { y: number }) => (y > 340 ? 1 : 0);
    const found = estimatePlacement(still, mixed, { wanted });
    expect(Math.hypot(found.matrix[2] - 5.5, found.matrix[5] - 3.25)).toBeLessThan(0.1);
    expect(found.places.every(({ y }) => y > 330)).toBe(true);
  });

  it('goes by way of frames between when two share too little', () => {
    const truth = turned(0.2, 1, 3.3, -2.1);
    const dark = { source: source(seen(shiftMatrix(0, 0), -5.2)), ev: -5.2 };
    const middle = { source: source(seen(turned(0.1, 1, 1.2, -1), -1)), ev: -1 };
    const bright = { source: source(seen(truth, 3.6)), ev: 3.6 };
    const found = alignThrough(dark, bright, [middle]);
    expect(cornerDistance(found.matrix, truth, size)).toBeLessThan(0.2);
    expect(found.verdict).not.toBe('failed');
  });

  it('tells how far it has come, and stops when it is told to', () => {
    const shares: number[] = [];
    estimatePlacement(still, still, { onProgress: (share) => shares.push(share) });
    expect(shares.at(-1)).toBe(1);
    expect(shares.every((share, i) => i === 0 || share >= shares[i - 1])).toBe(true);
    expect(() => estimatePlacement(still, still, { isCancelled: () => true })).toThrow(AlignCancelled);
  });
});

describe('exposures', () => {
  it('are told from the tones that both hold', () => {
    const signal = (stops: number) =>
      toneSignal(
        source(seen(turned(1, 1, 9, 9), stops)).area(2, { x: 0, y: 0, width: 180, height: 120 }),
        180,
        120,
        FLOOR,
      );
    expect(exposureStops(signal(0), signal(1.5))).toBeCloseTo(1.5, 1);
    expect(exposureStops(signal(0), signal(-2))).toBeCloseTo(-2, 0);
  });
});

describe('homographies', () => {
  const truth: Matrix3 = [1.02, 0.013, -14, -0.008, 0.99, 6, 4e-6, -7e-6, 1];
  const points = Array.from({ length: 90 }, (_, i) => ({ x: (i * 197) % 720, y: (i * 131) % 480 }));
  const matches: Match[] = points.map((from) => ({ from, to: mapPoint(truth, from), sureness: [1, 0, 1] }));

  it('four corners of a unit square to a quadrilateral: worked by hand', () => {
    // Through (0,0) (1,0) (1,1) (0,1) to (0,0) (2,0) (3,3) (0,2): Heckbert 1989, section 2.2.3, with sums sx = 1, sy = 1,
    // d1 = (-1, -3), d2 = (-3, -1): g = (sx dy2 - sy dx2) / D = 2 / -8, h = (dx1 sy - dy1 sx) / D = 2 / -8.
    const square = [
      [0, 0, 0, 0],
      [1, 0, 2, 0],
      [1, 1, 3, 3],
      [0, 1, 0, 2],
    ].map(([x, y, u, v]): Match => ({ from: { x, y }, to: { x: u, y: v }, sureness: [1, 0, 1] }));
    const found = fitModel('perspective', square, { width: 2, height: 2 }, { noise: 0, robust: false });
    const wanted = [1.5, 0, 0, 0, 1.5, 0, -0.25, -0.25, 1];
    for (const [i, value] of wanted.entries()) expect(found?.[i]).toBeCloseTo(value, 6);
  });

  it('are found from exact matches, and from many with a third of them wrong', () => {
    const exact = fitModel('perspective', matches, size, { noise: 0.1, robust: false });
    expect(cornerDistance(exact as Matrix3, truth, size)).toBeLessThan(1e-6);
    const spoilt = matches.map((match, i) =>
      i % 3 ? match : { ...match, to: { x: match.to.x + 9 + i, y: match.to.y - 20 } },
    );
    const robust = fitModel('perspective', spoilt, size, { start: truth, noise: 0.5, robust: true });
    expect(cornerDistance(robust as Matrix3, truth, size)).toBeLessThan(1e-3);
  });

  it('say how uncertain they are: corners far from all matches more than those among them', () => {
    const crowded = matches.filter(({ from }) => from.x < 360 && from.y < 240);
    const [near, far] = uncertainty('perspective', crowded, truth, size, 0.1, [
      { x: 180, y: 120 },
      { x: 719, y: 479 },
    ]) as number[];
    expect(far).toBeGreaterThan(3 * near);
  });

  it('of levels: a pixel of a level is the mean of those below it', () => {
    expect(mapPoint(fromLevel(1), { x: 0, y: 3 })).toEqual({ x: 0.5, y: 6.5 });
    expect(mapPoint(fromLevel(3), { x: 1, y: 0 })).toEqual({ x: 11.5, y: 3.5 });
  });
});

describe('pairs of points', () => {
  const truth = turned(0.5, 1.004, 8, -5);
  const spots = [
    { x: 90, y: 80 },
    { x: 610, y: 120 },
    { x: 330, y: 400 },
    { x: 560, y: 390 },
  ];
  const pair = (base: { x: number; y: number }) => ({ base, frame: mapPoint(invert3(truth), base) });

  it('one makes a shift, two or three a similarity, four perspective', () => {
    const results = [1, 2, 3, 4].map((count) => placeByPairs(spots.slice(0, count).map(pair), size));
    expect(results.map((result) => result?.model)).toEqual(['shift', 'similarity', 'similarity', 'perspective']);
    for (const result of results.slice(1)) {
      expect(cornerDistance(result?.matrix as Matrix3, truth, size)).toBeLessThan(1e-6);
      expect(Math.max(...(result?.misses ?? []))).toBeLessThan(1e-6);
    }
    expect(placeByPairs([pair(spots[0]), pair(spots[0])], size)).toBeUndefined();
  });

  it('snap to the exact spot from three pixels away', () => {
    const pictures = { base: still, frame: source(seen(truth, 0.7)) };
    for (const spot of spots) {
      const exact = pair(spot);
      const put = { base: spot, frame: { x: exact.frame.x + 2.4, y: exact.frame.y - 2 } };
      const snapped = snapPair(put, pictures);
      expect(Math.hypot((snapped?.frame.x ?? 0) - exact.frame.x, (snapped?.frame.y ?? 0) - exact.frame.y)).toBeLessThan(
        0.1,
      );
    }
  });
});

describe('the common area', () => {
  it('of shifted frames is what is left between their edges', () => {
    expect(commonArea([], size)).toEqual({ x: 0, y: 0, ...size });
    const area = commonArea([shiftMatrix(10, 0), shiftMatrix(0, -6)].map(plain), size);
    // 2.5 pixels beside the edges are left out, since frames fade in there.
    expect(area).toEqual({ x: 13, y: 3, width: 704, height: 468 });
  });

  it('is covered by all, and nearly as large as it can be', () => {
    const placements = [turned(1, 1.01, 14, -9), turned(-0.7, 0.995, -8, 12)];
    const area = commonArea(placements.map(plain), size);
    if (!area) throw new Error('none');
    const corners = [
      { x: area.x, y: area.y },
      { x: area.x + area.width - 1, y: area.y + area.height - 1 },
      { x: area.x + area.width - 1, y: area.y },
      { x: area.x, y: area.y + area.height - 1 },
    ];
    for (const placement of placements)
      for (const corner of corners) {
        const at = mapPoint(invert3(placement), corner);
        expect(at.x >= 2 && at.y >= 2 && at.x <= 717 && at.y <= 477).toBe(true);
      }
    expect(area.width * area.height).toBeGreaterThan(0.85 * size.width * size.height);
    expect(commonArea([plain(shiftMatrix(800, 0))], size)).toBeUndefined();
  });

  it('of straightened frames leaves out the borders that were drawn in, also in the middle of a side', () => {
    for (const lens of [
      { bend: [0.08, 0, 0] as const, red: 0, blue: 0 },
      { bend: [-0.12, 0.02, 0] as const, red: 0, blue: 0 },
    ]) {
      const placement = shiftMatrix(14, 9);
      const area = commonArea([{ placement, lens }], size);
      if (!area) throw new Error('none');
      for (let i = 0; i <= 40; i++) {
        const [x, y] = [area.x + ((area.width - 1) * i) / 40, area.y + ((area.height - 1) * i) / 40];
        for (const place of [
          { x, y: area.y },
          { x, y: area.y + area.height - 1 },
          { x: area.x, y },
          { x: area.x + area.width - 1, y },
        ]) {
          const at = mapPoint(invert3(placement), bentPlace(lens, size, place));
          expect(at.x >= 2 && at.y >= 2 && at.x <= 717 && at.y <= 477).toBe(true);
        }
      }
      expect(area.width * area.height).toBeGreaterThan(0.7 * size.width * size.height);
    }
  });
});

it('reads areas of a frame as a general library extends it: edges are repeated', async () => {
  const region = { x: -9, y: -5, width: 60, height: 40 };
  const [red] = still.area(0, region);
  const pixels = seen(shiftMatrix(0, 0));
  const raw = Uint16Array.from({ length: 51 * 35 }, (_, i) => pixels(i % 51, Math.floor(i / 51))[0]);
  const data = await sharp(raw, { raw: { width: 51, height: 35, channels: 1 } })
    .toColourspace('grey16')
    .extend({ left: 9, top: 5, extendWith: 'copy' })
    .raw({ depth: 'ushort' })
    .toBuffer();
  expect(red).toEqual(new Uint16Array(data.buffer, data.byteOffset, 60 * 40));
});

describe('placing by hand', () => {
  const tilted = compose(turned(2, 1.1, 30, -12), [1, 0, 0, 0, 1, 0, 2e-5, 1e-5, 1]);

  it('numbers are read back as they were set, and the rest of a placement stays', () => {
    const wanted = { x: 12.5, y: -3, turnDegrees: 1.25, scale: 0.9 };
    const read = handNumbers(withHandNumbers(tilted, size, wanted), size);
    for (const [name, value] of Object.entries(wanted)) expect(read[name as keyof typeof read]).toBeCloseTo(value, 6);
    const moved = withHandNumbers(tilted, size, { x: handNumbers(tilted, size).x + 5 });
    expect(cornerDistance(moved, compose(tilted, shiftMatrix(5, 0)), size)).toBeLessThan(1e-9);
  });

  it('corners go where they are put; a corner pulled across the others is refused', () => {
    const corners = placedCorners(tilted, size);
    expect(cornerDistance(placeByCorners(corners, size) as Matrix3, tilted, size)).toBeLessThan(1e-6);
    const pulled = corners.map((corner, i) => (i === 2 ? { x: corner.x - 40, y: corner.y + 25 } : corner));
    const placed = placedCorners(placeByCorners(pulled, size) as Matrix3, size);
    for (const [i, { x, y }] of placed.entries())
      expect(Math.hypot(x - pulled[i].x, y - pulled[i].y)).toBeLessThan(1e-6);
    expect(placeByCorners([corners[0], corners[1], { x: 0, y: -900 }, corners[3]], size)).toBeUndefined();
  });
});
