import { levelCount, levelForScale, quarterForScale, type Size } from '#core/raster/size.ts';
import type { Viewport } from '../stores/benchState.ts';

export interface Point {
  x: number;
  y: number;
}

/** Where the picture lies on a canvas: `screen = scene * scale + offset`, in device pixels. */
export interface ViewTransform {
  scale: number;
  offsetX: number;
  offsetY: number;
}

const FIT_MARGIN = 16;
const MIN_SCALE = 1 / 64;
const MAX_SCALE = 16;

/** The scale at which a picture fits a canvas, never above 1.
 * @param canvas - In device pixels. */
export function fitScale(picture: Size, canvas: Size): number {
  return Math.min(
    1,
    (canvas.width - 2 * FIT_MARGIN) / picture.width,
    (canvas.height - 2 * FIT_MARGIN) / picture.height,
  );
}

const fittedScale = (picture: Size, canvas: Size): number => Math.max(MIN_SCALE, fitScale(picture, canvas));

/** The level that a picture is drawn from where it fits a canvas. */
export const levelFitted = (picture: Size, canvas: Size): number =>
  quarterForScale(fittedScale(picture, canvas), levelCount(picture));

/** The level that a picture is drawn from at a scale. Where all of it fits the canvas quarters of levels leave little to be drawn that is not seen;
 * nearer to it whole levels serve many scales, so that panning and zooming find what was drawn before. */
export const levelSeen = (scale: number, picture: Size, canvas: Size): number =>
  (scale <= fittedScale(picture, canvas) ? quarterForScale : levelForScale)(scale, levelCount(picture));

/** The transform of a viewport on a canvas. At whole scales the pixels lie on the screen's own. */
export function transformOf(viewport: Viewport, picture: Size, canvas: Size): ViewTransform {
  const scale = viewport.fit ? fittedScale(picture, canvas) : viewport.scale;
  const x = viewport.fit ? picture.width / 2 : viewport.x;
  const y = viewport.fit ? picture.height / 2 : viewport.y;
  return {
    scale,
    offsetX: Math.round(canvas.width / 2 - x * scale),
    offsetY: Math.round(canvas.height / 2 - y * scale),
  };
}

export function toScene({ scale, offsetX, offsetY }: ViewTransform, screen: Point): Point {
  return { x: (screen.x - offsetX) / scale, y: (screen.y - offsetY) / scale };
}

/** The viewport after zooming so that the scene point under a screen point stays where it is. */
export function zoomAt(now: ViewTransform, canvas: Size, screen: Point, factor: number): Viewport {
  const scale = Math.min(MAX_SCALE, Math.max(MIN_SCALE, now.scale * factor));
  const { x, y } = toScene(now, screen);
  return {
    fit: false,
    scale,
    x: x + (canvas.width / 2 - screen.x) / scale,
    y: y + (canvas.height / 2 - screen.y) / scale,
  };
}

/** The viewport after dragging the picture by screen pixels; its middle stays within the picture. */
export function panBy(now: ViewTransform, picture: Size, canvas: Size, dx: number, dy: number): Viewport {
  const middle = toScene(now, { x: canvas.width / 2 - dx, y: canvas.height / 2 - dy });
  return { fit: false, scale: now.scale, x: clamp(middle.x, picture.width), y: clamp(middle.y, picture.height) };
}

const clamp = (value: number, limit: number): number => Math.min(limit, Math.max(0, value));
