import type { Kernels } from './kernels.ts';

/** What the base of tones is found from: planes of one length. */
export interface BaseArea {
  /** Tones, 0..1. */
  tones: Float32Array;
  /** Overwritten. */
  slope: Float32Array;
  /** Overwritten. */
  offset: Float32Array;
  /** Scratch. */
  spare: readonly [Float32Array, Float32Array, Float32Array];
  width: number;
  height: number;
}

/** Finds lines by which tones, 0..1, become their base, tones without detail whose edges stay: the base of a place is
 * `slope x tone + offset` (He, Sun and Tang 2010, "Guided image filtering", a picture guided by itself). What is flat is smoothed by a
 * weight that falls with the variance of its window (Li and others 2015, "Weighted guided image filtering"), so that an edge is
 * kept almost whole: one of twice the contrast to 94 %, where a fixed weight keeps 80.
 * @param radius - Of the windows, in samples.
 * @param contrast - Standard deviation of tones of which half counts as detail, in their unit. */
export function findBase(
  area: BaseArea,
  radius: number,
  contrast: number,
  { windowMean, squares, baseLines }: Pick<Kernels, 'windowMean' | 'squares' | 'baseLines'>,
): void {
  const { tones, slope, offset, spare, width, height } = area;
  const [mean, square, line] = spare;
  const average = (plane: Float32Array, out: Float32Array) => windowMean(plane, out, line, width, height, radius, true);
  average(tones, mean);
  squares(tones, square);
  average(square, square);
  baseLines(mean, square, contrast ** 4, slope, offset);
  average(slope, slope);
  average(offset, offset);
}
