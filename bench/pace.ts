import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import { quantile } from './measure.ts';

/** Rounds that each thread takes before they wait for each other: about half a millisecond. */
const ROUNDS = 2;

/** Makes the loop, over half a megabyte of floats. Both threads run this very function. What comes out is used, so that the loop cannot be left
 * out. */
function makeLoop(): (rounds: number) => number {
  const length = 32_768;
  const [red, green, blue] = [0.5, 0.25, 0.7].map((value) => new Float32Array(length).fill(value));
  const out = new Float32Array(length);
  return (rounds) => {
    for (let round = 0; round < rounds; round++)
      for (let i = 0; i < length; i++) {
        const sum = 0.2 * red[i] + 0.7 * green[i] + 0.1 * blue[i];
        out[i] = ((0.3 * sum + 0.4) * sum + 0.2) * sum + Math.sqrt(sum) * red[i];
      }
    return out[length - 1];
  };
}

const OTHER = `
  const { parentPort } = require('node:worker_threads');
  const loop = (${makeLoop.toString()})();
  parentPort.on('message', (rounds) => parentPort.postMessage(loop(rounds)));
`;

const loop = makeLoop();

/** The quickest that the loop has been run, in milliseconds, by the number of turns: how it goes when nobody else uses the machine. */
const quickest = new Map<number, number>();
let other: Worker | undefined;

/** A fixed loop that is timed in turn with what is measured: how much slower it goes than it can says how far other work on the
 * machine slows down what is measured beside it. It does what kernels do, sums and roots of floats in the processor's second cache: a processor
 * that does other work at the same time slows that down by half, and a chain of whole numbers, each waiting for the one before, by nothing. Two
 * threads run it and wait for each other again and again, as those do that make a picture of an event: on a busy machine waiting for a processor
 * counts for as much as the rounds. */
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
    let outcome = 0;
    for (let turn = 0; turn < this.#turns; turn++) {
      const answer = once(other, 'message');
      other.postMessage(ROUNDS);
      outcome += loop(ROUNDS);
      outcome += (await answer)[0];
    }
    const time = Number.isNaN(outcome) ? outcome : performance.now() - since;
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
