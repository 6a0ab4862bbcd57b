/** Passes each way: three boxes are close to a Gaussian. */
const PASSES = 3;

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

/** Blurs a plane with three box passes each way, a close stand-in for a Gaussian.
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
  const box = extendedBox(sigmaPx);
  const rows = { lines: height, length: width, lineStep: width, step: 1 };
  const columns = { lines: width, length: height, lineStep: 1, step: width };
  for (let pass = 0; pass < PASSES; pass++) {
    boxPass(plane, spare, rows, box);
    boxPass(spare, plane, columns, box);
  }
}
