import { mapPoint, type Point } from '../align/placement.ts';
import type { Size } from '../raster/size.ts';
import type { Geometry } from '../scene/geometry.ts';
import { turningOf } from './turning.ts';

/** A line drawn on the picture, in scene pixels, along what should be upright or level. */
export interface DrawnLine {
  along: 'upright' | 'level';
  from: Point;
  to: Point;
}

/** Why lines say nothing: they cross within the picture; or what they ask for is more than a picture can be turned or tilted. */
export type LinesFault = 'cross' | 'too-much' | 'short';

type Turned = Pick<Geometry, 'straighten' | 'perspective'>;
type Solution = { turned: Turned } | { fault: LinesFault };

/** Lines shorter than this share of the picture's longer side tell no direction. */
const SHORTEST = 0.02;
const MOST_ROUNDS = 60;

/** How lines are put upright and level: straightened; tilted as well where there are two of a kind.
 * @param geometry - What else is done to the picture. */
export function solveLines(lines: readonly DrawnLine[], size: Size, geometry: Geometry): Solution {
  const shortest = SHORTEST * Math.max(size.width, size.height);
  if (lines.length === 0 || lines.some(({ from, to }) => Math.hypot(to.x - from.x, to.y - from.y) < shortest))
    return { fault: 'short' };
  const [uprights, levels] = [linesOf(lines, 'upright'), linesOf(lines, 'level')];
  if ([uprights, levels].some(anyCross)) return { fault: 'cross' };
  const wants = { vertical: uprights.length > 1, horizontal: levels.length > 1 };
  const names = (['straighten', 'vertical', 'horizontal'] as const).filter(
    (name) => name === 'straighten' || wants[name],
  );
  const geometryAt = (values: readonly number[]): Geometry => {
    const value = (name: (typeof names)[number], usual: number) => {
      const at = names.indexOf(name);
      return at < 0 ? usual : values[at] * (name === 'straighten' ? 45 : 1);
    };
    const { perspective } = geometry;
    const tilted = {
      vertical: value('vertical', perspective.vertical),
      horizontal: value('horizontal', perspective.horizontal),
    };
    return { ...geometry, quarters: 0, crop: null, straighten: value('straighten', 0), perspective: tilted };
  };
  const residuals = (values: readonly number[]) => lines.map((line) => leaning(line, geometryAt(values), size));
  const found = leastSquares(
    residuals,
    names.map(() => 0),
  );
  if (!found || found.some((value) => Math.abs(value) > 1)) return { fault: 'too-much' };
  const { straighten, perspective } = geometryAt(found);
  return { turned: { straighten, perspective } };
}

const linesOf = (lines: readonly DrawnLine[], along: DrawnLine['along']) =>
  lines.filter((line) => line.along === along);

/** How far a line leans from where it should run, as it comes to lie: the sine of the angle. */
function leaning({ along, from, to }: DrawnLine, geometry: Geometry, size: Size): number {
  const turning = turningOf(geometry, size);
  const [a, b] = [mapPoint(turning, from), mapPoint(turning, to)];
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  return (along === 'upright' ? dx : dy) / Math.hypot(dx, dy);
}

/** Gauss and Newton's method with slopes by differences, damped (Levenberg 1944, Marquardt 1963). */
function leastSquares(
  residuals: (values: readonly number[]) => number[],
  start: readonly number[],
): number[] | undefined {
  let [values, damping] = [[...start], 1e-3];
  const cost = (at: readonly number[]) => residuals(at).reduce((sum, each) => sum + each * each, 0);
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const here = residuals(values);
    const slopes = values.map((_, i) => {
      const beside = residuals(values.map((value, k) => (k === i ? value + 1e-5 : value)));
      return beside.map((each, k) => (each - here[k]) / 1e-5);
    });
    const step = solveNormal(slopes, here, damping);
    if (!step) return undefined;
    const next = values.map((value, i) => value + step[i]);
    const isBetter = cost(next) <= cost(values);
    if (isBetter) values = next;
    damping = Math.min(1e6, Math.max(1e-9, damping * (isBetter ? 0.3 : 5)));
    if (isBetter && Math.max(...step.map(Math.abs)) < 1e-10) break;
  }
  return values;
}

/** The step of normal equations by elimination. */
function solveNormal(slopes: readonly number[][], residual: readonly number[], damping: number): number[] | undefined {
  const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, each, i) => sum + each * b[i], 0);
  const rows = slopes.map((own, i) => [
    ...slopes.map((other, k) => dot(own, other) * (i === k ? 1 + damping : 1) + (i === k ? 1e-12 : 0)),
    -dot(own, residual),
  ]);
  for (let i = 0; i < rows.length; i++) {
    const pivot = rows[i][i];
    if (Math.abs(pivot) < 1e-18) return undefined;
    for (let k = i + 1; k < rows.length; k++) {
      const by = rows[k][i] / pivot;
      rows[k] = rows[k].map((value, column) => value - by * rows[i][column]);
    }
  }
  const found: number[] = rows.map(() => 0);
  for (let i = rows.length - 1; i >= 0; i--) {
    const rest = rows[i].slice(i + 1, -1).reduce((sum, value, k) => sum + value * found[i + 1 + k], 0);
    found[i] = ((rows[i].at(-1) as number) - rest) / rows[i][i];
  }
  return found;
}

/** Whether two of some lines have a point in common. */
function anyCross(lines: readonly DrawnLine[]): boolean {
  const side = (a: Point, b: Point, c: Point) => Math.sign((b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x));
  const cross = ({ from: a, to: b }: DrawnLine, { from: c, to: d }: DrawnLine) =>
    side(a, b, c) !== side(a, b, d) && side(c, d, a) !== side(c, d, b);
  return lines.some((line, i) => lines.slice(i + 1).some((other) => cross(line, other)));
}

/** Degrees by which a picture is straightened so that a line is level or upright, whichever is nearer. */
export function straightenBy({ from, to }: Pick<DrawnLine, 'from' | 'to'>): number {
  const angle = (Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI;
  const off = ((((angle + 45) % 90) + 90) % 90) - 45;
  return -off;
}
