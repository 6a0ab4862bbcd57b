import type { Run } from './surroundings.ts';
import { TONE_SPAN, toneOfCode } from './toneCodes.ts';

/** Codes from one knot of a table to the next, as bits. */
const SHIFT = 6;
const KNOT = 2 ** SHIFT;
const KNOTS = 65536 / KNOT;

/** Factors by 16-bit codes, tabled; between knots lie lines. */
class CodeTable {
  readonly #knots: Float32Array;
  readonly #first: number;

  /** @param first - The lowest code, a multiple of a knot.
   * @param count - Knots beyond it. */
  constructor(of: (code: number) => number, first = 0, count = KNOTS) {
    this.#first = first;
    this.#knots = Float32Array.from({ length: count + 2 }, (_, knot) => of(first + knot * KNOT));
  }

  at(code: number): number {
    const from = code - this.#first;
    const knot = from >> SHIFT;
    const low = this.#knots[knot];
    return low + (this.#knots[knot + 1] - low) * ((from & (KNOT - 1)) / KNOT);
  }
}

const at = (plane: Uint16Array | number | undefined, i: number): number =>
  typeof plane === 'object' ? plane[i] : (plane ?? 0);

/** What steps have made of the base so far: it is found once, of the picture before any of them. */
export class BaseSoFar {
  #now: (stops: number) => number = (stops) => stops;

  brighten(stops: number): void {
    const before = this.#now;
    this.#now = (base) => before(base) + stops;
  }

  /** Light is moved as far as the base that it lies on. */
  runOf(changes: readonly ((stops: number) => number)[]): Run {
    const before = this.#now;
    this.#now = (base) => changes.reduce((stops, onto) => onto(stops), before(base));
    const after = this.#now;
    const gains = new CodeTable((code) => 2 ** (after(toneOfCode(code)) - before(toneOfCode(code))));
    return (red, green, blue, { bases }) => {
      const base = bases.get('picture');
      for (let i = 0; i < red.length; i++) {
        const gain = gains.at(at(base, i));
        red[i] *= gain;
        green[i] *= gain;
        blue[i] *= gain;
      }
    };
  }
}

/** Detail beyond which no more is made of it, in stops. */
const MOST_DETAIL = 4;
const MOST_CODES = (MOST_DETAIL / TONE_SPAN) * 65536;

/** Tones are moved away from their bases, by shares of how far they lie from them. */
export function detailRun(steps: readonly { radius: number; amount: number }[]): Run {
  const tables = steps.map(({ amount }) => {
    const gainOf = (codes: number) => 2 ** ((amount * codes * TONE_SPAN) / 65535);
    return new CodeTable(gainOf, -MOST_CODES, (2 * MOST_CODES) / KNOT);
  });
  return (red, green, blue, { tones, bases }) => {
    for (const [which, { radius }] of steps.entries()) {
      const base = bases.get(radius);
      const table = tables[which];
      for (let i = 0; i < red.length; i++) {
        const codes = at(tones, i) - at(base, i);
        const gain = table.at(Math.min(MOST_CODES, Math.max(-MOST_CODES, codes)));
        red[i] *= gain;
        green[i] *= gain;
        blue[i] *= gain;
      }
    }
  };
}
