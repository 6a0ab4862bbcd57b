import { type Kernels, twinKernels } from '../kernels/kernels.ts';
import type { RgbFloats } from '../kernels/planes.ts';

/** A plane of tone codes, or the one that it has throughout. */
type Tones = Uint16Array | number;

/** What steps look at besides a pixel: the picture's tones before any step, and those without detail by their radius in scene pixels,
 * `picture` being a share of the picture. */
export interface Surroundings {
  tones?: Tones;
  bases: ReadonlyMap<BaseRadius, Tones>;
  /** How thick a veil lies, 0..65535. */
  veil?: Tones;
}

export type BaseRadius = number | 'picture';

/** What steps are done with. */
export interface StepTools {
  kernels: Kernels;
  /** A table where kernels reach it, until some others have been asked for. */
  within(table: Float32Array): Float32Array;
}

/** For planes that lie anywhere. */
export const PLAIN_TOOLS: StepTools = { kernels: twinKernels, within: (table) => table };

/** A step on planes of light, in place. */
export type Run = (light: RgbFloats, around: Surroundings, tools: StepTools) => void;
