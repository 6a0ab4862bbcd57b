type Colour = readonly [number, number, number];

/** How a colour that lies above meets one below, both encoded, 0..1. */
export type NonSeparable = (below: Colour, above: Colour) => Colour;

const map = ([r, g, b]: Colour, change: (value: number) => number): Colour => [change(r), change(g), change(b)];
const luminosityOf = ([r, g, b]: Colour) => 0.3 * r + 0.59 * g + 0.11 * b;
const saturationOf = (colour: Colour) => Math.max(...colour) - Math.min(...colour);

/** A colour of another luminosity, drawn towards it where it would lie beyond 0..1. */
function withLuminosity(colour: Colour, luminosity: number): Colour {
  const moved = map(colour, (value) => value + luminosity - luminosityOf(colour));
  const [low, high] = [Math.min(...moved), Math.max(...moved)];
  const drawn =
    low < 0 ? map(moved, (value) => luminosity + ((value - luminosity) * luminosity) / (luminosity - low)) : moved;
  if (high <= 1) return drawn;
  return map(drawn, (value) => luminosity + ((value - luminosity) * (1 - luminosity)) / (high - luminosity));
}

/** A colour of another saturation, from its least channel up; grey stays. */
function withSaturation(colour: Colour, saturation: number): Colour {
  const [low, own] = [Math.min(...colour), saturationOf(colour)];
  return own > 0 ? map(colour, (value) => ((value - low) * saturation) / own) : [0, 0, 0];
}

/** Formulas of W3C Compositing and Blending Level 1, section 9.2, by their names there. */
export const NON_SEPARABLE = {
  hue: (below, above) => withLuminosity(withSaturation(above, saturationOf(below)), luminosityOf(below)),
  saturation: (below, above) => withLuminosity(withSaturation(below, saturationOf(above)), luminosityOf(below)),
  color: (below, above) => withLuminosity(above, luminosityOf(below)),
  luminosity: (below, above) => withLuminosity(below, luminosityOf(above)),
} satisfies Record<string, NonSeparable>;

/** Those that keep the light of what lies below: of a colour beyond white they change one that is white at most, and make it as bright
 * again. */
export const KEEPS_LIGHT: ReadonlySet<string> = new Set<keyof typeof NON_SEPARABLE>(['hue', 'saturation', 'color']);
