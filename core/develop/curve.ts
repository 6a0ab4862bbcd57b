import { z } from 'zod';
import type { Curve as OfValues, PointStep } from '../color/pointSteps.ts';
import { logTable } from '../kernels/logTable.ts';
import { CurvePoint } from '../masks/curvePoint.ts';
import { smoothCurve } from '../masks/greyCurve.ts';
import { onFirstUse } from '../onFirstUse.ts';
import { defineAdjustment } from './defineAdjustment.ts';

const Points = z
  .array(CurvePoint)
  .max(16)
  .refine((points) => points.every(({ x }, i) => i === 0 || x > points[i - 1].x), 'points have to go to the right');
type Points = z.infer<typeof Points>;

/** How far before white the slope is taken with which a curve goes on beyond it. */
const END = 1 / 256;
const same: OfValues = (value) => value;

/** A smooth curve; what lies above white goes on as the curve ends. */
function through(points: Points): OfValues {
  if (points.length < 2) return same;
  const curve = smoothCurve(points);
  const [end, slope] = [curve(1), (curve(1) - curve(1 - END)) / END];
  return (value) => (value > 1 ? end + slope * (value - 1) : curve(Math.max(0, value)));
}

/** Curves over encoded values, for each channel and then for all, and over lightness alone; none is the straight line. */
export const curve = defineAdjustment({
  schema: z.strictObject({ all: Points, red: Points, green: Points, blue: Points, lightness: Points }),
  rest: { all: [], red: [], green: [], blue: [], lightness: [] },
  isAtRest: (settings) => Object.values(settings).every(({ length }) => length < 2),
  rows: [],
  steps: ({ all, red, green, blue, lightness }) => {
    const steps: PointStep[] = [];
    if ([all, red, green, blue].some(({ length }) => length >= 2)) {
      const joined = through(all);
      const [r, g, b] = [red, green, blue].map(through).map(
        (own): OfValues =>
          (value) =>
            joined(own(value)),
      );
      steps.push({ step: 'channels', curves: [r, g, b] });
    }
    if (lightness.length >= 2) {
      const table = onFirstUse(() => logTable(through(lightness)));
      steps.push({ step: 'lab', change: ([l], { kernels, within }) => kernels.mapLight(within(table()), l, l, 0) });
    }
    return steps;
  },
});
