import { TILE } from '../raster/size.ts';
import { narrow, uniformValue } from './convert.ts';
import { address, defineKernel, type KernelTools, planeOrValue } from './defineKernel.ts';
import type { SampleMaker } from './sampleMaker.ts';

/** Mean of a square window around every sample, cut off at the plane's edges.
 * @param plane - `width` x `height` samples.
 * @param out - Overwritten; may be `plane`.
 * @param spare - Scratch of the same length.
 * @param radius - Samples each way.
 * @param isExact - Samples of 0..1 and means along rows are rounded so far that sums of them are exact (to two millionths for windows of 9 to 16):
 * running sums would carry the roundings of all that they have passed, and a mean would change with what lies outside its window. */
function windowMean(
  plane: Float32Array,
  out: Float32Array,
  spare: Float32Array,
  width: number,
  height: number,
  radius: number,
  isExact = false,
): void {
  const grid = isExact ? gridOf(radius) : 0;
  const rounded = (from: Float32Array, to: Float32Array) => {
    for (let i = 0; i < from.length; i++) to[i] = Math.fround(from[i] + grid) - grid;
  };
  rounded(plane, out);
  meanAlong(out, spare, { lines: height, length: width, lineStep: width, step: 1 }, radius);
  rounded(spare, spare);
  meanAlong(spare, out, { lines: width, length: height, lineStep: 1, step: width }, radius);
}

/** A number in whose last place sums of a window's samples, 0..1, have room: what is added to it and taken off again is rounded to that. */
const gridOf = (radius: number): number => 1.5 * 2 ** Math.ceil(Math.log2(2 * radius + 1));

interface Lines {
  lines: number;
  length: number;
  lineStep: number;
  step: number;
}

function meanAlong(plane: Float32Array, out: Float32Array, layout: Lines, radius: number): void {
  const { lines, length, lineStep, step } = layout;
  for (let line = 0; line < lines; line++) {
    const start = line * lineStep;
    let sum = 0;
    for (let i = 0; i < Math.min(radius, length); i++) sum += plane[start + i * step];
    for (let i = 0; i < length; i++) {
      if (i + radius < length) sum += plane[start + (i + radius) * step];
      if (i - radius - 1 >= 0) sum -= plane[start + (i - radius - 1) * step];
      const count = Math.min(i + radius, length - 1) - Math.max(i - radius, 0) + 1;
      out[start + i * step] = sum / count;
    }
  }
}

/** What the guided filter works on: an area of a guide and of a mask, and room to work in. All have one length. */
export interface GuidedArea {
  /** The picture that the mask is fitted to, 0..1. */
  guide: Float32Array;
  /** 0..1; overwritten. */
  mask: Float32Array;
  /** Overwritten with the mean slope of every place. */
  slope: Float32Array;
  /** Overwritten with the mean offset of every place. */
  offset: Float32Array;
  /** Scratch. */
  spare: readonly [Float32Array, Float32Array, Float32Array];
  width: number;
  height: number;
}

/** Fits a mask to a guide: finds for every window the line `slope x guide + offset` that comes closest to the mask, and
 * averages the lines of all windows around a place (He, Sun and Tang 2010, "Guided image filtering", eq. 5, 6 and 8).
 * @param radius - Of the window, in samples.
 * @param epsilon - Variance of the guide below which an edge counts as none.
 * @param isExact - See {@link windowMean}; slopes beyond 1 are rounded, too, but sums of them are not exact. */
export function fitGuided(area: GuidedArea, radius: number, epsilon: number, isExact = false): void {
  const { guide, mask, slope, offset, spare, width, height } = area;
  const [meanGuide, meanMask, line] = spare;
  const mean = (plane: Float32Array, out: Float32Array) => windowMean(plane, out, line, width, height, radius, isExact);
  const multiply = (a: Float32Array, b: Float32Array, out: Float32Array) => {
    for (let i = 0; i < out.length; i++) out[i] = a[i] * b[i];
  };
  mean(guide, meanGuide);
  mean(mask, meanMask);
  multiply(guide, mask, slope);
  mean(slope, offset);
  multiply(guide, guide, mask);
  mean(mask, slope);
  for (let i = 0; i < slope.length; i++) {
    const variance = Math.max(0, slope[i] - meanGuide[i] * meanGuide[i]);
    const covariance = offset[i] - meanGuide[i] * meanMask[i];
    slope[i] = covariance / (variance + epsilon);
    offset[i] = meanMask[i] - slope[i] * meanGuide[i];
  }
  mean(slope, slope);
  mean(offset, offset);
}

/** The mask that lines make of a tile's guide, cut to 0..1 (the same paper, eq. 8) and narrowed. The lines may come from a coarser
 * level, the guide from the finest (He and Sun 2015, "Fast guided filter").
 * @param stride - Samples from row to row of slopes and offsets.
 * @returns The one value that all samples have, or -1. */
export function applyGuided(
  slope: Float32Array,
  offset: Float32Array,
  stride: number,
  guide: Uint16Array | number,
  out: Uint16Array,
): number {
  const fitted = Float32Array.from(out, (_, i) => {
    const at = (i % TILE) + Math.floor(i / TILE) * stride;
    return (slope[at] * (typeof guide === 'number' ? guide : guide[i])) / 65535 + offset[at];
  });
  narrow(fitted, out);
  return uniformValue(out);
}

/** Windows of up to this radius are summed anew for every sample. */
const NARROW = 8;

/** The guided filter by compiled steps, or in one go where windows are narrow. */
function fitBySteps(
  wasm: KernelTools<(typeof FIT_STEPS)[number]>['wasm'],
  area: GuidedArea,
  radius: number,
  epsilon: number,
  isExact = false,
): void {
  const { width, height } = area;
  const [guide, mask, slope, offset] = [area.guide, area.mask, area.slope, area.offset].map(address);
  const [meanGuide, meanMask, line] = area.spare.map(address);
  const n = width * height;
  const rows = 6 * (2 * radius + 2) + 4;
  if (!isExact && radius <= NARROW && width >= 2 * radius + 16 && rows <= height) {
    wasm.fitNarrow(guide, mask, slope, offset, width, height, radius, epsilon, meanGuide);
    return;
  }
  const mean = (plane: number, out: number) => {
    wasm.meanRows(plane, line, width, height, radius, isExact ? gridOf(radius) : 0);
    wasm.meanColumns(line, out, width, height, radius);
  };
  mean(guide, meanGuide);
  mean(mask, meanMask);
  wasm.multiply(guide, mask, slope, n);
  mean(slope, offset);
  wasm.multiply(guide, guide, mask, n);
  mean(mask, slope);
  wasm.fitLine(meanGuide, meanMask, slope, offset, epsilon, n);
  mean(slope, slope);
  mean(offset, offset);
}

const FIT_STEPS = ['meanRows', 'meanColumns', 'multiply', 'fitLine', 'fitNarrow'] as const;

function areaOf(make: SampleMaker): GuidedArea {
  const planes = { guide: make.floats(), mask: make.floats(), slope: make.floats(), offset: make.floats() };
  return { ...planes, spare: [make.floats(), make.floats(), make.floats()], width: TILE, height: TILE };
}

export const windowMeanKernel = defineKernel(windowMean)({
  compiled: ['windowMeans'],
  bind:
    ({ wasm }) =>
    (plane, out, spare, width, height, radius, isExact) =>
      void wasm.windowMeans(
        address(plane),
        address(out),
        address(spare),
        width,
        height,
        radius,
        isExact ? gridOf(radius) : 0,
      ),
  samples: {
    'window means, radius 3': (make) => [make.floats(), make.floats(), make.floats(), TILE, TILE, 3],
    'exact window means, radius 3': (make) => [make.floats(), make.floats(), make.floats(), TILE, TILE, 3, true],
    'window means, radius 17': (make) => [make.floats(), make.floats(), make.floats(), TILE, TILE, 17],
  },
  floats: 1e-5,
});

export const fitGuidedKernel = defineKernel(fitGuided)({
  compiled: FIT_STEPS,
  bind:
    ({ wasm }) =>
    (area, radius, epsilon, isExact) =>
      fitBySteps(wasm, area, radius, epsilon, isExact),
  samples: {
    'fitting to a guide, radius 3': (make) => [areaOf(make), 3, 0.01],
    'fitting to a guide, radius 12': (make) => [areaOf(make), 12, 0.01],
    'fitting to a guide exactly, radius 6': (make) => [areaOf(make), 6, 0.01, true],
  },
  floats: 1e-4,
});

export const applyGuidedKernel = defineKernel(applyGuided)({
  compiled: ['applyLine'],
  bind:
    ({ wasm }) =>
    (slope, offset, stride, guide, out) =>
      wasm.applyLine(address(slope), address(offset), 4 * stride, ...planeOrValue(guide), address(out)),
  samples: {
    'applying the fit': (make) => [make.floats(), make.floats(), TILE, make.samples(), make.samples()],
  },
  steps: 1,
});
