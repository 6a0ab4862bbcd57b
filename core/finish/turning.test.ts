import alea from 'alea';
import { beforeAll, describe, expect, it } from 'vitest';
import { type OpenCv, startOpenCv } from '../../tests/openCv.ts';
import { edit, nodeOf, resultOf } from '../../tests/renderScene.ts';
import { smallScene } from '../../tests/smallScene.ts';
import { mapPoint, type Point } from '../align/placement.ts';
import { ItemId, SpotId } from '../ids.ts';
import { allTiles } from '../raster/region.ts';
import { writeTile } from '../render/plan/writing.ts';
import type { TileNode } from '../render/tiles/renderContext.ts';
import { addSpots } from '../scene/edits/retouching.ts';
import { addAdjustment } from '../scene/edits/stack.ts';
import { setGeometry, turnQuarter } from '../scene/edits/turning.ts';
import { type Geometry, PLAIN_GEOMETRY } from '../scene/geometry.ts';
import type { Scene } from '../scene/scene.ts';
import { largestWithin, liesWithin, movedWithin } from './cropWithin.ts';
import { deliveredPicture } from './delivered.ts';
import { deliveredFrom, deliveredPart, isDelivered, turnedCorners, turningOf } from './turning.ts';
import { solveLines, straightenBy } from './uprights.ts';

const size = { width: 240, height: 160 };
const wave = (x: number, y: number, of: number) =>
  Math.round(30_000 + 20_000 * Math.sin(x / (9 + of)) * Math.cos(y / (11 - of)));
const made = smallScene(size, [(x, y) => [wave(x, y, 0), wave(x, y, 1), wave(x, y, 2)]]);
const geometry = (change: Partial<Geometry>): Geometry => ({ ...PLAIN_GEOMETRY, ...change });
const turned = (change: Partial<Geometry>): Scene => edit(made.scene, setGeometry({ change }));
function written(node: TileNode): { pixels: Uint16Array; width: number; height: number } {
  const { width, height } = node.extent.size;
  const image = { region: { x: 0, y: 0, width, height }, pixels: new Uint16Array(width * height * 3) };
  for (const { tx, ty } of allTiles({ width, height }, 0)) writeTile(node, tx, ty, image, made.context);
  return { pixels: image.pixels, width, height };
}
const finished = (scene: Scene) => written(nodeOf(scene, { what: 'result', turned: 'finished' }));

const SOME: Partial<Geometry>[] = [
  { straighten: 7.3 },
  { straighten: -31, quarters: 1 },
  { perspective: { vertical: 0.4, horizontal: 0 } },
  { perspective: { vertical: -0.3, horizontal: 0.5 }, straighten: 3, stretch: 0.2, quarters: 3 },
];

describe('what is delivered', () => {
  it('holds places of the scene, counted from its corner, that the crop does', () => {
    const plain = isDelivered(PLAIN_GEOMETRY, size);
    expect(
      [
        { x: 0.1, y: 0.1 },
        { x: 239.9, y: 159.9 },
      ].map(plain),
    ).toEqual([true, true]);
    expect(
      [
        { x: -0.1, y: 5 },
        { x: 5, y: 160.1 },
      ].map(plain),
    ).toEqual([false, false]);
    const cropped = isDelivered(geometry({ crop: { x: 100, y: 50, width: 60, height: 40 } }), size);
    expect(
      [
        { x: 100.5, y: 50.5 },
        { x: 159.5, y: 89.5 },
      ].map(cropped),
    ).toEqual([true, true]);
    expect(
      [
        { x: 99.5, y: 60 },
        { x: 120, y: 90.5 },
      ].map(cropped),
    ).toEqual([false, false]);
    // A quarter turn to the right: the scene's left side is the upper one.
    const quarter = isDelivered(geometry({ quarters: 1, crop: { x: 0, y: 0, width: 160, height: 20 } }), size);
    expect(
      [
        { x: 5, y: 100 },
        { x: 30, y: 100 },
      ].map(quarter),
    ).toEqual([true, false]);
  });
});

describe('a turned picture', () => {
  let cv: OpenCv;
  beforeAll(async () => {
    ({ cv } = await startOpenCv());
  });

  it.each(SOME)('is what OpenCV warps it to: %j', (change) => {
    const { pixels, width, height } = finished(turned(change));
    const { fromScene } = deliveredFrom(geometry(change), size);
    const bare = written(resultOf(made.scene)).pixels;
    const source = cv.matFromArray(size.height, size.width, cv.CV_32FC3, Array.from(bare));
    const out = new cv.Mat();
    cv.warpPerspective(
      source,
      out,
      cv.matFromArray(3, 3, cv.CV_64F, [...fromScene]),
      new cv.Size(width, height),
      cv.INTER_LANCZOS4,
    );
    let [sum, count] = [0, 0];
    for (let y = 6; y < height - 6; y++)
      for (let x = 6; x < width - 6; x++, count++) {
        const i = 3 * (y * width + x);
        sum += ((pixels[i] - out.data32F[i]) / 65535) ** 2;
      }
    for (const mat of [source, out]) mat.delete();
    expect(count).toBeGreaterThan(1000);
    expect(Math.sqrt(sum / count)).toBeLessThanOrEqual(1 / 255);
  });

  it('has straight lines where the scene has them, within a tenth of a pixel', () => {
    for (const change of SOME) {
      const turning = turningOf(geometry(change), size);
      for (const [from, to] of [
        [
          { x: 10, y: 20 },
          { x: 220, y: 140 },
        ],
        [
          { x: 120, y: 0 },
          { x: 120, y: 159 },
        ],
      ]) {
        const places = [0, 0.2, 0.5, 0.9, 1].map((share) =>
          mapPoint(turning, { x: from.x + share * (to.x - from.x), y: from.y + share * (to.y - from.y) }),
        );
        const [a, b] = [places[0], places[4]];
        const length = Math.hypot(b.x - a.x, b.y - a.y);
        for (const at of places)
          expect(Math.abs((b.x - a.x) * (at.y - a.y) - (b.y - a.y) * (at.x - a.x)) / length).toBeLessThan(0.1);
      }
    }
  });

  it('is itself after four quarter turns, to the bit, and exact after one', () => {
    const once = edit(made.scene, turnQuarter({ by: 1 }));
    const four = [1, 1, 1].reduce((scene) => edit(scene, turnQuarter({ by: 1 })), once);
    expect(four).toEqual(made.scene);
    expect(edit(once, turnQuarter({ by: -1 }))).toEqual(made.scene);
    const { pixels, width, height } = finished(once);
    const bare = written(resultOf(made.scene)).pixels;
    expect([width, height]).toEqual([size.height, size.width]);
    for (let y = 0; y < height; y += 7)
      for (let x = 0; x < width; x += 5)
        expect(pixels[3 * (y * width + x)]).toBe(bare[3 * ((size.height - 1 - x) * size.width + y)]);
  });

  it('keeps its crop through quarter turns', () => {
    const crop = { x: 20, y: 30, width: 90, height: 60 };
    const cropped = turned({ crop });
    const once = edit(cropped, turnQuarter({ by: 1 }));
    expect(once.geometry.crop).toEqual({ x: 160 - 30 - 60, y: 20, width: 60, height: 90 });
    const [flat, round] = [finished(cropped).pixels, finished(once).pixels];
    expect(round[3 * (5 * 60 + 7)]).toBe(flat[3 * ((59 - 7) * 90 + 5)]);
    expect(deliveredPicture(cropped)).toEqual({ of: { what: 'result' }, size, region: crop });
  });

  it('delivers nothing that is not covered, as large as it can be in its own ratio', () => {
    for (const change of SOME) {
      const part = deliveredPart(geometry(change), size);
      const corners = turnedCorners(geometry(change), size);
      expect(liesWithin(part, corners)).toBe(true);
      expect(
        liesWithin({ x: part.x - 3, y: part.y - 3, width: part.width + 6, height: part.height + 6 }, corners),
      ).toBe(false);
      const { pixels } = finished(turned(change));
      expect(pixels.every((value) => value > 5000)).toBe(true);
    }
  });

  it('has its spots covered, with a step above them and with none, whatever was drawn before', () => {
    const spot = {
      ...{ id: SpotId.parse('spot'), path: [{ x: 100, y: 70 }], radius: 12, soft: 0.3, how: 'heal' as const },
      ...{ by: { x: 40, y: 10 }, flip: 'none' as const, frame: null, stops: 0, opacity: 1, visible: true },
    };
    const spotted = edit(made.scene, addSpots({ spots: [spot] }));
    const id = ItemId.parse('exposure');
    const stepped = edit(
      spotted,
      addAdjustment({ id, kind: 'exposure', above: { blend: true }, settings: { stops: 0.2 } }),
    );
    const crop = { x: 60, y: 40, width: 90, height: 70 };
    for (const scene of [spotted, stepped]) {
      const whole = written(resultOf(scene)).pixels;
      written(nodeOf(scene, { what: 'blend' }));
      const { pixels, width } = finished(edit(scene, setGeometry({ change: { crop } })));
      const wrong = pixels.findIndex((value, i) => {
        const [x, y] = [Math.floor(i / 3) % width, Math.floor(i / 3 / width)];
        return value !== whole[((y + crop.y) * size.width + x + crop.x) * 3 + (i % 3)];
      });
      expect(wrong).toBe(-1);
      // Turned by a half, and on the table that it is turned on.
      const half = finished(edit(scene, setGeometry({ change: { quarters: 2 } }))).pixels;
      expect(half.findIndex((value, i) => value !== whole[whole.length - 3 - i + 2 * (i % 3)])).toBe(-1);
      const table = edit(scene, setGeometry({ change: { straighten: 3 } }));
      const { pixels: onTable } = written(nodeOf(table, { what: 'result', turned: 'table' }));
      expect(onTable.some((value) => value > 30_000)).toBe(true);
    }
  });

  it('is black where a crop goes beyond it', () => {
    const { pixels } = finished(turned({ straighten: 20, crop: { x: 0, y: 0, ...size } }));
    expect([...pixels.subarray(0, 3)]).toEqual([0, 0, 0]);
  });

  it('refuses a crop of nothing, and lets go of one that does not fit', () => {
    expect(() => turned({ crop: { x: 0, y: 0, width: 0, height: 5 } })).toThrow();
    expect(turned({ crop: { x: 200, y: 0, width: 100, height: 50 } }).geometry.crop).toBeNull();
  });
});

describe('the largest part of a ratio', () => {
  it('is as large as a search finds it', () => {
    const random = alea('areas');
    for (let round = 0; round < 8; round++) {
      const change = {
        straighten: 80 * (random() - 0.5),
        perspective: { vertical: random() - 0.5, horizontal: random() - 0.5 },
      };
      const corners = turnedCorners(geometry(change), size);
      const ratio = 0.5 + 2 * random();
      const found = largestWithin(corners, ratio);
      let best = 0;
      for (let x = 0; x < size.width; x += 8)
        for (let y = 0; y < size.height; y += 8)
          for (let half = Math.max(2, best); half < 200; half += 2) {
            if (!liesWithin({ x: x - half, y: y - half / ratio, width: 2 * half, height: (2 * half) / ratio }, corners))
              break;
            best = half;
          }
      expect((found?.width ?? 0) / 2).toBeGreaterThan(best - 8);
      expect(found && liesWithin(found, corners)).toBe(true);
    }
    expect(
      largestWithin(
        [
          { x: 0, y: 0 },
          { x: 10, y: 0 },
          { x: 10, y: 10 },
          { x: 0, y: 10 },
        ],
        2,
      ),
    ).toEqual({ x: 0, y: 2, width: 10, height: 5 });
  });

  it('moves a crop no farther than it must', () => {
    const square = [
      { x: 0, y: 0 },
      { x: 100, y: 0 },
      { x: 100, y: 80 },
      { x: 0, y: 80 },
    ];
    const part = { x: 90, y: 10, width: 30, height: 20 };
    const moved = movedWithin(part, square);
    expect(moved && liesWithin(moved, square)).toBe(true);
    expect([moved?.width, moved?.height]).toEqual([30, 20]);
    expect(movedWithin({ x: 10, y: 10, width: 300, height: 200 }, square)?.width).toBe(100);
    expect(movedWithin({ x: 10, y: 10, width: 30, height: 20 }, square)).toEqual({
      x: 10,
      y: 10,
      width: 30,
      height: 20,
    });
  });
});

describe('lines that should be upright or level', () => {
  /** Where a place that is upright in the end lies in the scene. */
  const sceneOf = (change: Partial<Geometry>, { x, y }: Point): Point => {
    const m = turningOf(geometry(change), size);
    let at = { x, y };
    for (let round = 0; round < 60; round++) {
      const now = mapPoint(m, at);
      at = { x: at.x + 0.7 * (x - now.x), y: at.y + 0.7 * (y - now.y) };
    }
    return at;
  };
  const lineOf = (change: Partial<Geometry>, along: 'upright' | 'level', at: number) => {
    const [from, to] =
      along === 'upright'
        ? [
            { x: at, y: 20 },
            { x: at, y: 140 },
          ]
        : [
            { x: 20, y: at },
            { x: 220, y: at },
          ];
    return { along, from: sceneOf(change, from), to: sceneOf(change, to) };
  };

  it('tell how a picture leans and converges', () => {
    const change = { straighten: 2.5, perspective: { vertical: 0.25, horizontal: -0.15 } };
    const lines = [
      lineOf(change, 'upright', 40),
      lineOf(change, 'upright', 200),
      lineOf(change, 'level', 30),
      lineOf(change, 'level', 130),
    ];
    const found = solveLines(lines, size, PLAIN_GEOMETRY);
    if (!('turned' in found)) return expect.unreachable(found.fault);
    expect(found.turned.straighten).toBeCloseTo(2.5, 2);
    expect(found.turned.perspective.vertical).toBeCloseTo(0.25, 3);
    expect(found.turned.perspective.horizontal).toBeCloseTo(-0.15, 3);
    const two = solveLines(lines.slice(0, 2), size, PLAIN_GEOMETRY);
    const after = 'turned' in two ? geometry(two.turned) : PLAIN_GEOMETRY;
    for (const { from, to } of lines.slice(0, 2)) {
      const [a, b] = [from, to].map((at) => mapPoint(turningOf(after, size), at));
      expect(Math.abs(a.x - b.x)).toBeLessThan(0.1);
    }
  });

  it('straighten by one alone', () => {
    expect(straightenBy({ from: { x: 0, y: 0 }, to: { x: 100, y: 5 } })).toBeCloseTo(-2.862, 2);
    expect(straightenBy({ from: { x: 100, y: 5 }, to: { x: 0, y: 0 } })).toBeCloseTo(-2.862, 2);
    expect(straightenBy({ from: { x: 0, y: 0 }, to: { x: 5, y: 100 } })).toBeCloseTo(2.862, 2);
    const line = { along: 'level' as const, from: { x: 20, y: 50 }, to: { x: 220, y: 60 } };
    const found = solveLines([line], size, PLAIN_GEOMETRY);
    expect('turned' in found && found.turned.straighten).toBeCloseTo(straightenBy(line), 3);
  });

  it('that cross, are short, or ask for too much say so', () => {
    const upright = (from: Point, to: Point) => ({ along: 'upright' as const, from, to });
    const crossing = [upright({ x: 50, y: 20 }, { x: 100, y: 140 }), upright({ x: 100, y: 20 }, { x: 50, y: 140 })];
    expect(solveLines(crossing, size, PLAIN_GEOMETRY)).toEqual({ fault: 'cross' });
    expect(solveLines([upright({ x: 50, y: 20 }, { x: 50, y: 21 })], size, PLAIN_GEOMETRY)).toEqual({ fault: 'short' });
    const lying = [upright({ x: 10, y: 80 }, { x: 110, y: 20 }), upright({ x: 130, y: 20 }, { x: 230, y: 80 })];
    expect(solveLines(lying, size, PLAIN_GEOMETRY)).toEqual({ fault: 'too-much' });
  });
});
