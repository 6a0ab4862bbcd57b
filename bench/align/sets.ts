import { cornerDistance, normalize } from '#core/align/placement.ts';
import { invert3, type Matrix3, multiply3 } from '#core/raster/matrix3.ts';
import type { Size } from '#core/raster/size.ts';
import { expose, type Placement, placementMatrix, STILL } from '../../demo/camera/camera.ts';
import { RadianceCanvas } from '../../demo/radiance/canvas.ts';

/** Two pictures and how the second lies on the first. */
export interface AlignPair {
  size: Size;
  base: Uint16Array;
  frame: Uint16Array;
  /** Frame pixel to base pixel. */
  truth: Matrix3;
}

/** What is asked of a set. */
export interface AlignSet {
  name: string;
  /** `exact`: 0.15 pixels; `fair`: 0.5 pixels, or an honest failure. */
  asks: 'exact' | 'fair';
  frame: ShotOf;
  base?: ShotOf;
  /** Changes the light before the frame is taken. */
  change?: (light: RadianceCanvas) => RadianceCanvas;
  /** Changes it before both. */
  scene?: (light: RadianceCanvas) => RadianceCanvas;
}

interface ShotOf {
  ev: number;
  iso?: number;
  placement?: Partial<Placement>;
}

const HAND: Placement = { shiftX: 31, shiftY: -25, turnDegrees: 1, zoom: 0.01, tiltX: 0.0006, tiltY: -0.0005 };
const DRIFT: Placement = { ...STILL, shiftX: 1.12, shiftY: 0.87, turnDegrees: 0.006 };

export const ALIGN_SETS: readonly AlignSet[] = [
  { name: 'tripod drift, same exposure', asks: 'exact', frame: { ev: 0, placement: DRIFT } },
  { name: 'tripod drift, 2 stops up', asks: 'exact', frame: { ev: 2, placement: DRIFT } },
  { name: 'tripod drift, 3 stops down', asks: 'exact', frame: { ev: -3, placement: DRIFT } },
  { name: 'hand-held, same exposure', asks: 'exact', frame: { ev: 0, placement: HAND } },
  { name: 'hand-held, 2 stops down', asks: 'exact', frame: { ev: -2, placement: HAND } },
  { name: 'hand-held, 3 stops up', asks: 'exact', frame: { ev: 3, placement: HAND } },
  { name: 'hand-held, 3 stops down', asks: 'exact', frame: { ev: -3, placement: HAND } },
  { name: 'hand-held, 4.5 stops up', asks: 'fair', frame: { ev: 4.5, placement: HAND } },
  { name: 'hand-held, 4.5 stops down', asks: 'fair', frame: { ev: -4.5, placement: HAND } },
  { name: 'hand-held, noise of ISO 12800', asks: 'exact', frame: { ev: -1, iso: 12800, placement: HAND } },
  { name: 'hand-held, a fifth moved', asks: 'fair', frame: { ev: 1, placement: HAND }, change: moved(0.2) },
  { name: 'hand-held, low texture', asks: 'fair', frame: { ev: 1, iso: 400, placement: HAND }, scene: misty },
  { name: 'tripod drift, almost black', asks: 'fair', frame: { ev: -9, placement: DRIFT } },
];

/** Takes the two pictures of a set.
 * @param light - Reaching beyond the picture by as much as the camera moves. */
export function takePair(set: AlignSet, light: RadianceCanvas, size: Size, seed = 1): AlignPair {
  const shotOf = ({ ev, iso = 100, placement }: ShotOf, salt: number) => ({
    ev,
    iso,
    placement: { ...STILL, ...placement },
    seed: seed * 31 + salt,
  });
  const both = set.scene?.(light) ?? light;
  const first = shotOf(set.base ?? { ev: 0 }, 7);
  const second = shotOf(set.frame, 8);
  const quiet = () => undefined;
  return {
    size,
    base: expose(both, first, quiet, 'srgb', size),
    frame: expose(set.change?.(both) ?? both, second, quiet, 'srgb', size),
    truth: normalize(
      multiply3(invert3(placementMatrix(size, first.placement)), placementMatrix(size, second.placement)),
    ),
  };
}

/** The largest distance of a corner from where it belongs. */
export const cornerError = (found: Matrix3, { truth, size }: AlignPair): number => cornerDistance(found, truth, size);

/** Part of the light stands elsewhere: as if a thing with a texture of its own had moved.
 * @param dy - Not negative. */
export function moved(share: number, dx = 23, dy = 9): (light: RadianceCanvas) => RadianceCanvas {
  return (light) => {
    const out = new RadianceCanvas(light.width, light.height);
    out.rgb.set(light.rgb);
    const [w, h] = [Math.floor(light.width * Math.sqrt(share)), Math.floor(light.height * Math.sqrt(share))];
    const [left, top] = [Math.floor(light.width * 0.2), Math.floor(light.height * 0.35)];
    const right = Math.min(light.width - Math.max(0, dx), left + w);
    for (let y = top; y < Math.min(light.height - dy, top + h); y++)
      for (let x = Math.max(left, -dx); x < right; x++)
        for (let channel = 0; channel < 3; channel++)
          out.rgb[(y * light.width + x) * 3 + channel] = light.rgb[((y + dy) * light.width + x + dx) * 3 + channel];
    return out;
  };
}

/** Mist: nearly all contrast gone into an even light. */
export function misty(light: RadianceCanvas): RadianceCanvas {
  const out = new RadianceCanvas(light.width, light.height);
  for (let y = 0; y < light.height; y++)
    for (let x = 0; x < light.width; x++)
      for (let channel = 0; channel < 3; channel++) {
        const at = (y * light.width + x) * 3 + channel;
        out.rgb[at] = 0.04 * Math.min(1, light.rgb[at]) + 0.25 + (0.1 * y) / light.height;
      }
  return out;
}
