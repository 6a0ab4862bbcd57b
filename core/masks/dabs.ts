import type { Size } from '../raster/size.ts';
import type { Stroke } from './stroke.ts';

/** Numbers of one stroke point: x and y in scene pixels, pressure 0..1, milliseconds since the stroke began. */
export const POINT_NUMBERS = 4;
/** Numbers of one dab: x, y and radius in scene pixels, share of the strength 0..1. */
export const DAB_NUMBERS = 4;

/** Dabs lie this share of their diameter apart: close enough that a hard edge shows no scallops, and a soft brush, whose
 * slope tells more, no ripple above a three-hundredth. */
const spacingOf = (hardness: number): number => (hardness > 0.5 ? 0.05 : 0.035);

/** Scene pixels from one dab to the next. */
const stepOf = (size: number, hardness: number): number => Math.max(0.5, size * spacingOf(hardness));

type Brush = Pick<Stroke, 'size' | 'pressure' | 'pressureCurve' | 'hardness'>;

/** The dabs of a stroke, laid along its points at even steps. Points can be added while the stroke is painted; the dabs
 * already laid never change. */
export class DabTrail {
  readonly #brush: Brush;
  readonly #within: Size;
  #dabs = new Float32Array(64 * DAB_NUMBERS);
  #count = 0;
  #last: [number, number, number] | undefined;
  /** Scene pixels to go before the next dab. */
  #toNext = 0;

  /** @param within - Size of the picture; dabs that lie wholly beyond it are left out. */
  constructor(brush: Brush, within: Size = { width: Infinity, height: Infinity }) {
    this.#brush = brush;
    this.#within = within;
  }

  get count(): number {
    return this.#count;
  }

  /** The dabs so far, {@link DAB_NUMBERS} each; valid until more points are added. */
  get dabs(): Float32Array {
    return this.#dabs.subarray(0, this.#count * DAB_NUMBERS);
  }

  /** Goes on along more points, {@link POINT_NUMBERS} each. */
  add(points: Float32Array): void {
    for (let i = 0; i + POINT_NUMBERS <= points.length; i += POINT_NUMBERS)
      this.#moveTo(points[i], points[i + 1], points[i + 2]);
  }

  #moveTo(x: number, y: number, pressure: number): void {
    if (!this.#last) {
      this.#lay(x, y, pressure);
      this.#last = [x, y, pressure];
      return;
    }
    const [fromX, fromY, fromPressure] = this.#last;
    const length = Math.hypot(x - fromX, y - fromY);
    const { size, pressure: sets, hardness } = this.#brush;
    // Of an even brush the steps beyond the picture need not be gone one by one.
    const step = sets === 'size' || sets === 'both' ? 0 : stepOf(size, hardness);
    const [enters, leaves] = step > 0 ? this.#seenOf(fromX, fromY, x, y) : [0, 1];
    const skip = (gone: number, to: number) => (gone < to ? gone + step * Math.ceil((to - gone) / step) : gone);
    let gone = skip(this.#toNext, Math.min(1, enters) * length);
    while (gone <= length * Math.min(1, leaves) && length > 0) {
      const t = gone / length;
      gone += this.#lay(fromX + (x - fromX) * t, fromY + (y - fromY) * t, fromPressure + (pressure - fromPressure) * t);
    }
    // The next dab lies past the end.
    if (step > 0 && gone <= length && length > 0) gone += step * (Math.floor((length - gone) / step) + 1);
    this.#toNext = gone - length;
    this.#last = [x, y, pressure];
  }

  /** Lays a dab and answers how far on the next one lies. */
  #lay(x: number, y: number, pressure: number): number {
    const { pressure: sets, pressureCurve } = this.#brush;
    const felt = pressure ** pressureCurve;
    const size = sets === 'size' || sets === 'both' ? this.#brush.size * Math.max(0.02, felt) : this.#brush.size;
    const share = sets === 'strength' || sets === 'both' ? felt : 1;
    this.#toNext = stepOf(size, this.#brush.hardness);
    if (this.#isBeyond(x, y)) return this.#toNext;
    if ((this.#count + 1) * DAB_NUMBERS > this.#dabs.length) {
      const larger = new Float32Array(this.#dabs.length * 2);
      larger.set(this.#dabs);
      this.#dabs = larger;
    }
    this.#dabs.set([x, y, size / 2, share], this.#count * DAB_NUMBERS);
    this.#count++;
    return this.#toNext;
  }

  /** How far beyond its edges a dab's middle may lie to be seen in the picture. */
  get #reach(): number {
    const { width, height } = this.#within;
    // The coarsest level, and four more that a soft brush may be laid at, show a dab this far beyond its radius (`dabMargin`).
    return this.#brush.size / 2 + Math.max(width, height) / 2;
  }

  /** Whether a dab cannot be seen. */
  #isBeyond(x: number, y: number): boolean {
    const reach = this.#reach;
    const { width, height } = this.#within;
    return x + reach < 0 || y + reach < 0 || x - reach > width || y - reach > height;
  }

  /** The shares of a way from and up to which its dabs may be seen (Liang and Barsky 1984, "A new concept and method for line
   * clipping"). */
  #seenOf(fromX: number, fromY: number, x: number, y: number): [number, number] {
    const reach = this.#reach;
    const { width, height } = this.#within;
    if (width === Infinity) return [0, 1];
    let [enters, leaves] = [0, 1];
    for (const [from, by, most] of [
      [fromX, x - fromX, width],
      [fromY, y - fromY, height],
    ]) {
      if (by === 0) {
        if (from < -reach || from > most + reach) return [1, 0];
        continue;
      }
      const ends = [(-reach - from) / by, (most + reach - from) / by];
      enters = Math.max(enters, Math.min(...ends));
      leaves = Math.min(leaves, Math.max(...ends));
    }
    return enters <= leaves ? [enters, leaves] : [1, 0];
  }
}
