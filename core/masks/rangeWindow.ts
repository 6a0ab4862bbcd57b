import { smoothstep } from '../kernels/smoothstep.ts';
import type { Range } from './range.ts';

/** 1 inside a range, falling smoothly to 0 across each shoulder outside it. */
export function rangeWindow({ from, to, fromShoulder, toShoulder }: Range, value: number): number {
  if (value < from) return fromShoulder > 0 ? smoothstep(1 - (from - value) / fromShoulder) : 0;
  if (value > to) return toShoulder > 0 ? smoothstep(1 - (value - to) / toShoulder) : 0;
  return 1;
}

/** Likewise around the circle of hues.
 * @param hue - Degrees. */
export function hueWindow(window: { centre: number; width: number; shoulder: number }, hue: number): number {
  const away = Math.abs(((hue - window.centre + 540) % 360) - 180);
  if (away <= window.width) return 1;
  return window.shoulder > 0 ? smoothstep(1 - (away - window.width) / window.shoulder) : 0;
}
