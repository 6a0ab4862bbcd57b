import { average, RadianceCanvas } from './canvas.ts';

/** Light that a lens scatters: share of the whole, and how wide, in picture heights. */
const GLARE: readonly (readonly [number, number])[] = [
  [0.02, 0.004],
  [0.011, 0.022],
  [0.0016, 0.12],
];

/** What a real lens does to the light: glare round bright places and darker corners. */
function throughLens(canvas: RadianceCanvas): void {
  const { width, height } = canvas;
  for (let channel = 0; channel < 3; channel++) {
    const plane = new Float32Array(width * height);
    for (let i = 0; i < plane.length; i++) plane[i] = canvas.rgb[3 * i + channel];
    for (const [share, wide] of GLARE) {
      const glare = blurSmall(plane, width, height, wide * height);
      addScaled(canvas, channel, glare, share);
    }
  }
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const r2 = (((column + 0.5) / height - width / height / 2) ** 2 + ((row + 0.5) / height - 0.5) ** 2) / 0.8125;
      const fall = 1 / (1 + 0.34 * r2) ** 2;
      for (let channel = 0; channel < 3; channel++) canvas.rgb[(row * width + column) * 3 + channel] *= fall;
    }
  }
}

/** Draws light, averages it to pixels and looks at it through a lens.
 * @param width - Pixels; the picture is 3 : 2.
 * @param finer - How many times finer each way the light is drawn. */
export function drawLight(
  width: number,
  finer: number,
  progress: (share: number) => void,
  paint: (canvas: RadianceCanvas) => void,
): RadianceCanvas {
  const canvas = new RadianceCanvas(width * finer, Math.round((width * 2) / 3) * finer);
  paint(canvas);
  const picture = finer === 1 ? canvas : average(canvas, finer);
  throughLens(picture);
  progress(1);
  return picture;
}

interface SmallPlane {
  plane: Float32Array;
  width: number;
  height: number;
  step: number;
}

/** A wide blur at a coarse grid, which is all that a smooth result needs. */
function blurSmall(plane: Float32Array, width: number, height: number, sigma: number): SmallPlane {
  const step = Math.max(1, Math.floor(sigma / 3));
  const small: SmallPlane = {
    plane: new Float32Array(0),
    width: Math.ceil(width / step),
    height: Math.ceil(height / step),
    step,
  };
  small.plane = new Float32Array(small.width * small.height);
  for (let y = 0; y < small.height; y++) {
    for (let x = 0; x < small.width; x++)
      small.plane[y * small.width + x] = meanOf(plane, width, height, x * step, y * step, step);
  }
  const spare = new Float32Array(small.plane.length);
  const kernel = Array.from(
    { length: 2 * Math.ceil((3 * sigma) / step) + 1 },
    (_, i) => i - Math.ceil((3 * sigma) / step),
  );
  const weights = kernel.map((k) => Math.exp(-0.5 * ((k * step) / sigma) ** 2));
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  const pass = (from: Float32Array, to: Float32Array, dx: number, dy: number) => {
    for (let y = 0; y < small.height; y++) {
      for (let x = 0; x < small.width; x++) {
        let sum = 0;
        for (let i = 0; i < kernel.length; i++) {
          const sx = Math.min(small.width - 1, Math.max(0, x + kernel[i] * dx));
          const sy = Math.min(small.height - 1, Math.max(0, y + kernel[i] * dy));
          sum += weights[i] * from[sy * small.width + sx];
        }
        to[y * small.width + x] = sum / total;
      }
    }
  };
  pass(small.plane, spare, 1, 0);
  pass(spare, small.plane, 0, 1);
  return small;
}

function meanOf(plane: Float32Array, width: number, height: number, x0: number, y0: number, step: number): number {
  let sum = 0;
  let count = 0;
  for (let y = y0; y < Math.min(height, y0 + step); y++)
    for (let x = x0; x < Math.min(width, x0 + step); x++, count++) sum += plane[y * width + x];
  return sum / Math.max(1, count);
}

function addScaled(
  canvas: RadianceCanvas,
  channel: number,
  { plane, width, height, step }: SmallPlane,
  share: number,
): void {
  for (let row = 0; row < canvas.height; row++) {
    const sy = Math.min(height - 1.001, Math.max(0, (row + 0.5) / step - 0.5));
    const y = Math.floor(sy);
    for (let column = 0; column < canvas.width; column++) {
      const sx = Math.min(width - 1.001, Math.max(0, (column + 0.5) / step - 0.5));
      const x = Math.floor(sx);
      const [fx, fy] = [sx - x, sy - y];
      const at = y * width + x;
      const below = at + (height > 1 ? width : 0);
      const value =
        (plane[at] * (1 - fx) + plane[at + 1] * fx) * (1 - fy) + (plane[below] * (1 - fx) + plane[below + 1] * fx) * fy;
      const out = (row * canvas.width + column) * 3 + channel;
      canvas.rgb[out] = canvas.rgb[out] * (1 - share) + value * share;
    }
  }
}
