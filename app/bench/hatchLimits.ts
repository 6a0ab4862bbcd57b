import { BLOCKED_TO, BLOWN_FROM } from '#core/checks/limits.ts';
import { brightest, type Sketch } from '#core/checks/sketch.ts';
import type { Size } from '#core/raster/size.ts';
import type { ViewTransform } from './viewTransform.ts';

/** Distance of the hatching's lines in screen pixels. */
const PITCH = 7;

/** Where a sketch is blown and where it is blocked, as pictures that are there only in those places. */
interface Places {
  blown: OffscreenCanvas | undefined;
  blocked: OffscreenCanvas | undefined;
}

/** Levels of 255 up to which a place is blocked, and from which on it is blown. */
export interface LimitLevels {
  blockedTo: number;
  blownFrom: number;
}

const USUAL: LimitLevels = { blockedTo: BLOCKED_TO, blownFrom: BLOWN_FROM };

/** Found once for each sketch: while the picture is moved they stay the same. */
const found = new WeakMap<Sketch, Places & { levels: LimitLevels }>();

function placesOf(sketch: Sketch, levels: LimitLevels): Places {
  const known = found.get(sketch);
  if (known && known.levels.blockedTo === levels.blockedTo && known.levels.blownFrom === levels.blownFrom) return known;
  const places = {
    levels: { ...levels },
    blown: maskOf(sketch, (level) => level >= levels.blownFrom),
    blocked: maskOf(sketch, (level) => level <= levels.blockedTo),
  };
  found.set(sketch, places);
  return places;
}

/** Hatches what is blown one way and what is blocked the other, over a picture on a canvas. */
export function hatchLimits(
  context: CanvasRenderingContext2D,
  sketch: Sketch,
  picture: Size,
  transform: ViewTransform,
  levels = USUAL,
): void {
  const { blown, blocked } = placesOf(sketch, levels);
  if (blown) hatch(context, blown, picture, transform, -1, '#10211e');
  if (blocked) hatch(context, blocked, picture, transform, 1, '#e8efec');
}

function hatch(
  context: CanvasRenderingContext2D,
  places: OffscreenCanvas,
  picture: Size,
  { scale, offsetX, offsetY }: ViewTransform,
  lean: 1 | -1,
  color: string,
): void {
  const { width, height } = context.canvas;
  const layer = new OffscreenCanvas(width, height);
  const drawing = layer.getContext('2d');
  if (!drawing) return;
  drawing.imageSmoothingEnabled = false;
  drawing.drawImage(places, offsetX, offsetY, picture.width * scale, picture.height * scale);
  drawing.globalCompositeOperation = 'source-in';
  drawing.strokeStyle = color;
  drawing.lineWidth = 1.5;
  drawing.beginPath();
  for (let at = -height; at < width + height; at += PITCH) {
    drawing.moveTo(at, lean > 0 ? 0 : height);
    drawing.lineTo(at + height, lean > 0 ? height : 0);
  }
  drawing.stroke();
  context.drawImage(layer, 0, 0);
}

/** A picture that is there only where a level is hit; undefined when it is nowhere. */
function maskOf(sketch: Sketch, isHit: (level: number) => boolean): OffscreenCanvas | undefined {
  const { width, height } = sketch;
  const image = new ImageData(width, height);
  let hits = 0;
  for (let pixel = 0; pixel < width * height; pixel++) {
    if (!isHit(brightest(sketch, pixel))) continue;
    image.data[pixel * 4 + 3] = 255;
    hits++;
  }
  if (hits === 0) return undefined;
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d')?.putImageData(image, 0, 0);
  return canvas;
}
