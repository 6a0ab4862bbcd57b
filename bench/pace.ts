import { quantile } from './measure.ts';

/** Steps of the loop: about a millisecond. */
const STEPS = 1_000_000;

/** The quickest that the loop has been run: how it goes when nobody else uses the machine. */
let quickest = Number.POSITIVE_INFINITY;

/** A fixed loop that is timed in turn with what is measured: how much slower it goes than it can says how far other work on the
 * machine slows down what is measured beside it. */
export class Pace {
  readonly #times: number[] = [];

  /** Runs the loop once. */
  tick(): void {
    const since = performance.now();
    let state = 1;
    for (let step = 0; step < STEPS; step++) state = (Math.imul(state, 1664525) + 1013904223) | 0;
    const time = performance.now() - since;
    // The outcome is looked at, so that the loop cannot be left out.
    this.#times.push(state === 0 ? Number.NaN : time);
    quickest = Math.min(quickest, time);
  }

  /** How many times slower the loop went than it can, at least 1; of the median of its runs. */
  get slowdown(): number {
    return this.#times.length === 0 ? 1 : Math.max(1, quantile(this.#times, 0.5) / quickest);
  }
}
