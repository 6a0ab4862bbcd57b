import type { StrokeId } from '../ids.ts';
import { type Size, TILE } from '../raster/size.ts';
import { dabMargin } from './coarsening.ts';
import { DAB_NUMBERS, DabTrail } from './dabs.ts';
import { brushName, type Stroke } from './stroke.ts';

/** Sizes of pictures whose strokes are remembered at a time: one scene's, and that of another that is opened. */
const MOST_SIZES = 2;

/** Points of strokes by id; strokes are written once, except for the one being painted, which grows. */
export class StrokeStore {
  readonly #points = new Map<StrokeId, Float32Array[]>();
  readonly #grownIn = new Map<StrokeId, number>();
  /** The latest first. */
  #trails: StrokeTrails[] = [];

  #version = 0;

  /** Counts up whenever points are added. */
  get version(): number {
    return this.#version;
  }

  /** The strokes as they lie on a picture of a size: what lies beyond it costs nothing. */
  on(size: Size): StrokeTrails {
    const known = this.#trails.find((trails) => trails.isOn(size));
    if (known) return known;
    const trails = new StrokeTrails(size, (id) => this.#points.get(id) ?? []);
    this.#trails = [trails, ...this.#trails.slice(0, MOST_SIZES - 1)];
    return trails;
  }

  /** The version in which a stroke grew last; 0 when nothing is known of it. */
  grownIn(id: StrokeId): number {
    return this.#grownIn.get(id) ?? 0;
  }

  /** Adds points to a stroke, four numbers each, see `POINT_NUMBERS`. */
  append(id: StrokeId, points: Float32Array): void {
    this.#version++;
    this.#grownIn.set(id, this.#version);
    const have = this.#points.get(id);
    if (have) have.push(points);
    else this.#points.set(id, [points]);
  }
}

/** Strokes on a picture of one size. */
export class StrokeTrails {
  readonly #size: Size;
  readonly #pointsOf: (id: StrokeId) => readonly Float32Array[];
  /** By name of the brush, since strokes of several scenes may share an id. */
  readonly #trails = new Map<string, { trail: DabTrail; taken: number }>();
  readonly #touches = new Map<string, Map<number, Touches>>();

  constructor({ width, height }: Size, pointsOf: (id: StrokeId) => readonly Float32Array[]) {
    this.#size = { width, height };
    this.#pointsOf = pointsOf;
  }

  isOn({ width, height }: Size): boolean {
    return width === this.#size.width && height === this.#size.height;
  }

  /** Dabs of a stroke as far as its points are known; none when nothing is known of it. */
  dabs(stroke: Stroke): Float32Array {
    const name = brushName(stroke);
    let kept = this.#trails.get(name);
    if (!kept) {
      kept = { trail: new DabTrail(stroke, this.#size), taken: 0 };
      this.#trails.set(name, kept);
    }
    const pieces = this.#pointsOf(stroke.id);
    for (; kept.taken < pieces.length; kept.taken++) kept.trail.add(pieces[kept.taken]);
    return kept.trail.dabs;
  }

  /** How many dabs of a stroke touch a tile of a level. */
  dabsOnTile(stroke: Stroke, level: number, tx: number, ty: number): number {
    const dabs = this.dabs(stroke);
    const margin = dabMargin(stroke, level);
    const touches = this.#touchesOf(brushName(stroke), level);
    for (; touches.counted < dabs.length / DAB_NUMBERS; touches.counted++) {
      for (const tile of tilesUnderDab(dabs, touches.counted, level, margin, this.#size)) {
        touches.byTile.set(tile, (touches.byTile.get(tile) ?? 0) + 1);
      }
    }
    return touches.byTile.get(tileNumber(tx, ty)) ?? 0;
  }

  #touchesOf(name: string, level: number): Touches {
    let levels = this.#touches.get(name);
    if (!levels) {
      levels = new Map();
      this.#touches.set(name, levels);
    }
    const known = levels.get(level) ?? { counted: 0, byTile: new Map() };
    levels.set(level, known);
    return known;
  }
}

/** Dabs of a stroke on the tiles of a level, as far as they are counted. */
interface Touches {
  counted: number;
  byTile: Map<number, number>;
}

const tileNumber = (tx: number, ty: number): number => ty * 65536 + tx;

/** Whether a dab can reach into a tile; the same test decides keys and painting, so they always agree.
 * @param margin - How far beyond its radius it may be seen, see `dabMargin`. */
export function dabTouches(
  dabs: Float32Array,
  dab: number,
  level: number,
  margin: number,
  tx: number,
  ty: number,
): boolean {
  const side = TILE * 2 ** level;
  const [x, y, reach] = dabBox(dabs, dab, margin);
  return x + reach > tx * side && x - reach < (tx + 1) * side && y + reach > ty * side && y - reach < (ty + 1) * side;
}

function dabBox(dabs: Float32Array, dab: number, margin: number): [number, number, number] {
  const at = dab * DAB_NUMBERS;
  return [dabs[at], dabs[at + 1], dabs[at + 2] + margin];
}

function* tilesUnderDab(
  dabs: Float32Array,
  dab: number,
  level: number,
  margin: number,
  { width, height }: Size,
): Generator<number> {
  const side = TILE * 2 ** level;
  const [x, y, reach] = dabBox(dabs, dab, margin);
  const [right, bottom] = [Math.min(width, x + reach), Math.min(height, y + reach)];
  for (let ty = Math.max(0, Math.floor((y - reach) / side)); ty <= bottom / side; ty++) {
    for (let tx = Math.max(0, Math.floor((x - reach) / side)); tx <= right / side; tx++) {
      if (dabTouches(dabs, dab, level, margin, tx, ty)) yield tileNumber(tx, ty);
    }
  }
}
