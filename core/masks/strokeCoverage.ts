import type { Kernels } from '../kernels/kernels.ts';
import type { NearColour } from '../kernels/nearColour.ts';
import type { CoarseCoverage } from '../kernels/planes.ts';
import type { Arena } from '../raster/arena.ts';
import { type Size, TILE, TILE_SAMPLES } from '../raster/size.ts';
import { coarsening } from './coarsening.ts';
import { DAB_NUMBERS } from './dabs.ts';
import { brushName, type Stroke } from './stroke.ts';
import { dabTouches, type StrokeStore, type StrokeTrails } from './strokeStore.ts';

interface Progress {
  plane: Float32Array;
  /** Dabs of the stroke that have been looked at. */
  seen: number;
}

/** What a stroke stays on, on one tile. */
export interface NearColours extends Pick<NearColour, 'lab' | 'tolerance'> {
  /** Tells these colours from all others. */
  name: string;
  /** The colour under a place in scene pixels. */
  under: (x: number, y: number) => readonly number[];
}

/** A tile of a level of the pyramid. */
interface TileOfLevel {
  level: number;
  tx: number;
  ty: number;
}

/** Strokes whose colours under each dab are remembered. */
const KEPT_STROKES = 64;

/** Tiles whose coverage is remembered; enough for a large brush at the level on screen. */
const REMEMBERED = 64;

/** Pixels of the coarser level that are looked at around a tile. */
const BORDER = 2;

/** Coverage of strokes on tiles, going on from where it was while a stroke grows. One per thread. */
export class StrokeCoverage {
  readonly #strokes: StrokeStore;
  /** Of the size that was painted on last. */
  #trails: StrokeTrails;
  readonly #kernels: Kernels;
  readonly #arena: Arena;
  readonly #area: Float32Array;
  #isLaying = false;
  readonly #numbers = new WeakMap<Stroke, number>();
  readonly #numbersByName = new Map<string, number>();
  readonly #progress = new Map<string, Progress>();
  /** Colours under the dabs of strokes, as far as they were asked for. */
  readonly #centres = new Map<string, (readonly number[])[]>();

  /** @param arena - Where the planes lie. */
  constructor(strokes: StrokeStore, kernels: Kernels, arena: Arena) {
    this.#strokes = strokes;
    this.#trails = strokes.on({ width: 0, height: 0 });
    this.#kernels = kernels;
    this.#arena = arena;
    this.#area = arena.floats((TILE / 2 + 2 * BORDER) ** 2);
  }

  /** Calls `use` with the coverage of one stroke on one tile, before strength and stencil, 0..1: a tile's plane or, where the
   * stroke is smooth enough, coarser coverage to be read between pixels. It is the caller's until `use` returns.
   * @param size - Of the picture that is painted on.
   * @param near - For a stroke that stays on colours.
   * @throws {RangeError} when a stroke is laid while another one is: what both need has to be made before. */
  with<T>(
    stroke: Stroke,
    size: Size,
    { level, tx, ty }: TileOfLevel,
    near: NearColours | undefined,
    use: (coverage: Float32Array | CoarseCoverage) => T,
  ): T {
    if (this.#isLaying) throw new RangeError('A stroke is laid already');
    this.#isLaying = true;
    try {
      this.#beOn(size);
      return use(this.#on(stroke, level, tx, ty, near));
    } finally {
      this.#isLaying = false;
    }
  }

  /** Goes over to a picture of another size: dabs beyond its edges are others. */
  #beOn(size: Size): void {
    const trails = this.#strokes.on(size);
    if (trails === this.#trails) return;
    this.#trails = trails;
    for (const progress of this.#progress.values()) {
      progress.plane.fill(0);
      progress.seen = 0;
    }
    this.#centres.clear();
  }

  #on(stroke: Stroke, level: number, tx: number, ty: number, near?: NearColours): Float32Array | CoarseCoverage {
    const down = coarsening(stroke, level);
    if (down === 0) return this.#laid(stroke, level, tx, ty, near);
    const step = 2 ** down;
    const side = TILE / step + 2 * BORDER;
    const area = this.#area.subarray(0, side * side);
    this.#gather(stroke, level + down, (tx * TILE) / step - BORDER, (ty * TILE) / step - BORDER, side, area);
    return { area, side, offset: BORDER, step };
  }

  /** Copies an area of a level's coverage together; a stroke goes on outside the picture, left and above as well. */
  #gather(stroke: Stroke, level: number, left: number, top: number, side: number, area: Float32Array): void {
    const first = (at: number) => Math.floor(at / TILE);
    for (let ty = first(top); ty <= first(top + side - 1); ty++) {
      for (let tx = first(left); tx <= first(left + side - 1); tx++) {
        const plane = this.#laid(stroke, level, tx, ty);
        const fromX = Math.max(left, tx * TILE);
        const width = Math.min(left + side, (tx + 1) * TILE) - fromX;
        for (let y = Math.max(top, ty * TILE); y < Math.min(top + side, (ty + 1) * TILE); y++) {
          const to = (y - top) * side + fromX - left;
          const from = (y - ty * TILE) * TILE + fromX - tx * TILE;
          // Rows are short: copying each by a call costs more.
          for (let i = 0; i < width; i++) area[to + i] = plane[from + i];
        }
      }
    }
  }

  /** Coverage laid dab by dab at a level. */
  #laid(stroke: Stroke, level: number, tx: number, ty: number, near?: NearColours): Float32Array {
    const name = `${this.#numberOf(stroke)}@${level}:${tx}:${ty}:${near ? near.name + near.tolerance : ''}`;
    const progress = this.#progress.get(name) ?? { plane: this.#freshPlane(), seen: 0 };
    this.#progress.delete(name);
    this.#progress.set(name, progress); // most recent last
    const dabs = this.#trails.dabs(stroke);
    const scale = 2 ** -level;
    const margin = 2 ** level;
    for (; progress.seen < dabs.length / DAB_NUMBERS; progress.seen++) {
      if (!dabTouches(dabs, progress.seen, level, margin, tx, ty)) continue;
      const at = progress.seen * DAB_NUMBERS;
      const x = dabs[at] * scale - tx * TILE;
      const y = dabs[at + 1] * scale - ty * TILE;
      const colour = near && {
        lab: near.lab,
        tolerance: near.tolerance,
        centre: this.#colourUnder(stroke, progress.seen, dabs, near),
      };
      const { hardness, flow } = stroke;
      this.#kernels.layDab(progress.plane, x, y, dabs[at + 2] * scale, hardness, dabs[at + 3], flow, colour);
    }
    return progress.plane;
  }

  /** A number for a stroke that lays the same coverage, since names are long and asked for many times a tile. */
  #numberOf(stroke: Stroke): number {
    const known = this.#numbers.get(stroke);
    if (known !== undefined) return known;
    const name = `${brushName(stroke)}:${stroke.flow}`;
    const number = this.#numbersByName.get(name) ?? this.#numbersByName.size;
    this.#numbersByName.set(name, number);
    this.#numbers.set(stroke, number);
    return number;
  }

  #colourUnder(stroke: Stroke, dab: number, dabs: Float32Array, near: NearColours): readonly number[] {
    const name = `${brushName(stroke)}:${near.name}`;
    let centres = this.#centres.get(name);
    if (!centres) {
      centres = [];
      this.#centres.set(name, centres);
      const [oldest] = this.#centres.keys();
      if (this.#centres.size > KEPT_STROKES) this.#centres.delete(oldest);
    }
    centres[dab] ??= near.under(dabs[dab * DAB_NUMBERS], dabs[dab * DAB_NUMBERS + 1]);
    return centres[dab];
  }

  /** A plane of zeros: a new one, or the one that has been left alone longest. */
  #freshPlane(): Float32Array {
    if (this.#progress.size < REMEMBERED) return this.#arena.floats(TILE_SAMPLES);
    const [oldest, { plane }] = this.#progress.entries().next().value as [string, Progress];
    this.#progress.delete(oldest);
    return plane.fill(0);
  }
}
