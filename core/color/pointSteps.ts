import { logTable } from '../kernels/logTable.ts';
import type { RgbFloats } from '../kernels/planes.ts';
import { invert3, type Matrix3, multiply3 } from '../raster/matrix3.ts';
import { BaseSoFar, detailRun } from './baseSteps.ts';
import { lmsMatrix } from './oklab.ts';
import { decodeSrgb, encodeSrgb } from './srgb.ts';
import { type BaseRadius, PLAIN_TOOLS, type Run, type StepTools, type Surroundings } from './surroundings.ts';
import { veilRun } from './veilStep.ts';
import { toneWeights, type WorkingSpace } from './workingSpace.ts';

/** Planes of lightness and the two axes of colour of Oklab, changed in place. */
export type LabChange = (lab: RgbFloats, tools: StepTools) => void;

/** Something that is done to each pixel by itself. Light is linear, 1 being white, and may lie beyond. */
export type PointStep =
  /** A matrix over light. */
  | { step: 'matrix'; matrix: Matrix3 /** By which it brightens everything. */; stops?: number }
  /** Light times what belongs to its luminance: colour stays. */
  | { step: 'gain'; gainOf: (luminance: number) => number }
  /** A curve for each channel, over encoded values. */
  | { step: 'channels'; curves: readonly [Curve, Curve, Curve] }
  /** A change of lightness and colour. */
  | { step: 'lab'; change: LabChange }
  /** Stops of the picture without its detail become others, in order; detail goes with them. */
  | { step: 'base'; onto: (stops: number) => number }
  /** Detail of a radius in scene pixels grows, by a share of itself. */
  | { step: 'detail'; radius: number; amount: number }
  /** A veil of some light is taken away, or laid. */
  | { step: 'veil'; amount: number; veil: readonly [number, number, number] };

/** From an encoded value to another; 0..1, and beyond where light was. */
export type Curve = (encoded: number) => number;

/** Radii of the bases that steps look at, in scene pixels; `picture` for the one that is a share of the picture. */
export function basesOf(steps: readonly PointStep[]): BaseRadius[] {
  const radii = new Set<BaseRadius>();
  for (const each of steps)
    if (each.step === 'base') radii.add('picture');
    else if (each.step === 'detail') radii.add(each.radius);
  return [...radii];
}

/** Light of the veil whose thickness steps look at. */
export const veilOf = (steps: readonly PointStep[]): readonly [number, number, number] | undefined =>
  steps.flatMap((each) => (each.step === 'veil' ? [each.veil] : []))[0];

const NOTHING_AROUND: Surroundings = { bases: new Map() };

/** Steps in a row as one pass over planes of light, in place. Matrices that follow each other are one matrix, curves one table, and
 * changes of lightness and colour are made on one way to Oklab and back. */
export function compileSteps(
  steps: readonly PointStep[],
  space: WorkingSpace,
): (light: RgbFloats, around?: Surroundings, tools?: StepTools) => void {
  const runs: Run[] = [];
  const base = new BaseSoFar();
  for (let at = 0; at < steps.length; ) {
    let end = at + 1;
    while (end < steps.length && steps[end].step === steps[at].step && steps[at].step !== 'gain') end++;
    runs.push(runOf(steps.slice(at, end), space, base));
    at = end;
  }
  return (light, around = NOTHING_AROUND, tools = PLAIN_TOOLS) => {
    for (const run of runs) run(light, around, tools);
  };
}

/** Steps of one kind. */
function runOf(steps: readonly PointStep[], space: WorkingSpace, base: BaseSoFar): Run {
  const [first] = steps;
  for (const each of steps) if (each.step === 'matrix' && each.stops) base.brighten(each.stops);
  switch (first.step) {
    case 'base':
      return base.runOf(steps.flatMap((each) => (each.step === 'base' ? [each.onto] : [])));
    case 'veil':
      return veilRun(first.amount, first.veil);
    case 'detail':
      return detailRun(steps.flatMap((each) => (each.step === 'detail' ? [each] : [])));
    case 'matrix':
      return matrixRun(steps.flatMap((each) => (each.step === 'matrix' ? [each.matrix] : [])));
    case 'gain':
      return gainRun(first.gainOf, toneWeights(space));
    case 'channels':
      return channelsRun(steps.flatMap((each) => (each.step === 'channels' ? [each.curves] : [])));
    case 'lab':
      return labRun(
        steps.flatMap((each) => (each.step === 'lab' ? [each.change] : [])),
        lmsMatrix(space),
      );
  }
}

function matrixRun(matrices: readonly Matrix3[]): Run {
  const all = matrices.reduce((before, next) => multiply3(next, before));
  return (light, _, { kernels }) => kernels.mixChannels(light, all);
}

function gainRun(gainOf: (luminance: number) => number, weights: readonly [number, number, number]): Run {
  const table = logTable(gainOf);
  return (light, _, { kernels, within }) => kernels.gainByLight(within(table), weights, light);
}

function channelsRun(all: readonly (readonly [Curve, Curve, Curve])[]): Run {
  const made: Float32Array[] = [];
  const tables = [0, 1, 2].map((channel) => {
    const alike = [0, 1, 2].slice(0, channel).find((other) => all.every((curves) => curves[other] === curves[channel]));
    made[channel] =
      alike === undefined
        ? logTable((light) => decodeSrgb(all.reduce((value, curves) => curves[channel](value), encodeSrgb(light))))
        : made[alike];
    return made[channel];
  });
  return (light, _, { kernels, within }) => {
    // A curve begins at black: what lies outside the space is black to it.
    for (const [channel, plane] of light.entries()) kernels.mapLight(within(tables[channel]), plane, plane, 0);
  };
}

function labRun(changes: readonly LabChange[], toLms: Matrix3): Run {
  const toLight = invert3(toLms);
  return (planes, _, tools) => {
    const [red, green, blue] = planes;
    tools.kernels.toOklab(red, green, blue, toLms);
    for (const change of changes) change(planes, tools);
    tools.kernels.fromOklab(red, green, blue, toLight);
  };
}
