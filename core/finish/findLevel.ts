import type { Sketch } from '../checks/sketch.ts';

/** The strongest long edge of a picture that is nearly level or upright. */
export interface FoundLevel {
  /** Degrees by which the picture is straightened so that it is. */
  straighten: number;
  /** How sure it is, 0..1: how far it stands out from edges in other directions, and how long it is. */
  sureness: number;
  /** Its ends, in pixels of the sketch. */
  from: { x: number; y: number };
  to: { x: number; y: number };
}

/** Degrees that a camera is held askew at most. */
const MOST_DEGREES = 12;
const STEPS_PER_DEGREE = 10;
const ANGLES = 2 * MOST_DEGREES * STEPS_PER_DEGREE + 1;
/** An edge pixel speaks for lines that run within so many degrees of it. */
const NEAR = 4;
/** Gradients below this share of the strongest are noise. */
const LEAST = 0.12;

/** Finds the edge of the horizon, of a waterline or of a building by which a picture is straightened: edge pixels vote for the lines that they may lie
 * on (Duda and Hart 1972, with the direction of the gradient as O'Gorman and Clowes 1976 use it). */
export function findLevel({ width, height, rgba }: Sketch): FoundLevel | undefined {
  const light = Float32Array.from(
    { length: width * height },
    (_, i) => (rgba[4 * i] + 2 * rgba[4 * i + 1] + rgba[4 * i + 2]) / 4,
  );
  let strongest = 0;
  const gradient = (i: number) => {
    const across =
      light[i + 1] -
      light[i - 1] +
      (light[i + 1 - width] - light[i - 1 - width] + light[i + 1 + width] - light[i - 1 + width]) / 2;
    const down =
      light[i + width] -
      light[i - width] +
      (light[i + width - 1] - light[i - width - 1] + light[i + width + 1] - light[i - width + 1]) / 2;
    return { across, down, size: Math.hypot(across, down) };
  };
  const inner = function* (): Generator<number> {
    for (let y = 1; y < height - 1; y++) for (let x = 1; x < width - 1; x++) yield y * width + x;
  };
  for (const i of inner()) strongest = Math.max(strongest, gradient(i).size);
  if (strongest < 12) return undefined;
  const best = (['level', 'upright'] as const).map((along) => {
    const diagonal = Math.ceil(Math.hypot(width, height));
    const votes = new Float32Array(ANGLES * (2 * diagonal + 1));
    for (const i of inner()) {
      const { across, down, size } = gradient(i);
      if (size < LEAST * strongest) continue;
      // The line runs at right angles to the gradient: its slope against the axis.
      const lean = along === 'level' ? Math.atan2(-across, down) : Math.atan2(down, across);
      const degrees = (((((lean * 180) / Math.PI + 90) % 180) + 180) % 180) - 90;
      if (Math.abs(degrees) > MOST_DEGREES) continue;
      const [x, y] = [i % width, Math.floor(i / width)];
      const weight = Math.min(1, (2 * size) / strongest);
      for (let k = -NEAR * STEPS_PER_DEGREE; k <= NEAR * STEPS_PER_DEGREE; k++) {
        const step = Math.round((degrees + MOST_DEGREES) * STEPS_PER_DEGREE) + k;
        if (step < 0 || step >= ANGLES) continue;
        const angle = ((step / STEPS_PER_DEGREE - MOST_DEGREES) * Math.PI) / 180;
        const away =
          along === 'level' ? y * Math.cos(angle) - x * Math.sin(angle) : x * Math.cos(angle) + y * Math.sin(angle);
        votes[step * (2 * diagonal + 1) + Math.round(away) + diagonal] += weight;
      }
    }
    return peakOf(votes, diagonal, along, { width, height });
  });
  return best.flatMap((each) => each ?? []).sort((a, b) => b.sureness - a.sureness)[0];
}

function peakOf(
  votes: Float32Array,
  diagonal: number,
  along: 'level' | 'upright',
  { width, height }: { width: number; height: number },
): FoundLevel | undefined {
  const columns = 2 * diagonal + 1;
  const most = Array.from({ length: ANGLES }, (_, step) => {
    let [value, at] = [0, 0];
    for (let k = 0; k < columns; k++)
      if (votes[step * columns + k] > value) [value, at] = [votes[step * columns + k], k];
    return { value, at };
  });
  const peak = most.reduce((best, { value }, step) => (value > most[best].value ? step : best), 0);
  const top = most[peak].value;
  const span = along === 'level' ? width : height;
  if (top < span * 0.15) return undefined;
  // Between the steps: the middle of the votes around the peak.
  let [sum, weights] = [0, 0];
  for (let step = Math.max(0, peak - 3); step <= Math.min(ANGLES - 1, peak + 3); step++) {
    const weight = Math.max(0, most[step].value - 0.7 * top);
    sum += weight * step;
    weights += weight;
  }
  const degrees = (weights > 0 ? sum / weights : peak) / STEPS_PER_DEGREE - MOST_DEGREES;
  const elsewhere = Math.max(
    0,
    ...most.filter((_, step) => Math.abs(step - peak) > STEPS_PER_DEGREE).map(({ value }) => value),
  );
  const sureness = Math.min(1, top / span) * (1 - Math.min(1, elsewhere / top));
  const [angle, away] = [(degrees * Math.PI) / 180, most[peak].at - diagonal];
  const ends =
    along === 'level'
      ? [0, width - 1].map((x) => ({ x, y: (away + x * Math.sin(angle)) / Math.cos(angle) }))
      : [0, height - 1].map((y) => ({ x: (away - y * Math.sin(angle)) / Math.cos(angle), y }));
  return { straighten: -degrees, sureness, from: ends[0], to: ends[1] };
}
