import {
  COLDEST,
  MOST_TINT,
  WARMEST,
  type White,
  WORKING_WHITE,
  whiteMatrix,
  whiteOfGrey,
} from '../color/whitePoint.ts';
import type { WorkingSpace } from '../color/workingSpace.ts';
import { invert3, times3 } from '../raster/matrix3.ts';
import type { Develop } from './list.ts';

const MOST_STOPS = 8;
const within = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

/** Settings that bring a frame closer to another: less light by a share of the stops that it is brighter by, and a white that takes
 * as large a share of its cast away.
 * @param develop - As it is.
 * @param distance - How it differs from the other as it is developed: stops, and linear light where the other has white.
 * @param share - Of the distance to close, 0..1. */
export function bringCloser(
  develop: Develop,
  { stops, cast }: { stops: number; cast: readonly [number, number, number] },
  share: number,
  space: WorkingSpace,
): { exposure: { stops: number }; whiteBalance: { kelvin: number; tint: number } } {
  const before = (develop.exposure as { stops: number } | undefined)?.stops ?? 0;
  const white = (develop.whiteBalance as White | undefined) ?? WORKING_WHITE;
  const [r, g, b] = cast.map((light) => light ** share);
  const { kelvin, tint } = whiteOfGrey(times3(invert3(whiteMatrix(white, space)), [r, g, b]), space);
  return {
    exposure: { stops: Number(within(before - share * stops, -MOST_STOPS, MOST_STOPS).toFixed(2)) },
    whiteBalance: {
      kelvin: Math.round(within(kelvin, WARMEST, COLDEST)),
      tint: Number(within(tint, -MOST_TINT, MOST_TINT).toFixed(1)),
    },
  };
}
