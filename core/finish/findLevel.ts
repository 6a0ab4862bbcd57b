import type { Sketch } from '../checks/sketch.ts';
import type { Size } from '../raster/size.ts';

/** How a picture is askew, as its long edges or its uprights tell. */
export interface FoundLevel {
  /** Degrees by which the picture is straightened so that they are level, or upright. */
  straighten: number;
  /** How sure that is, 0..1: how far their direction stands out from all others. */
  sureness: number;
  /** Edges that run level, or lines that run towards the vanishing point of uprights. */
  along: 'level' | 'upright';
}

/** Degrees that a camera is held askew at most. */
const MOST_DEGREES = 12;
const STEPS_PER_DEGREE = 10;
const ANGLES = 2 * MOST_DEGREES * STEPS_PER_DEGREE + 1;
/** An edge pixel speaks for lines that run within so many degrees of it, the less the farther off. */
const NEAR_STEPS = 4 * STEPS_PER_DEGREE;
/** Gradients below this are noise, those above the other count in full: in levels of 255, summed over a kernel that doubles a step. */
const [LEAST, FULL] = [6, 24];
/** Uprights lean towards each other when a camera looks up or down: by up to so many degrees at the sides, tried in steps. */
const [MOST_CONVERGENCE, CONVERGENCE_STEP] = [9, 1.5];
/** By one line alone, leaning and convergence cannot be told apart: each degree of convergence has to be worth so much. */
const CONVERGENCE_COST = 0.01;
/** How far the best direction stands out from all others where there are no long lines, and where nothing else is to be seen (from trials on the
 * demo's pictures, turned by known angles). */
const [BY_CHANCE, BEYOND_DOUBT] = [0.08, 0.3];
/** Directions within so many degrees of the best are the same. */
const SAME_DEGREES = 1.5;

/** Places of edges, and how much each counts. */
interface EdgePixels {
  x: Float32Array;
  y: Float32Array;
  /** Direction across the edge, in degrees. */
  across: Float32Array;
  weight: Float32Array;
}

/** Finds by how much a picture is askew, by its strongest long edges (a horizon, a waterline) or by its uprights. Edge pixels vote for the lines that
 * they may lie on (Duda and Hart 1972, with the direction of the gradient as O'Gorman and Clowes 1976 use it); of all directions that one is right in
 * which votes gather on few lines. Uprights may run towards a vanishing point (as Barnard, "Interpreting perspective images", 1983, gathers them):
 * the picture is tilted for each that is tried, and they are parallel again.
 * @returns Undefined when there are no edges at all. */
export function findLevel(sketch: Sketch): FoundLevel | undefined {
  const edges = edgesOf(sketch);
  const found = (['level', 'upright'] as const).flatMap((along) => bestOf(edges, sketch, along) ?? []);
  return found.sort((a, b) => b.sureness - a.sureness)[0];
}

/** Pixels that lie on edges. */
function edgesOf({ width, height, rgba }: Sketch): EdgePixels {
  const light = Float32Array.from(
    { length: width * height },
    (_, i) => (rgba[4 * i] + 2 * rgba[4 * i + 1] + rgba[4 * i + 2]) / 4,
  );
  const found: [number, number, number, number][] = [];
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      const [up, down] = [i - width, i + width];
      const across =
        light[i + 1] - light[i - 1] + (light[up + 1] - light[up - 1] + light[down + 1] - light[down - 1]) / 2;
      const downwards =
        light[down] - light[up] + (light[down - 1] - light[up - 1] + light[down + 1] - light[up + 1]) / 2;
      const size = Math.hypot(across, downwards);
      if (size < LEAST) continue;
      found.push([x, y, (Math.atan2(downwards, across) * 180) / Math.PI, Math.min(1, size / FULL)]);
    }
  const column = (at: number) => Float32Array.from(found, (each) => each[at]);
  return { x: column(0), y: column(1), across: column(2), weight: column(3) };
}

/** The direction that stands out most; undefined when nothing runs that way. */
function bestOf(edges: EdgePixels, size: Size, along: FoundLevel['along']): FoundLevel | undefined {
  let best = { at: -1, value: 0, convergence: 0, concentration: new Float32Array(0) as Float32Array };
  const attempt = (convergence: number) => {
    const concentration = concentrationOf(edges, size, along, convergence);
    for (const [at, each] of concentration.entries()) {
      const value = each * (1 - CONVERGENCE_COST * Math.abs(convergence));
      if (value > best.value) best = { at, value, convergence, concentration };
    }
  };
  attempt(0);
  if (along === 'upright') {
    for (let by = CONVERGENCE_STEP; by <= MOST_CONVERGENCE; by += CONVERGENCE_STEP)
      for (const each of [by, -by]) attempt(each);
    const { convergence } = best;
    if (convergence !== 0) for (const by of [-1, 1]) attempt(convergence + (by * CONVERGENCE_STEP) / 3);
  }
  if (best.at < 0) return undefined;
  const { at, concentration } = best;
  const elsewhere = Math.max(
    ...concentration.filter((_, step) => Math.abs(step - at) > SAME_DEGREES * STEPS_PER_DEGREE),
  );
  const standsOut = 1 - elsewhere / concentration[at];
  const sureness = Math.min(1, Math.max(0, (standsOut - BY_CHANCE) / (BEYOND_DOUBT - BY_CHANCE)));
  return { straighten: MOST_DEGREES - middleOfPeak(concentration, at) / STEPS_PER_DEGREE, sureness, along };
}

/** How much of what edges vote for lies on few lines, by direction.
 * @param convergence - Degrees by which lines at the right side lean more than those in the middle; at the left, as much less. */
function concentrationOf(
  { x, y, across, weight }: EdgePixels,
  { width, height }: Size,
  along: FoundLevel['along'],
  convergence: number,
): Float32Array {
  const diagonal = Math.ceil(Math.hypot(width, height));
  const columns = 2 * diagonal + 1;
  const votes = new Float32Array(ANGLES * columns);
  const [cx, cy] = [width / 2, height / 2];
  const tilt = (convergence * Math.PI) / 180 / cx;
  const angles = Array.from(
    { length: ANGLES },
    (_, step) => ((step / STEPS_PER_DEGREE - MOST_DEGREES) * Math.PI) / 180,
  );
  const [cosines, sines] = [angles.map(Math.cos), angles.map(Math.sin)];
  for (let i = 0; i < x.length; i++) {
    // Edges run at right angles to the direction across them: their slope against the axis, -90..90.
    const lean = ((((across[i] + (along === 'level' ? 0 : 90)) % 180) + 180) % 180) - 90;
    if (Math.abs(lean) > MOST_DEGREES + MOST_CONVERGENCE) continue;
    const own = Math.round((lean - (convergence * (x[i] - cx)) / cx + MOST_DEGREES) * STEPS_PER_DEGREE);
    const px = cx + (x[i] - cx) * (1 + tilt * (y[i] - cy));
    const [main, beside] = along === 'level' ? [y[i], -px] : [px, y[i]];
    for (let step = Math.max(0, own - NEAR_STEPS); step <= Math.min(ANGLES - 1, own + NEAR_STEPS); step++) {
      const line = Math.round(main * cosines[step] + beside * sines[step]) + diagonal;
      votes[step * columns + line] += weight[i] * (1 - Math.abs(step - own) / (NEAR_STEPS + 1));
    }
  }
  return Float32Array.from({ length: ANGLES }, (_, step) => {
    let sum = 0;
    for (let k = step * columns; k < (step + 1) * columns; k++) sum += votes[k] ** 3;
    return Math.cbrt(sum);
  });
}

/** Between the steps: the middle of what stands out around a peak. */
function middleOfPeak(values: Float32Array, at: number): number {
  let [sum, weights] = [0, 0];
  for (let step = Math.max(0, at - 3); step <= Math.min(values.length - 1, at + 3); step++) {
    const weight = Math.max(0, values[step] - 0.9 * values[at]);
    sum += weight * step;
    weights += weight;
  }
  return sum / weights;
}
