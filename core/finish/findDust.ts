import { mapPoint, type Point } from '../align/placement.ts';
import type { Sketch } from '../checks/sketch.ts';
import { lightOf } from '../checks/sketch.ts';
import { invert3, type Matrix3 } from '../raster/matrix3.ts';

/** A frame as it was taken, placed in the scene: its small picture, and the way from its own pixels to the scene's, both at full size. */
export interface DustFrame {
  sketch: Sketch;
  placement: Matrix3;
}

/** A place that is darker than what is around it in all frames, in pixels of the sensor. */
export interface Dust extends Point {
  radius: number;
  /** Share of the light that it takes, in the frame where it takes least. */
  depth: number;
}

/** Radii that are looked for, in pixels of sketches. */
const RADII = [2, 3, 5] as const;
/** Light that dust takes at least, and how even its surroundings are against that (common practice, no source: it is seen in skies and water). */
const LEAST_DEPTH = 0.02;
/** What takes more is no dust but a thing. */
const MOST_DEPTH = 0.5;
const LEAST_AGAINST_NOISE = 3;
const MOST_FOUND = 60;

/** Sums from the upper left, of a plane and of its squares. */
class Sums {
  readonly #sums: Float64Array;
  readonly #squares: Float64Array;
  readonly #stride: number;

  constructor(plane: Float64Array, width: number, height: number) {
    this.#stride = width + 1;
    this.#sums = new Float64Array((width + 1) * (height + 1));
    this.#squares = new Float64Array(this.#sums.length);
    for (let y = 0; y < height; y++)
      for (let x = 0, row = 0, rowSquares = 0; x < width; x++) {
        const value = plane[y * width + x];
        row += value;
        rowSquares += value * value;
        const at = (y + 1) * this.#stride + x + 1;
        this.#sums[at] = this.#sums[at - this.#stride] + row;
        this.#squares[at] = this.#squares[at - this.#stride] + rowSquares;
      }
  }

  /** Sum, sum of squares and number of a square around a place. */
  around(x: number, y: number, radius: number): [number, number, number] {
    const of = (sums: Float64Array) => {
      const [top, bottom] = [(y - radius) * this.#stride, (y + radius + 1) * this.#stride];
      return (
        sums[bottom + x + radius + 1] - sums[bottom + x - radius] - sums[top + x + radius + 1] + sums[top + x - radius]
      );
    };
    return [of(this.#sums), of(this.#squares), (2 * radius + 1) ** 2];
  }
}

/** How much darker a place is than an even ring around it, as a share; 0 where the ring is not even. */
function depthAt(sums: Sums, x: number, y: number, radius: number): number {
  const [inner, , innerCount] = sums.around(x, y, radius);
  const [middle, middleSquares, middleCount] = sums.around(x, y, 2 * radius);
  const [outer, outerSquares, outerCount] = sums.around(x, y, 3 * radius + 1);
  const count = outerCount - middleCount;
  const mean = (outer - middle) / count;
  const spread = Math.sqrt(Math.max(0, (outerSquares - middleSquares) / count - mean * mean));
  const less = mean - inner / innerCount;
  return mean > 0 && less > LEAST_AGAINST_NOISE * spread ? less / mean : 0;
}

/** Spots that stand at one place of the sensor in all frames, before these are aligned: dust. Those that take most light first.
 * @param step - Pixels of a frame for one of its sketch. */
export function findDust(frames: readonly DustFrame[], step: number): Dust[] {
  const [first] = frames;
  if (!first) return [];
  const all = frames.map(({ sketch, placement }) => {
    const { width, height } = sketch;
    const plane = Float64Array.from({ length: width * height }, (_, i) => lightOf(sketch, i));
    return { sums: new Sums(plane, width, height), width, height, placement };
  });
  const found: Dust[] = [];
  const inSketch = (at: number) => (at + 0.5) / step - 0.5;
  const onSensor = (at: number) => (at + 0.5) * step - 0.5;
  const [lead, ...others] = all;
  const toSensor = invert3(lead.placement);
  for (const radius of RADII) {
    const edge = 3 * radius + 2;
    const depthIn = ({ sums, width, height, placement }: (typeof all)[number], sensor: Point): number => {
      const scene = mapPoint(placement, sensor);
      const [x, y] = [Math.round(inSketch(scene.x)), Math.round(inSketch(scene.y))];
      return x < edge || y < edge || x >= width - edge || y >= height - edge ? 0 : depthAt(sums, x, y, radius);
    };
    for (let y = edge; y < lead.height - edge; y++)
      for (let x = edge; x < lead.width - edge; x++) {
        const own = depthAt(lead.sums, x, y, radius);
        if (own < LEAST_DEPTH || own > MOST_DEPTH) continue;
        const sensor = mapPoint(toSensor, { x: onSensor(x), y: onSensor(y) });
        const depth = Math.min(own, ...others.map((other) => depthIn(other, sensor)));
        if (depth >= LEAST_DEPTH) found.push({ ...sensor, radius: 1.5 * radius * step, depth });
      }
  }
  return strongest(found);
}

/** Of places that touch each other the one that takes most light. */
function strongest(found: readonly Dust[]): Dust[] {
  const kept: Dust[] = [];
  for (const each of [...found].sort((a, b) => b.depth - a.depth)) {
    if (kept.length >= MOST_FOUND) break;
    if (kept.every((other) => Math.hypot(other.x - each.x, other.y - each.y) > other.radius + each.radius))
      kept.push(each);
  }
  return kept;
}
