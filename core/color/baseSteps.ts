import { codeTable, MOST_AWAY } from '../kernels/gainByCodes.ts';
import type { Run } from './surroundings.ts';
import { TONE_SPAN, toneOfCode } from './toneCodes.ts';

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
    const gains = codeTable((code) => 2 ** (after(toneOfCode(code)) - before(toneOfCode(code))));
    return (light, { bases }, { kernels, within }) =>
      kernels.gainByCodes(within(gains), bases.get('picture') ?? 0, light);
  }
}

/** Tones are moved away from their bases, by shares of how far they lie from them; beyond four stops by no more. */
export function detailRun(steps: readonly { radius: number; amount: number }[]): Run {
  const tables = steps.map(({ amount }) =>
    codeTable((codes) => 2 ** ((amount * codes * TONE_SPAN) / 65535), -MOST_AWAY, MOST_AWAY),
  );
  return (light, { tones = 0, bases }, { kernels, within }) => {
    for (const [which, { radius }] of steps.entries())
      kernels.gainByDetail(within(tables[which]), tones, bases.get(radius) ?? 0, light);
  };
}
