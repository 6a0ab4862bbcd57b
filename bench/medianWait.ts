import { type Measure, quantile, wallMs } from './measure.ts';
import { Pace } from './pace.ts';

/** How long a hand waits for one thing that it does again and again, beside a loop of fixed work.
 * @param step - One of them, counted from 1.
 * @param ticks - How often the loop is run before each: more where few of them are timed, and long. */
export async function medianWait(
  measure: string,
  bar: number | undefined,
  runs: number,
  step: (run: number) => Promise<void>,
  ticks = 1,
): Promise<Measure> {
  const pace = new Pace(20);
  const waits: number[] = [];
  for (let run = 1; run <= runs; run++) {
    for (let tick = 0; tick < ticks; tick++) await pace.tick();
    waits.push(await wallMs(() => step(run)));
  }
  return { measure, value: quantile(waits, 0.5), unit: 'ms', ...(bar === undefined ? {} : { bar }), pace };
}
