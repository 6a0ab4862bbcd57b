import { type FrameId, StrokeId } from '#core/ids.ts';
import { POINT_NUMBERS } from '#core/masks/dabs.ts';
import type { Stroke } from '#core/masks/stroke.ts';
import type { Region } from '#core/raster/size.ts';
import type { Brush } from '../stores/benchState.ts';

/** One sample of a pointer, in scene pixels. */
export interface BrushPoint {
  x: number;
  y: number;
  /** 0..1; a mouse presses with 0.5. */
  pressure: number;
  timeMs: number;
}

/** What the brush does to the world. */
export interface BrushEffects {
  begin: (stroke: Stroke) => void;
  extend: (stroke: Stroke, points: Float32Array, region: Region) => void;
  finish: (stroke: Stroke, points: Float32Array) => void;
  cancel: (stroke: Stroke, region: Region) => void;
}

interface InProgress {
  stroke: Stroke;
  points: number[];
  startedAt: number;
  region: Region;
}

/** The brush: idle, or with a stroke in progress. Remembers where the last stroke ended, for straight runs. */
export class BrushTool {
  readonly #effects: BrushEffects;
  #now: InProgress | undefined;
  #lastEnd: BrushPoint | undefined;

  constructor(effects: BrushEffects) {
    this.#effects = effects;
  }

  get isPainting(): boolean {
    return this.#now !== undefined;
  }

  /** Starts a stroke; `straight` runs it from where the last one ended.
   * @param frame - Whose colours it stays on, if the brush is to. */
  press(brush: Brush, point: BrushPoint, straight: boolean, frame: FrameId | null = null): void {
    const { effect, grey, size, hardness, strength, flow, pressure, pressureCurve, keepTo } = brush;
    const stroke: Stroke = {
      id: StrokeId.parse(crypto.randomUUID()),
      effect: effect === 'soften' || effect === 'even' ? effect : 'tone',
      target: effect === 'reveal' ? grey : 0,
      size,
      hardness,
      strength,
      flow,
      pressure,
      pressureCurve,
      stencil: null,
      ...(keepTo > 0 && frame ? { keepTo: { frame, tolerance: keepTo } } : {}),
    };
    this.#now = {
      stroke,
      points: [],
      startedAt: point.timeMs,
      region: { x: point.x, y: point.y, width: 0, height: 0 },
    };
    this.#effects.begin(stroke);
    this.#add(straight && this.#lastEnd ? [{ ...this.#lastEnd, timeMs: point.timeMs }, point] : [point]);
  }

  /** Goes on along the pointer's path. */
  move(points: readonly BrushPoint[]): void {
    if (this.#now && points.length > 0) this.#add(points);
  }

  /** Ends the stroke. */
  release(): void {
    if (!this.#now) return;
    const { stroke, points } = this.#now;
    this.#now = undefined;
    const [x, y, pressure, timeMs] = points.slice(-POINT_NUMBERS);
    this.#lastEnd = { x, y, pressure, timeMs };
    this.#effects.finish(stroke, Float32Array.from(points));
  }

  /** Gives the stroke up. */
  cancel(): void {
    if (!this.#now) return;
    const { stroke, region } = this.#now;
    this.#now = undefined;
    this.#effects.cancel(stroke, region);
  }

  /** Forgets where the last stroke ended, when another layer is painted. */
  forgetEnd(): void {
    this.#lastEnd = undefined;
  }

  #add(points: readonly BrushPoint[]): void {
    const now = this.#now as InProgress;
    const numbers = points.flatMap(({ x, y, pressure, timeMs }) => [x, y, pressure, timeMs - now.startedAt]);
    const before = now.points.slice(-POINT_NUMBERS, -POINT_NUMBERS + 2);
    now.points.push(...numbers);
    const reach = now.stroke.size / 2 + 2;
    const xs = [...points.map(({ x }) => x), ...before.slice(0, 1)];
    const ys = [...points.map(({ y }) => y), ...before.slice(1, 2)];
    const region = around(Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys), reach);
    now.region = now.points.length === numbers.length ? region : union(now.region, region);
    this.#effects.extend(now.stroke, Float32Array.from(numbers), region);
  }
}

function around(x0: number, y0: number, x1: number, y1: number, reach: number): Region {
  return { x: x0 - reach, y: y0 - reach, width: x1 - x0 + 2 * reach, height: y1 - y0 + 2 * reach };
}

function union(a: Region, b: Region): Region {
  const x = Math.min(a.x, b.x);
  const y = Math.min(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  };
}
