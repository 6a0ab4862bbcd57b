import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import { quantile } from './measure.ts';

/** Steps that each thread takes before they wait for each other: about half a millisecond. */
const STEPS = 500_000;

/** Both threads run this very function. Its outcome is used, so that the loop cannot be left out. */
function loop(steps: number): number {
  let state = 1;
  for (let step = 0; step < steps; step++) state = (Math.imul(state, 1664525) + 1013904223) | 0;
  return state;
}

const OTHER = `
  const { parentPort } = require('node:worker_threads');
  const loop = ${loop.toString()};
  parentPort.on('message', (steps) => parentPort.postMessage(loop(steps)));
`;

/** The quickest that the loop has been run, in milliseconds, by the number of turns: how it goes when nobody else uses the machine. */
const quickest = new Map<number, number>();
let other: Worker | undefined;

/** A fixed loop that is timed in turn with what is measured: how much slower it goes than it can says how far other work on the
 * machine slows down what is measured beside it. Two threads run it and wait for each other again and again, as those do that make a
 * picture of an event: on a busy machine waiting for a processor counts for as much as the steps. */
export class Pace {
  readonly #turns: number;
  readonly #times: number[] = [];

  /** @param turns - How often they wait: as many as make the loop about as long as what is measured, since a machine lets short
   * work pass and makes long work wait. */
  constructor(turns: number) {
    this.#turns = turns;
  }

  /** Runs the loop once. */
  async tick(): Promise<void> {
    other ??= new Worker(OTHER, { eval: true });
    other.ref();
    const since = performance.now();
    let states = 0;
    for (let turn = 0; turn < this.#turns; turn++) {
      const answer = once(other, 'message');
      other.postMessage(STEPS);
      states += loop(STEPS);
      states += (await answer)[0];
    }
    const time = Number.isNaN(states) ? states : performance.now() - since;
    // It keeps nobody from ending.
    other.unref();
    this.#times.push(time);
    quickest.set(this.#turns, Math.min(quickest.get(this.#turns) ?? time, time));
  }

  /** How many times slower the loop went than it can, at least 1; of the median of its runs. */
  get slowdown(): number {
    if (this.#times.length === 0) return 1;
    return Math.max(1, quantile(this.#times, 0.5) / (quickest.get(this.#turns) ?? 1));
  }
}
