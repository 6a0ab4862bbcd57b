import type { Arena } from '../raster/arena.ts';
import { TILE } from '../raster/size.ts';
import { address, addressOf, defineKernel } from './defineKernel.ts';
import { RECORD_WORDS } from './kernelRoom.ts';

/** How values between samples are found. */
export type Resampling = 'bicubic' | 'lanczos3';

/** Places between two samples that weights are tabled for. A place is rounded to the nearest, 1/2048 of a pixel off at most. */
export const PHASES = 1024;
/** Weights of a phase: of six samples, from two before the place to three after it, and two zeros. */
export const PHASE_NUMBERS = 8;

function sinc(x: number): number {
  return x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x);
}

/** Keys 1981, "Cubic convolution interpolation for digital image processing", eq. 15 (a = -1/2). */
function bicubic(x: number): number {
  const d = Math.abs(x);
  if (d < 1) return 1.5 * d ** 3 - 2.5 * d ** 2 + 1;
  return d < 2 ? -0.5 * d ** 3 + 2.5 * d ** 2 - 4 * d + 2 : 0;
}

/** Sinc windowed by the middle lobe of a wider sinc (Duchon 1979, "Lanczos filtering in one and two dimensions"). */
function lanczos3(x: number): number {
  return Math.abs(x) < 3 ? sinc(x) * sinc(x / 3) : 0;
}

/** Weights of all phases, {@link PHASE_NUMBERS} each. */
export interface PhaseWeights {
  /** Of columns. */
  across: Float32Array;
  /** Of rows, which are weighed first: 32,768ths, negated, since -1 fits 16 bits and 1 does not. They miss a weight by less than a place is rounded by. */
  down: Int16Array;
}

/** What weights of rows count in. */
export const DOWN_ONE = -32768;

/** Weights of all phases, each summing to 1: a whole-pixel shift takes samples as they are, an even area stays even. */
function phaseWeights(resampling: Resampling): PhaseWeights {
  const kernel = resampling === 'bicubic' ? bicubic : lanczos3;
  const across = new Float32Array((PHASES + 1) * PHASE_NUMBERS);
  const down = new Int16Array(across.length);
  for (let phase = 0; phase <= PHASES; phase++) {
    const weights = [-2, -1, 0, 1, 2, 3].map((tap) => kernel(tap - phase / PHASES));
    const sum = weights.reduce((a, b) => a + b, 0);
    across.set(
      weights.map((weight) => weight / sum),
      phase * PHASE_NUMBERS,
    );
    const whole = weights.map((weight) => Math.round((DOWN_ONE * weight) / sum));
    // The weight of the nearest sample takes what rounding leaves.
    whole[phase < PHASES / 2 ? 2 : 3] += DOWN_ONE - whole.reduce((a, b) => a + b, 0);
    down.set(whole, phase * PHASE_NUMBERS);
  }
  return { across, down };
}

/** What a plane of an area holds at a place between its samples, 0..65535, by the places of its weights.
 * @param from - Of the first of six rows and columns that are weighed. */
export function valueBetween(
  plane: Uint16Array,
  side: number,
  from: number,
  { across, down }: PhaseWeights,
  [column, row]: readonly [number, number],
): number {
  let sum = 0;
  for (let tap = 0; tap < 6; tap++) {
    let line = 0;
    for (let upper = 0; upper < 6; upper++) line += plane[from + upper * side + tap] * down[row + upper];
    sum += (line / DOWN_ONE) * across[column + tap];
  }
  return Math.min(65535, Math.max(0, Math.floor(sum + 0.5)));
}

/** Reads a tile out of an area of a picture that it is turned, shifted or tilted against.
 * @param area - One or three planes of `side` x `side` samples and eight more.
 * @param matrix - Homography, row by row, from a tile's pixel to a place in the area, both counted from the centre of
 * their first pixel. Places nearer than two samples to the area's edge, or six to its end, are moved inwards.
 * @param weights - Of {@link heldWeights}.
 * @param out - As many planes of a tile; overwritten, rounded, cut to 0..65535. */
export function warpTile(
  area: readonly Uint16Array[],
  side: number,
  matrix: readonly number[],
  weights: PhaseWeights,
  out: readonly Uint16Array[],
): void {
  const inside = (value: number) => Math.min(side - 6, Math.max(2, value));
  for (let y = 0; y < TILE; y++) {
    for (let x = 0; x < TILE; x++) {
      const w = matrix[6] * x + matrix[7] * y + matrix[8];
      const u = inside((matrix[0] * x + matrix[1] * y + matrix[2]) / w);
      const v = inside((matrix[3] * x + matrix[4] * y + matrix[5]) / w);
      const [left, top] = [Math.floor(u), Math.floor(v)];
      const across = Math.floor((u - left) * PHASES + 0.5) * PHASE_NUMBERS;
      const down = Math.floor((v - top) * PHASES + 0.5) * PHASE_NUMBERS;
      const from = (top - 2) * side + left - 2;
      for (const [index, plane] of area.entries())
        out[index][y * TILE + x] = valueBetween(plane, side, from, weights, [across, down]);
    }
  }
}

/** Weights in an arena. */
export function heldWeights(resampling: Resampling, arena: Arena): PhaseWeights {
  const { across, down } = phaseWeights(resampling);
  const [floats, words] = [arena.floats(across.length), arena.samples(down.length)];
  floats.set(across);
  const wholes = new Int16Array(words.buffer, words.byteOffset, words.length);
  wholes.set(down);
  return { across: floats, down: wholes };
}

export const warpTileKernel = defineKernel(warpTile)({
  compiled: ['warp'],
  bind:
    ({ wasm, room }) =>
    (area, side, matrix, weights, out) => {
      const { words, floats } = room.records(4);
      words.set(area.map(address));
      words.set(out.map(address), 3);
      floats.set(matrix, RECORD_WORDS);
      const { across, down } = weights;
      const at = floats.byteOffset + 4 * RECORD_WORDS;
      const paired = room.areas(area.length * side * side + 8);
      wasm.warp(words.byteOffset, area.length, side, at, address(across), addressOf(down), address(paired));
    },
  samples: {
    'warping a tile': (make) => {
      const area = [0, 1, 2].map(() => make.samples(150 * 150 + 16));
      // A shift by whole eighths: a place between two phases might fall to either.
      return [area, 150, [1, 0, 5.125, 0, 1, 7.75, 0, 0, 1], heldWeights('lanczos3', make.arena), make.rgb()];
    },
  },
  steps: 1,
});
