import { bentPlace, type Lens } from '../raster/lens.ts';
import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import type { Region, Size } from '../raster/size.ts';
import { mapPoint } from './placement.ts';

/** Half a pixel that a frame needs beside a place to be read there, and what it fades in over. */
const EDGE = 2.5;

/** The largest upright rectangle, of the scene's proportions and about its middle or moved off it, that all placed frames cover.
 * @param placed - How frames come into the scene, all being of `size`: frame pixels to scene pixels, and what is straightened then.
 * @returns Undefined when they have no area in common. */
export function commonArea(placed: readonly { placement: Matrix3; lens: Lens }[], size: Size): Region | undefined {
  const moved = placed.map(({ placement, lens }) => ({ toFrame: invert3(placement), lens }));
  const covers = (x: number, y: number) =>
    x >= 0 &&
    y >= 0 &&
    x <= size.width - 1 &&
    y <= size.height - 1 &&
    moved.every(({ toFrame, lens }) => {
      const at = mapPoint(toFrame, bentPlace(lens, size, { x, y }));
      return at.x >= EDGE && at.y >= EDGE && at.x <= size.width - 1 - EDGE && at.y <= size.height - 1 - EDGE;
    });
  if (moved.length === 0) return { x: 0, y: 0, ...size };
  // Each side is pushed out as far as it goes, in turn.
  const box = shrunk(covers, size);
  if (!box) return undefined;
  const fits = (tried: Box) => isCovered(covers, tried);
  for (
    let step = Math.ceil(Math.max(size.width, size.height) / 8);
    step >= 1;
    step = step > 1 ? Math.ceil(step / 2) : 0
  )
    for (let grew = true; grew; ) {
      grew = false;
      for (const side of ['left', 'right', 'top', 'bottom'] as const) {
        const next = { ...box, [side]: box[side] + (side === 'left' || side === 'top' ? -step : step) };
        if (!fits(next)) continue;
        Object.assign(box, next);
        grew = true;
      }
    }
  return { x: box.left, y: box.top, width: box.right - box.left + 1, height: box.bottom - box.top + 1 };
}

interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Places of each side that are looked at: straightened edges are bent, so that corners inside are not enough. */
const SIDE_PLACES = 9;

function isCovered(covers: (x: number, y: number) => boolean, { left, top, right, bottom }: Box): boolean {
  for (let i = 0; i < SIDE_PLACES; i++) {
    const share = i / (SIDE_PLACES - 1);
    const [x, y] = [left + (right - left) * share, top + (bottom - top) * share];
    if (!covers(x, top) || !covers(x, bottom) || !covers(left, y) || !covers(right, y)) return false;
  }
  return true;
}

/** The largest box of the scene's proportions about its middle that is covered. */
function shrunk(covers: (x: number, y: number) => boolean, { width, height }: Size): Box | undefined {
  const at = (share: number): Box => {
    const [x, y] = [Math.round(((1 - share) * (width - 1)) / 2), Math.round(((1 - share) * (height - 1)) / 2)];
    return { left: x, top: y, right: width - 1 - x, bottom: height - 1 - y };
  };
  const fits = (tried: Box) => isCovered(covers, tried);
  let [low, high] = [0, 1];
  if (!fits(at(0))) return undefined;
  for (let i = 0; i < 24; i++) {
    const middle = (low + high) / 2;
    if (fits(at(middle))) low = middle;
    else high = middle;
  }
  return at(low);
}
