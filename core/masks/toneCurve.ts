import type { CurvePoint } from './curvePoint.ts';
import { smoothCurve } from './greyCurve.ts';
import type { Range } from './range.ts';
import { rangeWindow } from './rangeWindow.ts';

/** Coverage over tones: a side's own, narrowed, within a range; or a free curve. */
interface Curve extends Range {
  side: 'light' | 'dark' | 'middle' | 'curve';
  curve?: CurvePoint[];
  narrowing: number;
}

/** Coverage of a side before narrowing: light is the tone itself, dark its opposite, middle their product scaled to
 * reach 1 half way (common practice, no source). */
function sideCoverage(side: 'light' | 'dark' | 'middle', tone: number): number {
  if (side === 'light') return tone;
  if (side === 'dark') return 1 - tone;
  return 4 * tone * (1 - tone);
}

/** Coverage of a tone: the side's coverage times itself `narrowing` times more, within the range.
 * @param tone - 0..1, encoded.
 * @returns 0..1. */
export function toneCoverage(curve: Curve, tone: number): number {
  if (curve.side === 'curve') return freeCoverage(curve)(tone);
  return sideCoverage(curve.side, tone) ** (1 + curve.narrowing) * rangeWindow(curve, tone);
}

/** Coverage over tones as drawn; without points the tone itself. */
function freeCoverage({ curve = [] }: Curve): (tone: number) => number {
  if (curve.length < 2) return (tone) => tone;
  const smooth = smoothCurve(curve);
  return (tone) => Math.min(1, Math.max(0, smooth(tone)));
}

/** The difference of coverage that a free curve is let have to what it goes on from, and the most points that it begins with. */
const ALIKE = 0.01;
const MOST_POINTS = 9;

/** Points of a free curve that covers as a part does, to go on from: as few as do. */
export function curveLike(part: Curve): CurvePoint[] {
  const point = (x: number): CurvePoint => ({ x, y: Math.round(1000 * toneCoverage(part, x)) / 1000 });
  const points = [point(0), point(1)];
  while (points.length < MOST_POINTS) {
    const smooth = smoothCurve(points);
    const off = Array.from({ length: 65 }, (_, i) => Math.abs(smooth(i / 64) - toneCoverage(part, i / 64)));
    const worst = off.indexOf(Math.max(...off));
    if (off[worst] < ALIKE) break;
    points.push(point(worst / 64));
    points.sort((a, b) => a.x - b.x);
  }
  return points;
}

/** Codes from one exactly computed tone of a table to the next. */
const STEP = 16;

/** Coverage of all 65,536 tones, in 16 bits. Where no shoulder is near, every sixteenth tone is computed and the others lie
 * on the line between: the curve is so smooth there that this is within a fifth of a step, and takes a tenth of the time. */
export function toneTable(curve: Curve): Uint16Array {
  const table = new Uint16Array(65536);
  const coverage = curve.side === 'curve' ? freeCoverage(curve) : (tone: number) => toneCoverage(curve, tone);
  const exact = (code: number) => 65535 * coverage(code / 65535);
  let known: { code: number; value: number } | undefined;
  for (let start = 0; start < 65536; start += STEP) {
    const end = start + STEP;
    if (touchesShoulder(curve, start / 65535, end / 65535)) {
      for (let code = start; code < end; code++) table[code] = Math.round(exact(code));
      continue;
    }
    const first = known?.code === start ? known.value : exact(start);
    known = { code: end, value: exact(end) };
    const slope = (known.value - first) / STEP;
    for (let i = 0; i < STEP; i++) table[start + i] = first + slope * i + 0.5;
  }
  return table;
}

/** Whether a shoulder, the edge of a range without one, or a point of a free curve lies between two tones. */
function touchesShoulder(
  { side, curve = [], from, to, fromShoulder, toShoulder }: Curve,
  low: number,
  high: number,
): boolean {
  if (side === 'curve') return curve.some(({ x }) => low <= x && x <= high);
  return (low <= from && high >= from - fromShoulder) || (low <= to + toShoulder && high >= to);
}
