import { converter, formatHex, parse } from 'culori';
import { decodeSrgb, encodeSrgb } from '#core/color/srgb.ts';
import { betweenSpaces, type WorkingSpace } from '#core/color/workingSpace.ts';
import { times3 } from '#core/raster/matrix3.ts';

/** Encoded red, green and blue of the scene's working space, 0..1. */
export type Encoded = [number, number, number];

/** Lightness 0..1, chroma, hue in degrees, of Oklab. */
export interface Oklch {
  l: number;
  c: number;
  h: number;
}

const toLight = converter('lrgb');
const toOklch = converter('oklch');
const cut = (value: number) => Math.min(1, Math.max(0, value));

const encodedOf = (light: readonly [number, number, number], space: WorkingSpace): Encoded =>
  times3(betweenSpaces('srgb', space), light).map((value) => encodeSrgb(cut(value))) as Encoded;
const lightOf = (colour: Encoded, space: WorkingSpace) =>
  times3(betweenSpaces(space, 'srgb'), colour.map(decodeSrgb) as Encoded);

/** A colour that was typed: hex, hsl(), oklch(), or a name of CSS. What the space does not hold is cut off; undefined for no colour. */
export function colourOfText(text: string, space: WorkingSpace): Encoded | undefined {
  const found = parse(text.trim()) ?? parse(`#${text.trim()}`);
  if (!found) return undefined;
  const { r, g, b } = toLight(found);
  return encodedOf([r, g, b], space);
}

/** In hex where sRGB holds it, as oklch() where it does not. */
export function textOfColour(colour: Encoded, space: WorkingSpace): string {
  const light = lightOf(colour, space);
  const isHeld = light.every((value) => value > -0.0005 && value < 1.0005);
  if (isHeld) return formatHex({ mode: 'lrgb', r: light[0], g: light[1], b: light[2] });
  const { l, c, h } = oklchOfColour(colour, space);
  return `oklch(${(100 * l).toFixed(1)}% ${c.toFixed(3)} ${h.toFixed(1)})`;
}

export function oklchOfColour(colour: Encoded, space: WorkingSpace): Oklch {
  const [r, g, b] = lightOf(colour, space);
  const { l, c, h = 0 } = toOklch({ mode: 'lrgb', r, g, b });
  return { l, c, h };
}

export function colourOfOklch({ l, c, h }: Oklch, space: WorkingSpace): Encoded {
  const { r, g, b } = toLight({ mode: 'oklch', l, c, h });
  return encodedOf([r, g, b], space);
}

/** For style sheets. */
export const cssOf = (colour: Encoded, space: WorkingSpace): string => {
  const { l, c, h } = oklchOfColour(colour, space);
  return `oklch(${l.toFixed(4)} ${c.toFixed(4)} ${h.toFixed(2)})`;
};
