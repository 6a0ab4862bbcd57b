import type { CurvePoint } from './curvePoint.ts';

/** Greys that become black and white, and the power of what lies between; and a curve after that, if it has points. */
interface Greys {
  levels: { black: number; white: number; gamma: number };
  curve: readonly CurvePoint[];
}

/** A smooth curve through points that never turns back between them: Hermite pieces whose slopes are limited so that they rise and
 * fall only where the points do (Fritsch and Carlson 1980, "Monotone piecewise cubic interpolation", section 4). Beyond the
 * first and the last point it is level.
 * @param points - At least two, their x rising. */
export function smoothCurve(points: readonly { x: number; y: number }[]): (x: number) => number {
  const n = points.length;
  const slopes = points.slice(1).map((point, i) => (point.y - points[i].y) / Math.max(1e-9, point.x - points[i].x));
  const tangents = points.map((_, i) => {
    if (i === 0) return slopes[0];
    if (i === n - 1) return slopes[n - 2];
    return slopes[i - 1] * slopes[i] <= 0 ? 0 : (slopes[i - 1] + slopes[i]) / 2;
  });
  for (let i = 0; i < n - 1; i++) {
    if (slopes[i] === 0) {
      tangents[i] = 0;
      tangents[i + 1] = 0;
      continue;
    }
    const [a, b] = [tangents[i] / slopes[i], tangents[i + 1] / slopes[i]];
    const length = Math.hypot(a, b);
    if (length <= 3) continue;
    tangents[i] = (3 * a * slopes[i]) / length;
    tangents[i + 1] = (3 * b * slopes[i]) / length;
  }
  return (x) => {
    if (x <= points[0].x) return points[0].y;
    if (x >= points[n - 1].x) return points[n - 1].y;
    const i = points.findIndex((point, k) => k > 0 && x <= point.x) - 1;
    const width = Math.max(1e-9, points[i + 1].x - points[i].x);
    const t = (x - points[i].x) / width;
    const [t2, t3] = [t * t, t * t * t];
    return (
      (2 * t3 - 3 * t2 + 1) * points[i].y +
      (t3 - 2 * t2 + t) * width * tangents[i] +
      (3 * t2 - 2 * t3) * points[i + 1].y +
      (t3 - t2) * width * tangents[i + 1]
    );
  };
}

/** Coverage after levels and curve.
 * @param grey - 0..1.
 * @returns 0..1. */
function shaped({ levels }: Greys, curve: ((x: number) => number) | undefined, grey: number): number {
  const { black, white, gamma } = levels;
  // Black and white in one place are a threshold.
  const spread = white === black ? (grey >= white ? 1 : 0) : (grey - black) / (white - black);
  const leveled = Math.min(1, Math.max(0, spread)) ** (1 / gamma);
  return Math.min(1, Math.max(0, curve ? curve(leveled) : leveled));
}

export const hasShape = ({ levels, curve }: Greys): boolean =>
  levels.black !== 0 || levels.white !== 1 || levels.gamma !== 1 || curve.length >= 2;

/** Levels and curve of all 65,536 greys. */
export function shapeTable(greys: Greys): Uint16Array {
  const curve = greys.curve.length >= 2 ? smoothCurve(greys.curve) : undefined;
  return Uint16Array.from({ length: 65536 }, (_, code) => Math.round(65535 * shaped(greys, curve, code / 65535)));
}

/** Inversion and strength of all 65,536 greys. */
export function finishTable({ inverted, strength }: { inverted: boolean; strength: number }): Uint16Array {
  return Uint16Array.from({ length: 65536 }, (_, code) => Math.round(strength * (inverted ? 65535 - code : code)));
}
