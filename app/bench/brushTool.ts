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

/** What a stroke is painted with. */
export interface Hand {
  /** Its pressure is felt: a pen's, or that of one that the hand's speed stands for. */
  isFelt: boolean;
  /** A pen that is held by its other end. */
  isTurned: boolean;
}

/** What a stroke is painted on. */
export interface Ground {
  /** The frame whose colours it stays on, if the brush is to. */
  keepsTo?: FrameId | null;
  /** It is turned round before it counts, so that a stroke has to do the opposite. */
  isTurned?: boolean;
}

/** What the brush does to the world. */
export interface BrushEffects {
  /** Whether a finished stroke is still the last of what is painted on now: a straight run may go on from its end. */
  isLast: (stroke: Stroke) => boolean;
  /** Whether one that begins now is painted through the same. */
  isThroughSame: (stroke: Stroke) => boolean;
  /** @param replaces - The stroke that it goes on from and takes the place of. */
  begin: (stroke: Stroke, replaces: StrokeId | undefined) => void;
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

/** Milliseconds that lie between a stroke and a straight line that goes on from it, as its points tell. */
const PAUSE_MS = 1;

/** The brush: idle, or with a stroke in progress. Remembers the last stroke, for straight runs. */
export class BrushTool {
  readonly #effects: BrushEffects;
  #now: InProgress | undefined;
  #last: { stroke: Stroke; points: readonly number[] } | undefined;

  constructor(effects: BrushEffects) {
    this.#effects = effects;
  }

  get isPainting(): boolean {
    return this.#now !== undefined;
  }

  /** Where a straight run would go on from; undefined when the last stroke was undone, or something else is painted on. */
  get runsFrom(): { x: number; y: number } | undefined {
    if (this.#now || !this.#last || !this.#effects.isLast(this.#last.stroke)) return undefined;
    const [x, y] = this.#last.points.slice(-POINT_NUMBERS);
    return { x, y };
  }

  /** Starts a stroke; `straight` goes on from where the last one ended, as one stroke with it if the brush is the same.
   * @param on - What it paints on. */
  press(brush: Brush, point: BrushPoint, straight: boolean, on: Ground = {}): void {
    const stroke = strokeOf(brush, on);
    const from = straight && this.runsFrom ? this.#last : undefined;
    const goesOn = from && isSameBrush(from.stroke, stroke) && this.#effects.isThroughSame(from.stroke);
    const before = goesOn ? from.points : (from?.points.slice(-POINT_NUMBERS) ?? []);
    const lastTime = before.at(-1) ?? 0;
    this.#now = {
      stroke,
      points: [],
      startedAt: before.length > 0 ? point.timeMs - lastTime - PAUSE_MS : point.timeMs,
      region: { x: point.x, y: point.y, width: 0, height: 0 },
    };
    this.#effects.begin(stroke, goesOn ? from.stroke.id : undefined);
    const { startedAt } = this.#now;
    this.#add([...pointsOf(before).map((each) => ({ ...each, timeMs: each.timeMs + startedAt })), point]);
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
    this.#last = { stroke, points };
    this.#effects.finish(stroke, Float32Array.from(points));
  }

  /** Gives the stroke up. */
  cancel(): void {
    if (!this.#now) return;
    const { stroke, region } = this.#now;
    this.#now = undefined;
    this.#effects.cancel(stroke, region);
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

/** The brush as a hand uses it: pressure counts where it is felt, and the other end of a pen undoes what its tip does. */
export function brushIn({ isFelt, isTurned }: Hand, brush: Brush): Brush {
  const pressure = isFelt ? brush.pressure : 'none';
  const turned = { reveal: 'hide', hide: 'reveal' } as const;
  const effect =
    isTurned && (brush.effect === 'reveal' || brush.effect === 'hide') ? turned[brush.effect] : brush.effect;
  return { ...brush, pressure, effect };
}

function strokeOf(brush: Brush, { keepsTo: frame, isTurned }: Ground): Stroke {
  const { effect, grey, size, hardness, strength, flow, pressure, pressureCurve, keepTo } = brush;
  const target = effect === 'reveal' ? grey : effect === 'back' ? 0.5 : 0;
  return {
    id: StrokeId.parse(crypto.randomUUID()),
    effect: effect === 'soften' || effect === 'even' ? effect : 'tone',
    target: isTurned ? 1 - target : target,
    size,
    hardness,
    strength,
    flow,
    pressure,
    pressureCurve,
    stencil: null,
    ...(keepTo > 0 && frame ? { keepTo: { frame, tolerance: keepTo } } : {}),
  };
}

const isSameBrush = (a: Stroke, b: Stroke): boolean =>
  JSON.stringify({ ...a, id: '', stencil: null }) === JSON.stringify({ ...b, id: '', stencil: null });

function pointsOf(numbers: readonly number[]): BrushPoint[] {
  return Array.from({ length: numbers.length / POINT_NUMBERS }, (_, i) => {
    const [x, y, pressure, timeMs] = numbers.slice(i * POINT_NUMBERS, (i + 1) * POINT_NUMBERS);
    return { x, y, pressure, timeMs };
  });
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
