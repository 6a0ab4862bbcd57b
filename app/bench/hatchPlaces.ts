import type { ViewTransform } from './viewTransform.ts';

/** A square place of a picture, and which way it is hatched. */
export interface HatchedPlace {
  x: number;
  y: number;
  /** Half its side. */
  reach: number;
  lean: Lean;
}

/** Which way lines run: up to the right, up to the left, or level. */
export type Lean = 'rising' | 'falling' | 'level';

/** Distance of lines in screen pixels, and their widths: light on dark, so that they are seen on any tone and by any eye. */
const PITCH = 6;
const LINES = [
  { width: 3, colour: 'rgb(16 33 30 / 0.75)' },
  { width: 1.2, colour: '#f2f6f4' },
] as const;
const LEANS: readonly Lean[] = ['rising', 'falling', 'level'];

/** Hatches places over a picture on a canvas. */
export function hatchPlaces(
  context: CanvasRenderingContext2D,
  places: readonly HatchedPlace[],
  { scale, offsetX, offsetY }: ViewTransform,
): void {
  for (const lean of LEANS) {
    const own = places.filter((place) => place.lean === lean);
    if (own.length === 0) continue;
    const area = new Path2D();
    for (const { x, y, reach } of own) {
      const side = Math.max(3, 2 * reach * scale);
      area.rect((x - reach) * scale + offsetX, (y - reach) * scale + offsetY, side, side);
    }
    context.save();
    context.clip(area);
    for (const { width, colour } of LINES) {
      context.lineWidth = width;
      context.strokeStyle = colour;
      context.stroke(linesOf(lean, context.canvas));
    }
    context.restore();
  }
}

function linesOf(lean: Lean, { width, height }: { width: number; height: number }): Path2D {
  const lines = new Path2D();
  if (lean === 'level') {
    for (let y = 0; y < height; y += PITCH) {
      lines.moveTo(0, y);
      lines.lineTo(width, y);
    }
    return lines;
  }
  for (let at = -height; at < width + height; at += PITCH * Math.SQRT2) {
    lines.moveTo(at, lean === 'falling' ? 0 : height);
    lines.lineTo(at + height, lean === 'falling' ? height : 0);
  }
  return lines;
}
