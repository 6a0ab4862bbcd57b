import { rememberFew } from '../raster/rememberFew.ts';
import { address, defineKernel } from './defineKernel.ts';

/** Boxes each way: three are close to a Gaussian. */
export const PASSES = 3;

/** A box that may end within a sample: `radius` whole samples each way, and a share `edge` of the next one. */
export interface ExtendedBox {
  radius: number;
  edge: number;
}

/** The box whose three passes have exactly the variance asked for (Gwosdek, Grewenig, Bruhn and Weickert 2011,
 * "Theoretical foundations of Gaussian convolution by extended box filtering", eq. 7 to 9).
 * @param sigmaPx - Standard deviation in pixels, at least 0. */
export function extendedBox(sigmaPx: number): ExtendedBox {
  const variance = (sigmaPx * sigmaPx) / PASSES;
  const radius = Math.floor(0.5 * Math.sqrt(12 * variance + 1) - 0.5);
  const edge =
    ((2 * radius + 1) * (radius * (radius + 1) - 3 * variance)) / (6 * (variance - (radius + 1) * (radius + 1)));
  return { radius, edge };
}

/** What makes a Gaussian: boxes, and a pass that mixes each sample with the two `distance` away, by `weight` each. */
export interface GaussianSteps {
  box: ExtendedBox;
  distance: number;
  weight: number;
}

/** The tails of boxes are too short, by as much as a hundredth of an edge. Two samples farther out lengthen them: their weight is
 * such that the fourth cumulant of all passes together is that of a Gaussian, 0, and the variance the one asked for (cumulants add
 * up under convolution; Kendall and Stuart, "The Advanced Theory of Statistics", chapter 3).
 * @param sigmaPx - Standard deviation in pixels, at least 0. */
export function gaussianSteps(sigmaPx: number): GaussianSteps {
  const variance = sigmaPx * sigmaPx;
  const distance = Math.max(1, Math.round(1.27 * sigmaPx));
  const square = distance * distance;
  const boxOf = (weight: number) => extendedBox(Math.sqrt(Math.max(0, variance - 2 * weight * square)));
  // Three samples of weights w, 1 - 2w, w have variance 2wd^2 and fourth cumulant 2wd^4 (1 - 6w).
  const excess = (weight: number) =>
    2 * weight * square * square * (1 - 6 * weight) + PASSES * fourthCumulant(boxOf(weight));
  let [low, high] = [0, Math.min(1 / 12, variance / (2 * square))];
  for (let step = 0; step < 40; step++) {
    const middle = (low + high) / 2;
    if (excess(middle) < 0) low = middle;
    else high = middle;
  }
  return { box: boxOf(low), distance, weight: low };
}

/** Fourth cumulant of a box: its fourth moment less three times its squared variance. */
function fourthCumulant({ radius, edge }: ExtendedBox): number {
  const moment = (power: number) => {
    let sum = edge * (radius + 1) ** power;
    for (let i = 1; i <= radius; i++) sum += i ** power;
    return (2 * sum) / (2 * radius + 1 + 2 * edge);
  };
  return moment(4) - 3 * moment(2) ** 2;
}

/** Where the lines of a plane lie: `step` samples from one to the next along a line, `lineStep` between lines. */
interface Lines {
  lines: number;
  length: number;
  lineStep: number;
  step: number;
}

/** One box pass along the lines of a plane, repeating the end samples outwards. */
function boxPass(plane: Float32Array, out: Float32Array, layout: Lines, { radius, edge }: ExtendedBox): void {
  const { lines, length, lineStep, step } = layout;
  const weight = 1 / (2 * radius + 1 + 2 * edge);
  for (let line = 0; line < lines; line++) {
    const start = line * lineStep;
    const at = (i: number) => plane[start + Math.min(length - 1, Math.max(0, i)) * step];
    let sum = 0;
    for (let i = -radius; i <= radius; i++) sum += at(i);
    for (let i = 0; i < length; i++) {
      const next = at(i + radius + 1);
      out[start + i * step] = (sum + edge * (at(i - radius - 1) + next)) * weight;
      sum += next - at(i - radius);
    }
  }
}

/** Mixes each sample of the lines of a plane with the two that lie `distance` away, repeating the end samples outwards. */
function tapPass(plane: Float32Array, out: Float32Array, layout: Lines, { distance, weight }: GaussianSteps): void {
  const { lines, length, lineStep, step } = layout;
  for (let line = 0; line < lines; line++) {
    const start = line * lineStep;
    const at = (i: number) => plane[start + Math.min(length - 1, Math.max(0, i)) * step];
    for (let i = 0; i < length; i++)
      out[start + i * step] = at(i) * (1 - 2 * weight) + (at(i - distance) + at(i + distance)) * weight;
  }
}

/** Blurs a plane by a Gaussian: three boxes each way, and a pass that mends their tails.
 * @param plane - `width` x `height` samples; overwritten with the result.
 * @param spare - Scratch of the same length.
 * @param sigmaPx - Standard deviation in pixels. */
export function blurPlane(
  plane: Float32Array,
  spare: Float32Array,
  width: number,
  height: number,
  sigmaPx: number,
): void {
  const steps = gaussianSteps(sigmaPx);
  const rows = { lines: height, length: width, lineStep: width, step: 1 };
  const columns = { lines: width, length: height, lineStep: 1, step: width };
  for (let pass = 0; pass < PASSES; pass++) {
    boxPass(plane, spare, rows, steps.box);
    boxPass(spare, plane, columns, steps.box);
  }
  tapPass(plane, spare, rows, steps);
  tapPass(spare, plane, columns, steps);
}

/** All tiles of a mask ask for the same. */
const stepsOf = rememberFew(64, gaussianSteps);

export const blurPlaneKernel = defineKernel(blurPlane)({
  compiled: ['boxRows', 'boxColumns', 'tapRows', 'tapColumns'],
  bind:
    ({ wasm, room }) =>
    (plane, spare, width, height, sigmaPx) => {
      const { box, distance, weight } = stepsOf(sigmaPx);
      const [from, to] = [address(plane), address(spare)];
      for (let pass = 0; pass < PASSES; pass++) {
        wasm.boxRows(from, to, width, height, box.radius, box.edge, room.line.byteOffset);
        wasm.boxColumns(to, from, width, height, box.radius, box.edge);
      }
      wasm.tapRows(from, to, width, height, distance, weight);
      wasm.tapColumns(to, from, width, height, distance, weight);
    },
  samples: {
    'blurring, sigma 2': (make) => [make.floats(), make.floats(), 128, 128, 2],
    'blurring, sigma 12': (make) => [make.floats(), make.floats(), 128, 128, 12],
  },
  floats: 2e-5,
});
