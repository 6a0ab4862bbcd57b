/** How one channel of what lies above meets that of what lies below, both encoded. What lies above is 0..1; below may lie beyond
 * white, or black, where light is kept: formulas go on there so that what changes nothing within 0..1 changes nothing beyond. */
export type Separable = (below: number, above: number) => number;

const multiply: Separable = (b, a) => b * a;
const screen: Separable = (b, a) => b + a - b * a;
const hardLight: Separable = (b, a) => (a <= 0.5 ? multiply(b, 2 * a) : screen(b, 2 * a - 1));

/** As bright as white, or as what was brighter before. */
const most = (b: number) => Math.max(1, b);
const least = (b: number) => Math.min(0, b);

const colorDodge: Separable = (b, a) => (b <= 0 ? b : a >= 1 ? most(b) : Math.min(most(b), b / (1 - a)));
const colorBurn: Separable = (b, a) => (b >= 1 ? b : a <= 0 ? least(b) : Math.max(least(b), 1 - (1 - b) / a));

function softLight(b: number, a: number): number {
  if (a <= 0.5) return b - (1 - 2 * a) * b * (1 - b);
  const lifted = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
  return b + (2 * a - 1) * (lifted - b);
}

/** Formulas of W3C Compositing and Blending Level 1, section 9.1, by their names there; linear burn, linear light and vivid light are
 * practice of the trade (formulas from memory). */
export const SEPARABLE = {
  multiply,
  screen,
  overlay: (b, a) => hardLight(a, b),
  darken: Math.min,
  lighten: Math.max,
  'color-dodge': colorDodge,
  'color-burn': colorBurn,
  'hard-light': hardLight,
  'soft-light': softLight,
  difference: (b, a) => Math.abs(b - a),
  exclusion: (b, a) => b + a - 2 * b * a,
  'linear-burn': (b, a) => Math.max(least(b), b + a - 1),
  'linear-light': (b, a) => Math.min(most(b), Math.max(least(b), b + 2 * a - 1)),
  'vivid-light': (b, a) => (a <= 0.5 ? colorBurn(b, 2 * a) : colorDodge(b, 2 * a - 1)),
} satisfies Record<string, Separable>;
