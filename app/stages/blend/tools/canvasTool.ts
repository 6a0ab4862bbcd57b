import type { ScenePoint } from '../../../stores/maskTools.ts';

/** What a tool on the canvas works with. */
export interface ToolContext {
  /** Scene pixels for one pixel of the page. */
  perPixel: () => number;
  /** Shows settings of the open part while they are dragged; then keeps them. */
  preview: (settings: object) => void;
  commit: (settings: object) => void;
  closeDrag: () => void;
  /** The brush has the canvas again. */
  end: () => void;
}

/** A tool: what happens where the pointer goes, in scene pixels. It is made anew whenever it is taken up. */
export interface CanvasTool {
  readonly hint: string;
  /** What has been drawn so far. */
  readonly path: readonly ScenePoint[];
  press: (at: ScenePoint) => void;
  move: (at: ScenePoint) => void;
  release: () => void;
  /** Takes back what the last press began: it was the first of two fingers. */
  lift: () => void;
  /** Gives up what is being drawn; answers whether there was anything. */
  cancel: () => boolean;
  /** Ends what is drawn step by step. */
  close?: () => void;
}

/** A point of a part that can be dragged. */
export interface Handle {
  name: string;
  label: string;
  at: ScenePoint;
  /** Settings of the part with the point elsewhere. */
  move: (to: ScenePoint) => object;
}

/** How a part lies on the picture. */
export interface Drawing {
  /** Spots of the base, each with the same one of a picture that is laid on it. */
  pairs?: readonly { base: ScenePoint; frame?: ScenePoint }[];
  line?: readonly [ScenePoint, ScenePoint];
  polygon?: readonly ScenePoint[];
  ellipse?: { centre: ScenePoint; radiusX: number; radiusY: number; turn: number };
}

/** What the canvas shows of a kind of part, and how one is drawn. */
export interface ShapeTool<Part> {
  handles: (part: Part) => Handle[];
  drawing: (part: Part) => Drawing;
  draw: (context: ToolContext) => CanvasTool;
}

export const distance = (a: ScenePoint, b: ScenePoint): number => Math.hypot(a.x - b.x, a.y - b.y);

/** A pointer that has not moved this many pixels of the page has not moved. */
const LEAST_PX = 3;

/** A tool that is dragged from one point to another.
 * @param settings - What the part becomes. */
export function dragTool(
  hint: string,
  context: ToolContext,
  settings: (from: ScenePoint, to: ScenePoint) => object,
): CanvasTool {
  let from: ScenePoint | undefined;
  return {
    hint,
    path: [],
    press: (at) => {
      from = at;
    },
    move: (to) => {
      if (from && distance(from, to) >= LEAST_PX * context.perPixel()) context.preview(settings(from, to));
    },
    release: () => {
      from = undefined;
      context.closeDrag();
      context.end();
    },
    lift: () => {
      from = undefined;
    },
    cancel: () => {
      const was = from !== undefined;
      from = undefined;
      return was;
    },
  };
}

/** Adds a point to a line, if it is far enough from the last. */
export function extended(path: readonly ScenePoint[], at: ScenePoint, perPixel: number): readonly ScenePoint[] {
  const last = path.at(-1);
  return last && distance(last, at) < LEAST_PX * perPixel ? path : [...path, at];
}
