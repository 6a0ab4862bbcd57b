import { blurPlane } from './boxBlur.ts';
import { narrow, uniformValue, widen, widenRows } from './convert.ts';
import { coreOf } from './coreFill.ts';
import { layDab } from './dab.ts';
import { drawGrey, drawRgba, tint } from './drawRgba.ts';
import { enlarge } from './enlarge.ts';
import { fillGradient } from './gradient.ts';
import { applyGuided, fitGuided } from './guidedFilter.ts';
import { halvePlane, halveTile } from './halve.ts';
import { countLevels } from './histogram.ts';
import { interleave } from './interleave.ts';
import { joinCoverage } from './joinCoverage.ts';
import type { Kernels } from './kernels.ts';
import { lookUp } from './lookUp.ts';
import { luminance } from './luminance.ts';
import { mixThroughMask } from './mixThroughMask.ts';
import { paintOver } from './paintOver.ts';
import { spreadRows } from './spreadRows.ts';
import { encodeLinear, linearize } from './transferCurve.ts';
import { warpTile } from './warpTile.ts';

/** The twins in TypeScript: the reference that the SIMD kernels are held to. */
export const twinKernels: Kernels = {
  composite(base, layers, out) {
    for (const channel of [0, 1, 2] as const) {
      const [from, to] = [base[channel], out[channel]];
      const mixed = Float32Array.from(from, (value) => value / 65535);
      for (const { upper, mask, opacity } of layers) mixThroughMask(mixed, upper[channel], mask, opacity);
      if (to instanceof Uint16Array) narrow(mixed, to);
      else to.set(mixed.map((value) => value * 65535));
    }
  },
  widen,
  widenRows,
  narrow(values, out) {
    narrow(values, out);
    return uniformValue(out);
  },
  uniformValue,
  joinCoverage,
  joinFromSamples(join, mask, part) {
    const wide = new Float32Array(part.length);
    widen(part, wide);
    joinCoverage(join, mask, wide);
  },
  findCore(mean, meanSquare, amount, from) {
    for (let i = 0; i < mean.length; i++) mean[i] = amount * coreOf(mean[i], meanSquare[i], from);
  },
  joinSamples(join, mask, part, alpha, out) {
    const wide = new Float32Array(mask.length);
    widen(mask, wide);
    joinCoverage(join, wide, part, alpha);
    narrow(wide, out);
    return uniformValue(out);
  },
  invert(plane) {
    for (let i = 0; i < plane.length; i++) plane[i] = 1 - plane[i];
  },
  maxInto(out, other) {
    for (let i = 0; i < out.length; i++) out[i] = Math.max(out[i], other[i]);
  },
  layDab,
  paintOver,
  paintEnlarged(value, alpha, { area, side, offset, step }, target, strength, stencil, fresh) {
    const coverage = new Float32Array(value.length);
    enlarge(area, side, offset, offset, step, coverage);
    paintOver(value, alpha, coverage, target, strength, stencil, fresh);
  },
  joinEnlarged(mask, coverage, target, strength, stencil, out) {
    const [value, alpha] = [new Float32Array(mask.length), new Float32Array(mask.length)];
    twinKernels.paintEnlarged(value, alpha, coverage, target, strength, stencil, true);
    return twinKernels.joinSamples('add', mask, value, alpha, out);
  },
  luminance,
  lookUp,
  halveTile,
  halvePlane,
  spreadRows,
  interleave,
  drawRgba,
  drawGrey,
  tint,
  countLevels,
  blurPlane,
  enlarge,
  fillGradient,
  fitGuided,
  applyGuided,
  linearize,
  encodeLinear,
  warpTile,
};
