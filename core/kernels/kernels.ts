import type { Block } from './convert.ts';
import type { FallProfile } from './gradient.ts';
import type { GuidedArea } from './guidedFilter.ts';
import type { Join } from './joinCoverage.ts';
import type { NearColour } from './nearColour.ts';

/** Red, green and blue, 16 bits. */
export type Rgb16 = readonly [Uint16Array, Uint16Array, Uint16Array];

/** Red, green and blue as floats, 0..65535: a picture that is still being mixed and must not be rounded. */
export type RgbFloats = readonly [Float32Array, Float32Array, Float32Array];

/** A picture that lies over others through its mask. */
export interface MaskedLayer {
  upper: Rgb16;
  /** Weight of `upper`, 16 bits; or one value 0..65535 for all. */
  mask: Uint16Array | number;
  /** Factor on the mask, 0..1. */
  opacity: number;
}

/** A stroke's coverage of a tile at a coarser level: `side` x `side` samples, of which the tile begins `offset` from the left
 * and from the top, `step` pixels of the tile for each. */
export interface CoarseCoverage {
  area: Float32Array;
  side: number;
  offset: number;
  step: number;
}

/** All that is computed sample by sample. There are two of each: SIMD in WebAssembly, which works, and a twin in
 * TypeScript, which says what is meant. All planes lie in the shared memory and hold a multiple of 16 samples. */
export interface Kernels {
  /** Layers over a base, rounded once at the end, if at all. `out` may be none of the others. */
  composite(base: Rgb16 | RgbFloats, layers: readonly MaskedLayer[], out: Rgb16 | RgbFloats): void;
  widen(samples: Uint16Array, out: Float32Array): void;
  /** Widens a block of samples to a block of floats; of any size, at any place. */
  widenRows(samples: Uint16Array, out: Float32Array, block: Block): void;
  /** Answers the one value that all samples have, or -1. */
  narrow(values: Float32Array, out: Uint16Array): number;
  uniformValue(samples: Uint16Array): number;
  joinCoverage(join: Join, mask: Float32Array, part: Float32Array, alpha?: Float32Array): void;
  /** Joins a part of samples, which decides as much as it covers. */
  joinFromSamples(join: Join, mask: Float32Array, part: Uint16Array): void;
  /** How far inside a covered area places lie, see `coreOf`, times `amount`; over the means. */
  findCore(mean: Float32Array, meanSquare: Float32Array, amount: number, from: number): void;
  /** Joins a part to a mask of samples and narrows at once; answers as `narrow` does. */
  joinSamples(join: Join, mask: Uint16Array, part: Float32Array, alpha: Float32Array, out: Uint16Array): number;
  invert(plane: Float32Array): void;
  /** Each sample becomes the larger of both. Planes of any length, at any place. */
  maxInto(out: Float32Array, other: Float32Array): void;
  layDab(
    coverage: Float32Array,
    x: number,
    y: number,
    radius: number,
    hardness: number,
    share: number,
    flow: number,
    near?: NearColour,
  ): void;
  paintOver(
    value: Float32Array,
    alpha: Float32Array,
    coverage: Float32Array,
    target: number,
    strength: number,
    stencil: Uint16Array | number,
    fresh: boolean,
  ): void;
  /** Enlarges coverage and paints with it in one go. */
  paintEnlarged(
    value: Float32Array,
    alpha: Float32Array,
    coverage: CoarseCoverage,
    target: number,
    strength: number,
    stencil: Uint16Array | number,
    fresh: boolean,
  ): void;
  /** Enlarges a stroke's coverage and adds what it paints, as the first, to a mask of samples; answers as `narrow` does. */
  joinEnlarged(
    mask: Uint16Array,
    coverage: CoarseCoverage,
    target: number,
    strength: number,
    stencil: Uint16Array | number,
    out: Uint16Array,
  ): number;
  luminance(
    red: Uint16Array,
    green: Uint16Array,
    blue: Uint16Array,
    weights: readonly [number, number, number],
    out: Uint16Array,
  ): void;
  lookUp(table: Uint16Array, samples: Uint16Array, out: Uint16Array): void;
  halveTile(fine: Uint16Array, out: Uint16Array, quarterX: number, quarterY: number): void;
  /** A square plane at half its size, the mean of each two by two; `side` is a multiple of 8. `out` may be `plane`. */
  halvePlane(plane: Float32Array, side: number, out: Float32Array): void;
  /** Spreads a block of interleaved RGB over three tile planes. */
  spreadRows(block: Uint8Array, stride: number, bits: 8 | 16, planes: Rgb16, width: number, rows: number): void;
  /** Three planes as interleaved RGB. */
  interleave(red: Uint16Array, green: Uint16Array, blue: Uint16Array, out: Uint16Array): void;
  drawRgba(red: Uint16Array, green: Uint16Array, blue: Uint16Array, rgba: Uint8ClampedArray): void;
  drawGrey(plane: Uint16Array, rgba: Uint8ClampedArray): void;
  tint(
    rgba: Uint8ClampedArray,
    mask: Uint16Array | number,
    colour: readonly [number, number, number],
    strength: number,
  ): void;
  countLevels(plane: Uint16Array, width: number, height: number, bins: Uint32Array): void;
  /** `width` is a multiple of 4. */
  blurPlane(plane: Float32Array, spare: Float32Array, width: number, height: number, sigmaPx: number): void;
  /** Reads a tile of a finer level out of an area of a coarser one. */
  enlarge(area: Float32Array, side: number, offsetX: number, offsetY: number, step: number, out: Float32Array): void;
  fillGradient(out: Float32Array, start: number, across: number, down: number, profile: FallProfile): void;
  /** `width` is a multiple of 4. */
  fitGuided(area: GuidedArea, radius: number, epsilon: number): void;
  /** What the lines make of a tile's guide, narrowed; answers as `narrow` does.
   * @param stride - Samples from row to row of slopes and offsets.
   * @param guide - One value 0..65535 stands for all. */
  applyGuided(
    slope: Float32Array,
    offset: Float32Array,
    stride: number,
    guide: Uint16Array | number,
    out: Uint16Array,
  ): number;
  linearize(table: Float32Array, samples: Uint16Array, out: Float32Array): void;
  encodeLinear(knots: Float32Array, values: Float32Array, out: Uint16Array): void;
  warpTile(area: Rgb16, side: number, matrix: readonly number[], weights: Float32Array, out: Rgb16): void;
}
