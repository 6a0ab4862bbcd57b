import type { ScenePoint } from '../../../stores/maskTools.ts';
import type { CanvasTool, ToolContext } from './canvasTool.ts';

interface CurvePoint {
  x: number;
  y: number;
}

/** The curve that a tone of the picture is set on. */
export interface PickedCurve {
  /** The tone at a place as it comes to the curve, 0..1; undefined where there is none. */
  toneAt: (at: ScenePoint) => Promise<number | undefined>;
  points: () => readonly CurvePoint[];
  /** What the curve makes of a tone now. */
  valueOf: (x: number) => number;
  preview: (points: CurvePoint[]) => void;
}

/** So many pixels of the page lift a tone from black to white. */
const WHOLE_PX = 400;
/** A point so near is taken rather than another one set. */
const NEAR = 0.03;
const MOST_POINTS = 16;

/** The points with one at a tone: one that is near already, or a new one on the curve; undefined when there are too many. */
export function withPointAt(
  points: readonly CurvePoint[],
  x: number,
  y: number,
): { points: CurvePoint[]; index: number } | undefined {
  const drawn =
    points.length >= 2
      ? [...points]
      : [
          { x: 0, y: 0 },
          { x: 1, y: 1 },
        ];
  const near = drawn.findIndex((point) => Math.abs(point.x - x) < NEAR);
  if (near >= 0) return { points: drawn, index: near };
  if (drawn.length >= MOST_POINTS) return undefined;
  const index = drawn.filter((point) => point.x < x).length;
  return { points: drawn.toSpliced(index, 0, { x, y }), index };
}

/** A tone of the picture is pressed and dragged up or down: it becomes a point of the curve, and goes with the hand. */
export function curveTool(hint: string, { perPixel, closeDrag }: ToolContext, curve: PickedCurve): CanvasTool {
  let from: ScenePoint | undefined;
  let to: ScenePoint | undefined;
  let held: { points: CurvePoint[]; index: number } | undefined;
  let press = 0;

  function show(): void {
    if (!from || !to || !held) return;
    const { points, index } = held;
    const y = points[index].y + (from.y - to.y) / perPixel() / WHOLE_PX;
    const moved = { ...points[index], y: Math.round(1e4 * Math.min(1, Math.max(0, y))) / 1e4 };
    curve.preview(points.with(index, moved));
  }
  function end(): void {
    from = undefined;
    held = undefined;
    press++;
  }
  return {
    hint,
    path: [],
    press: (at) => {
      const mine = ++press;
      [from, to, held] = [at, at, undefined];
      void curve.toneAt(at).then((x) => {
        if (mine !== press || x === undefined) return;
        const rounded = Math.round(1e4 * x) / 1e4;
        held = withPointAt(curve.points(), rounded, Math.round(1e4 * curve.valueOf(rounded)) / 1e4);
        show();
        if (!from) closeDrag();
      });
    },
    move: (at) => {
      to = at;
      show();
    },
    release: () => {
      // A click that is over before its tone is known still sets the point.
      from = held ? undefined : from;
      if (!held) return;
      held = undefined;
      closeDrag();
    },
    lift: end,
    cancel: () => {
      const was = from !== undefined;
      end();
      return was;
    },
  };
}
