import type { Kernels } from '../kernels/kernels.ts';

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

/** The ways to Oklab and back. */
export type LabKernels = Pick<Kernels, 'toOklab' | 'fromOklab'>;

/** A step on planes of light, in place. */
export type Run = (
  red: Float32Array,
  green: Float32Array,
  blue: Float32Array,
  around: Surroundings,
  kernels: LabKernels,
) => void;
