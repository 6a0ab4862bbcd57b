/** Steps within an octave, and the octaves that are tabled: light from 2^-16 to 2^10 of white. */
const STEPS = 256;
const LOWEST = -16;
const HIGHEST = 10;
const SMALLEST = 2 ** LOWEST;
const LARGEST = 2 ** HIGHEST;
/** A float's exponent and first eight bits of its fraction number the steps; the rest says how far it lies between two. */
const SHIFT = 15;
const BETWEEN = 2 ** SHIFT;

const float = new Float32Array(1);
const bits = new Uint32Array(float.buffer);
const stepOf = (value: number): number => {
  float[0] = value;
  return bits[0] >>> SHIFT;
};
const FIRST = stepOf(SMALLEST);

/** A function of light, tabled at even steps within each octave; between them lie lines. Below the smallest step it is a line through
 * what it is at zero, negative light included; above the largest it is what it is there. */
export class LogTable {
  readonly #knots: Float32Array;
  readonly #zero: number;
  readonly #slope: number;

  constructor(of: (light: number) => number) {
    const count = (HIGHEST - LOWEST) * STEPS + 1;
    this.#knots = Float32Array.from({ length: count }, (_, knot) =>
      of(SMALLEST * 2 ** Math.floor(knot / STEPS) * (1 + (knot % STEPS) / STEPS)),
    );
    this.#zero = of(0);
    this.#slope = (this.#knots[0] - this.#zero) / SMALLEST;
  }

  at(light: number): number {
    if (!(light >= SMALLEST)) return this.#zero + this.#slope * light;
    const knots = this.#knots;
    if (light >= LARGEST) return knots[knots.length - 1];
    float[0] = light;
    const word = bits[0];
    const knot = (word >>> SHIFT) - FIRST;
    const share = (word & (BETWEEN - 1)) / BETWEEN;
    return knots[knot] + (knots[knot + 1] - knots[knot]) * share;
  }
}
