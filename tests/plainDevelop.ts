import { converter } from 'culori';
import { decodeSrgb, encodeSrgb } from '#core/color/srgb.ts';
import { whiteMatrix } from '#core/color/whitePoint.ts';
import { ADJUSTMENTS, type AdjustmentName } from '#core/develop/list.ts';
import { smoothCurve } from '#core/masks/greyCurve.ts';
import { times3 } from '#core/raster/matrix3.ts';

type Rgb = readonly [number, number, number];
/** Settings by adjustment, all there. */
type Settings = { [Name in AdjustmentName]?: (typeof ADJUSTMENTS)[Name]['rest'] };

const smooth = (t: number) => {
  const s = Math.min(1, Math.max(0, t));
  return s * s * (3 - 2 * s);
};
const decode = (value: number) => (value < 0 ? value / 12.92 : decodeSrgb(value));
const encode = (value: number) => (value < 0 ? value * 12.92 : encodeSrgb(value));
const toLab = converter('oklab');
const toLight = converter('lrgb');

/** Light through Oklab, by the colour library culori. */
function throughLab([r, g, b]: Rgb, change: (l: number, a: number, b: number) => Rgb): Rgb {
  const lab = toLab({ mode: 'lrgb', r, g, b });
  const [l, x, y] = change(lab.l, lab.a, lab.b);
  const out = toLight({ mode: 'oklab', l, a: x, b: y });
  return [out.r, out.g, out.b];
}

const through = (points: readonly { x: number; y: number }[], value: number): number => {
  if (points.length < 2) return value;
  const curve = smoothCurve(points);
  const slope = (curve(1) - curve(1 - 1 / 256)) * 256;
  return value > 1 ? curve(1) + slope * (value - 1) : curve(Math.max(0, value));
};

const leveled = ({ black, white, power }: { black: number; white: number; power: number }, value: number) =>
  Math.max(0, (value - black) / (white - black)) ** (1 / power);

/** What lies around a pixel: stops of its luminance before anything is done to it, and those without detail of a radius. */
export interface PlainAround {
  tone: number;
  baseOf: (radius: number | 'picture') => number;
}

/** Stops of the base as they are now, and what lies around. */
interface Now extends PlainAround {
  base: number;
}

const luminance = ([r, g, b]: Rgb) => 0.2126 * r + 0.7152 * g + 0.0722 * b;
export const stopsOf = (rgb: Rgb) =>
  Math.max(-12, Math.log2(Math.max(1e-9, luminance(rgb.map(decode) as unknown as Rgb))));
const times = (rgb: Rgb, gain: number): Rgb => [rgb[0] * gain, rgb[1] * gain, rgb[2] * gain];

/** One end of tones: as far as `end` all is moved by so many stops, beyond `reach` by none, between on a cubic whose slope at both is 1,
 * or less where it would turn round. */
function endMoved(end: number, { stops, reach }: { stops: number; reach: number }, tone: number): number {
  const side = reach > end ? 1 : -1;
  const way = Math.abs(reach - end);
  const moved = side * Math.min(side * stops, 0.9 * way);
  const t = (side * (tone - end)) / way;
  if (t <= 0) return tone + moved;
  if (t >= 1) return tone;
  const [from, to] = [end + moved, reach];
  const slope = side * way * Math.min(1, ((to - from) / (side * way)) * (3 / Math.SQRT2));
  // The basis of Hermite.
  return (
    from * (2 * t ** 3 - 3 * t ** 2 + 1) +
    slope * (t ** 3 - 2 * t ** 2 + t) +
    to * (3 * t ** 2 - 2 * t ** 3) +
    slope * (t ** 3 - t ** 2)
  );
}

/** Moves a pixel as far as its base. */
function withBase(rgb: Rgb, now: Now, onto: (stops: number) => number): Rgb {
  const before = now.base;
  now.base = onto(before);
  return times(rgb, 2 ** (now.base - before));
}

/** Each adjustment on one pixel of light, sRGB primaries, in plain doubles straight from what is documented of it. */
const PLAINLY: { [Name in AdjustmentName]: (rgb: Rgb, settings: (typeof ADJUSTMENTS)[Name]['rest'], now: Now) => Rgb } =
  {
    // Where all around is the same there is neither noise nor anything to sharpen.
    lens: (rgb) => rgb,
    noise: (rgb) => rgb,
    fringes: (rgb) => rgb,
    sharpening: (rgb) => rgb,
    // As if all around were the same, and nothing came after it.
    haze: (rgb, { amount, veil: { red, green, blue } }) => {
      const veil = [red, green, blue];
      const thickness = Math.min(1, ...rgb.map((light, i) => light / veil[i]));
      const through = amount > 0 ? Math.max(0.1, 1 - 0.95 * amount * thickness) : 1 + amount * (0.3 + 0.7 * thickness);
      return rgb.map((light, i) =>
        amount > 0 ? (light - veil[i]) / through + veil[i] : light * through + veil[i] * (1 - through),
      ) as unknown as Rgb;
    },
    exposure: (rgb, { stops }, now) => {
      now.base += stops;
      return times(rgb, 2 ** stops);
    },
    ends: (rgb, { darks, brights }, now) =>
      withBase(rgb, now, (stops) => endMoved(0, brights, endMoved(-9, darks, stops))),
    localContrast: (rgb, { fine, broad }, { tone, baseOf }) =>
      [fine, broad].reduce(
        (all, { amount, radius }) =>
          amount === 0 ? all : times(all, 2 ** (amount * Math.min(4, Math.max(-4, tone - baseOf(radius))))),
        rgb,
      ),
    whiteBalance: (rgb, white) => times3(whiteMatrix(white, 'srgb'), rgb),
    contrast: (rgb, { slope, middle, of }, now) => {
      const moved = (stops: number) => stops + (slope - 1) * (Math.max(-12, stops) - middle);
      if (of === 'base') return withBase(rgb, now, moved);
      const stops = Math.max(-12, Math.log2(Math.max(1e-9, luminance(rgb))));
      return times(rgb, 2 ** (moved(stops) - stops));
    },
    levels: (rgb, { all, red, green, blue, outBlack, outWhite }) =>
      rgb.map((value, i) => {
        const out = leveled(all, leveled([red, green, blue][i], encode(Math.max(0, value))));
        return decode(outBlack + (outWhite - outBlack) * out);
      }) as unknown as Rgb,
    curve: (rgb, { all, red, green, blue, lightness }) => {
      const own = rgb.map((value, i) =>
        decode(through(all, through([red, green, blue][i], encode(Math.max(0, value))))),
      );
      return throughLab(own as unknown as Rgb, (l, a, b) => [through(lightness, l), a, b]);
    },
    colour: (rgb, { saturation, spare, ranges }) =>
      throughLab(rgb, (l, a, b) => {
        const [chroma, hue] = [Math.hypot(a, b), (Math.atan2(b, a) * 180) / Math.PI];
        let [turn, more, light] = [0, 0, 0];
        for (const range of ranges) {
          const away = Math.abs(((((hue - range.centre) % 360) + 540) % 360) - 180);
          const much = away <= range.width ? 1 : smooth(1 - (away - range.width) / range.shoulder);
          turn += much * range.turn;
          more += much * range.saturation;
          light += much * range.lightness;
        }
        // Towards what it would become, the less the greyer it is.
        const angle = ((hue + turn) * Math.PI) / 180;
        const strong = chroma * Math.max(0, 1 + more);
        const much = smooth(chroma / 0.04);
        const x = a + (strong * Math.cos(angle) - a) * much;
        const y = b + (strong * Math.sin(angle) - b) * much;
        const by = 1 + saturation * (1 - spare * Math.min(1, Math.hypot(x, y) / 0.4));
        return [l * (1 + 0.5 * light * much), x * by, y * by];
      }),
    colourBalance: (rgb, { darks, middle, brights, lower, upper, softness, strength }) =>
      throughLab(rgb, (l, a, b) => {
        const low = smooth((l - lower) / softness + 0.5);
        const high = smooth((l - upper) / softness + 0.5);
        const shares = [1 - low, low * (1 - high), low * high];
        let [da, db] = [0, 0];
        for (const [i, { hue, chroma }] of [darks, middle, brights].entries()) {
          const much = shares[i] * strength * chroma * Math.min(1, Math.max(0, 10 * l));
          da += much * Math.cos((hue * Math.PI) / 180);
          db += much * Math.sin((hue * Math.PI) / 180);
        }
        return [l, a + da, b + db];
      }),
    grey: (rgb, { red, green, blue, strength }) => {
      const mixed = red * rgb[0] + green * rgb[1] + blue * rgb[2];
      return rgb.map((value) => value + (mixed - value) * strength) as unknown as Rgb;
    },
  };

/** A pixel as it is developed.
 * @param rgb - Encoded, 0..1, of sRGB.
 * @param around - As if all around were the same, if it is not told.
 * @returns The same, and beyond. */
export function developedPlainly(rgb: Rgb, develop: Settings, around: PlainAround = flat(rgb)): Rgb {
  const names = Object.keys(ADJUSTMENTS) as AdjustmentName[];
  const looks = develop.ends || develop.contrast?.of === 'base';
  const now = { ...around, base: looks ? around.baseOf('picture') : 0 };
  let light = rgb.map(decode) as unknown as Rgb;
  for (const name of names) {
    const settings = develop[name];
    if (settings) light = (PLAINLY[name] as (rgb: Rgb, settings: unknown, now: Now) => Rgb)(light, settings, now);
  }
  return light.map(encode) as unknown as Rgb;
}

const flat = (rgb: Rgb): PlainAround => ({ tone: stopsOf(rgb), baseOf: () => stopsOf(rgb) });
