import { address, defineKernel } from './defineKernel.ts';

/** How many samples to each side of its middle a Gaussian is summed over: what lies beyond is less than a ten-thousandth of it.
 * @param sigmaPx - Standard deviation in pixels. */
export const gaussianReach = (sigmaPx: number): number => Math.ceil(4 * sigmaPx) + 1;

/** Weights of a Gaussian for samples, from its middle outwards: the discrete one, whose variance is exactly the one asked for, however narrow it
 * is (Lindeberg 1990, "Scale-space for discrete signals"): e^-t times modified Bessel functions of t, found downwards from orders that are
 * nothing (J. C. P. Miller's way; Abramowitz and Stegun, "Handbook of Mathematical Functions", 9.12).
 * @param sigmaPx - Standard deviation in pixels, above 0.
 * @returns One more than {@link gaussianReach}; with those of the other side they add up to 1. */
export function gaussianTaps(sigmaPx: number): Float32Array {
  const variance = sigmaPx * sigmaPx;
  const reach = gaussianReach(sigmaPx);
  const orders = new Float64Array(reach + 1);
  let [above, here] = [0, 1e-250];
  for (let order = 2 * reach + 20; order >= 0; order--) {
    if (order <= reach) orders[order] = here;
    [above, here] = [here, above + ((2 * order) / variance) * here];
    if (here < 1e250) continue;
    // Only how they lie to each other counts.
    [above, here] = [above * 1e-250, here * 1e-250];
    for (let known = order; known <= reach; known++) orders[known] *= 1e-250;
  }
  const whole = orders.reduce((sum, value) => sum + 2 * value, -orders[0]);
  return Float32Array.from(orders, (value) => value / whole);
}

/** Weights from the middle outwards: of a sample itself, then of the `reach` to each side, at least one. */
export interface Around {
  taps: Float32Array;
  reach: number;
  /** What 1 becomes. */
  unit: number;
}

/** A part of a plane. */
export interface Part {
  x: number;
  y: number;
  /** A multiple of 4. */
  width: number;
  height: number;
}

/** Sums a part of a plane by weights along rows and columns: each sample and those around it, which all have to be there.
 * @param stride - Samples of a row of the plane.
 * @param spare - Scratch: as many rows of the part as are looked at.
 * @param out - The part; overwritten. */
export function weighAround(
  { taps, reach, unit }: Around,
  plane: Float32Array,
  stride: number,
  { x, y, width, height }: Part,
  spare: Float32Array,
  out: Float32Array,
): void {
  const sum = (from: Float32Array, at: number, apart: number) => {
    let all = from[at] * taps[0];
    for (let tap = 1; tap <= reach; tap++) all += taps[tap] * (from[at - tap * apart] + from[at + tap * apart]);
    return all;
  };
  for (let row = 0; row < height + 2 * reach; row++)
    for (let column = 0; column < width; column++)
      spare[row * width + column] = sum(plane, (y - reach + row) * stride + x + column, 1);
  for (let at = 0; at < width * height; at++) out[at] = unit * sum(spare, at + reach * width, width);
}

const aroundOf = (sigmaPx: number, table: (count: number, value: (i: number) => number) => Float32Array): Around => {
  const taps = gaussianTaps(sigmaPx);
  return { taps: table(taps.length, (i) => taps[i]), reach: taps.length - 1, unit: 1 };
};

export const weighAroundKernel = defineKernel(weighAround)({
  compiled: ['weighAround'],
  bind:
    ({ wasm }) =>
    ({ taps, reach, unit }, plane, stride, { x, y, width, height }, spare, out) => {
      const at = address(plane) + 4 * (y * stride + x);
      wasm.weighAround(address(taps), reach, at, stride, width, height, unit, address(spare), address(out));
    },
  samples: {
    'a Gaussian around, sigma 6.25': (make) => [
      aroundOf(6.25, (count, value) => make.table(count, value)),
      make.floats(92 * 92),
      92,
      { x: 29, y: 29, width: 36, height: 34 },
      make.floats(92 * 36),
      make.floats(36 * 34),
    ],
    'a Gaussian around, sigma 0.5': (make) => [
      { ...aroundOf(0.5, (count, value) => make.table(count, value)), unit: 255 },
      make.floats(144 * 144),
      144,
      { x: 6, y: 6, width: 128, height: 130 },
      make.floats(144 * 128),
      make.floats(130 * 128),
    ],
  },
  floats: 2e-4,
});
