/** Hues are tabled where lines from grey meet the square whose corners lie on the axes of colour, at so many even steps around it: a division
 * finds the place, where an angle takes a series. Steps are a third of a degree at the axes and two thirds between them. */
export const HUES = 720;
/** The first comes once more at the end. */
export const HUE_KNOTS = HUES + 1;
const SIDE = HUES / 4;

/** The place of a colour's hue, 0 to {@link HUES}; 0 for grey. */
export function hueKnot(a: number, b: number): number {
  const x = Math.abs(a);
  const y = Math.abs(b);
  const side = (y * SIDE) / Math.max(1e-30, x + y);
  const half = a < 0 ? 2 * SIDE - side : side;
  return b < 0 ? HUES - half : half;
}

/** The hue at a place, in degrees. */
export function hueOfKnot(knot: number): number {
  const [sides, share] = [Math.floor(knot / SIDE), (knot % SIDE) / SIDE];
  return (90 * sides + (Math.atan2(share, 1 - share) * 180) / Math.PI) % 360;
}
