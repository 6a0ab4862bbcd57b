import { type Measure, quantile, wallMs } from './measure.ts';
import { Pace } from './pace.ts';

/** One of several things that a hand waits for. */
interface Waited {
  measure: string;
  bar?: number;
  /** Called before each block of runs, not timed. */
  begin?: () => Promise<void>;
  /** One run, counted from 1 over all blocks. */
  step: (run: number) => Promise<void>;
}

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
  const [only] = await waitsInTurn([{ measure, ...(bar === undefined ? {} : { bar }), step }], 1, runs, ticks);
  return only;
}

/** The same for things that are to be compared: a block of runs of each, in turn, beside one loop. Other work on the machine comes and goes by the
 * minute; so it meets all of them alike.
 * @param runs - In a block. */
export async function waitsInTurn(
  things: readonly Waited[],
  blocks: number,
  runs: number,
  ticks = 1,
): Promise<Measure[]> {
  const pace = new Pace(20);
  const waits = things.map((): number[] => []);
  for (let block = 0; block < blocks; block++)
    for (const [index, { begin, step }] of things.entries()) {
      await begin?.();
      for (let run = 1; run <= runs; run++) {
        for (let tick = 0; tick < ticks; tick++) await pace.tick();
        waits[index].push(await wallMs(() => step(block * runs + run)));
      }
    }
  return things.map(({ measure, bar }, index) => ({
    ...{ measure, value: quantile(waits[index], 0.5), unit: 'ms' as const, pace },
    ...(bar === undefined ? {} : { bar }),
  }));
}
