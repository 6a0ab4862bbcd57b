import { blurPlane } from './boxBlur.ts';
import { narrow, uniformValue, widen } from './convert.ts';
import { layDab } from './dab.ts';
import { drawGrey, drawRgba, tint } from './drawRgba.ts';
import { enlarge } from './enlarge.ts';
import { halveTile } from './halve.ts';
import { countLevels } from './histogram.ts';
import { interleave } from './interleave.ts';
import { joinCoverage } from './joinCoverage.ts';
import type { Kernels } from './kernels.ts';
import { lookUp } from './lookUp.ts';
import { luminance } from './luminance.ts';
import { mixThroughMask } from './mixThroughMask.ts';
import { paintOver } from './paintOver.ts';
import { spreadRows } from './spreadRows.ts';

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
  narrow(values, out) {
    narrow(values, out);
    return uniformValue(out);
  },
  uniformValue,
  joinCoverage,
  invert(plane) {
    for (let i = 0; i < plane.length; i++) plane[i] = 1 - plane[i];
  },
  layDab,
  paintOver,
  luminance,
  lookUp,
  halveTile,
  spreadRows,
  interleave,
  drawRgba,
  drawGrey,
  tint,
  countLevels,
  blurPlane,
  enlarge,
};
