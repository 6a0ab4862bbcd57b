/** Side of the blocks that are looked at one by one, and how many of them, of the quietest, tell what noise there is: in the others
 * the picture itself varies. */
const BLOCK = 32;
const QUIETEST = 0.3;
/** The median of a normal distribution's absolute values, in deviations. */
const MEDIAN = 0.6745;
/** Blocks that are this dark or bright have lost part of their noise. */
const DARKEST = 10;
const BRIGHTEST = 245;
const LEAST_BLOCKS = 8;

/** Deviations of noise in encoded values, 0..1, in one pixel: of brightness, (r + 2g + b) / 4, and of colour, (r - g) / 2 and (b - g) / 2. */
export interface FrameNoise {
  brightness: number;
  colour: number;
}

/** Measures noise where a picture is smooth, from its finest diagonal detail (Donoho and Johnstone 1994, "Ideal spatial adaptation by
 * wavelet shrinkage": the median of the finest coefficients).
 * @param pieces - Of the picture at full size, four bytes a pixel.
 * @returns Undefined when hardly any of it is neither black nor white. */
export function measureNoise(
  pieces: readonly { rgba: Uint8ClampedArray; width: number; height: number }[],
): FrameNoise | undefined {
  const found: FrameNoise[] = [];
  for (const { rgba, width, height } of pieces)
    for (let top = 0; top + BLOCK <= height; top += BLOCK)
      for (let left = 0; left + BLOCK <= width; left += BLOCK) {
        const block = blockNoise(rgba, width, left, top);
        if (block) found.push(block);
      }
  if (found.length < LEAST_BLOCKS) return undefined;
  const quiet = (pick: (noise: FrameNoise) => number) => {
    const values = found.map(pick).sort((a, b) => a - b);
    return values[Math.floor(values.length * QUIETEST)];
  };
  return { brightness: quiet((noise) => noise.brightness), colour: quiet((noise) => noise.colour) };
}

function blockNoise(rgba: Uint8ClampedArray, width: number, left: number, top: number): FrameNoise | undefined {
  const [brightness, colour]: [number[], number[]] = [[], []];
  let sum = 0;
  const at = { y: [0, 0, 0, 0], u: [0, 0, 0, 0], v: [0, 0, 0, 0] };
  for (let y = top; y < top + BLOCK; y += 2)
    for (let x = left; x < left + BLOCK; x += 2) {
      for (let k = 0; k < 4; k++) {
        const i = 4 * ((y + (k >> 1)) * width + x + (k & 1));
        const [r, g, b] = [rgba[i], rgba[i + 1], rgba[i + 2]];
        at.y[k] = (r + 2 * g + b) / 4;
        at.u[k] = (r - g) / 2;
        at.v[k] = (b - g) / 2;
        sum += at.y[k];
      }
      const diagonal = ([a, b, c, d]: readonly number[]) => Math.abs(a - b - c + d) / 2;
      brightness.push(diagonal(at.y));
      colour.push(diagonal(at.u), diagonal(at.v));
    }
  const mean = sum / BLOCK ** 2;
  if (mean < DARKEST || mean > BRIGHTEST) return undefined;
  return { brightness: deviationOf(brightness) / 255, colour: deviationOf(colour) / 255 };
}

/** Medians of what is counted in whole steps jump: the mean of the middle half does not.
 * For a normal distribution that mean of absolute values lies where the median does, within a twentieth. */
function deviationOf(values: number[]): number {
  values.sort((a, b) => a - b);
  const middle = values.slice(values.length >> 2, values.length - (values.length >> 2));
  return middle.reduce((sum, value) => sum + value, 0) / middle.length / MEDIAN;
}
