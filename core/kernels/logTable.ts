/** Steps within an octave, and the octaves that are tabled: light from 2^-16 to 2^10 of white. */
const STEPS = 256;
const LOWEST = -16;
const HIGHEST = 10;
const SMALLEST = 2 ** LOWEST;
/** Just below the last knot, so that there is one beyond. */
const LARGEST = Math.fround(2 ** HIGHEST - 0.0001);
const KNOTS = (HIGHEST - LOWEST) * STEPS + 1;
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
 * what it is at zero, negative light included; above the largest it is what it is there.
 * @returns Values of all knots, the value at zero, and the slope of that line. */
export function logTable(of: (light: number) => number): Float32Array {
  const table = new Float32Array(KNOTS + 2);
  for (let knot = 0, octave = SMALLEST; knot < KNOTS; octave *= 2)
    for (let step = 0; step < STEPS && knot < KNOTS; step++, knot++) table[knot] = of(octave * (1 + step / STEPS));
  table[KNOTS] = of(0);
  table[KNOTS + 1] = (table[0] - table[KNOTS]) / SMALLEST;
  return table;
}

/** What a table makes of light. */
export function tabledLight(table: Float32Array, light: number): number {
  if (!(light >= SMALLEST)) return table[KNOTS] + table[KNOTS + 1] * light;
  float[0] = Math.min(light, LARGEST);
  const word = bits[0];
  const knot = (word >>> SHIFT) - FIRST;
  const share = (word & (BETWEEN - 1)) / BETWEEN;
  return table[knot] + (table[knot + 1] - table[knot]) * share;
}
