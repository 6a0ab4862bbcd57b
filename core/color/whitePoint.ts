import { smoothstep } from '../kernels/smoothstep.ts';
import { invert3, type Matrix3, multiply3, times3 } from '../raster/matrix3.ts';
import { adaptXyz } from './adaptation.ts';
import { type Chromaticity, rgbToXyz, xyzOf } from './primaries.ts';
import { type OutputSpace, primariesOf, type WorkingSpace } from './workingSpace.ts';

/** The colour of a light: correlated colour temperature, and how far it lies beside the locus, in thousandths of CIE 1960 uv:
 * green above 0, magenta below. */
export interface White {
  kelvin: number;
  tint: number;
}

export const WARMEST = 2000;
export const COLDEST = 25000;
export const MOST_TINT = 50;

/** Between these the locus goes over from black bodies to daylight, which lie beside each other. */
const CANDLE = 4000;
const DAY = 5000;

/** Daylight of a temperature of 4,000 to 25,000 K (CIE 15:2018, equations 4.5 to 4.8). */
function daylight(kelvin: number): Chromaticity {
  const t = 1000 / kelvin;
  const x =
    kelvin <= 7000
      ? 0.244063 + t * (0.09911 + t * (2.9678 - 4.607 * t))
      : 0.23704 + t * (0.24748 + t * (1.9018 - 2.0064 * t));
  return { x, y: -3 * x * x + 2.87 * x - 0.275 };
}

/** A black body in CIE 1960 uv, 1,000 to 15,000 K (Krystek 1985, "An algorithm to calculate correlated colour temperature"). */
function blackBody(kelvin: number): readonly [number, number] {
  const t = kelvin;
  return [
    (0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) / (1 + 8.42420235e-4 * t + 7.08145163e-7 * t * t),
    (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) / (1 - 2.89741816e-5 * t + 1.61456053e-7 * t * t),
  ];
}

/** CIE 1960 uv of xy and back (CIE 15:2018, annex of correlated colour temperature). */
const uvOf = ({ x, y }: Chromaticity): readonly [number, number] => {
  const sum = -2 * x + 12 * y + 3;
  return [(4 * x) / sum, (6 * y) / sum];
};
const xyOf = ([u, v]: readonly [number, number]): Chromaticity => {
  const sum = 2 * u - 8 * v + 4;
  return { x: (3 * u) / sum, y: (2 * v) / sum };
};

function locus(kelvin: number): readonly [number, number] {
  if (kelvin >= DAY) return uvOf(daylight(kelvin));
  if (kelvin <= CANDLE) return blackBody(kelvin);
  const share = smoothstep((kelvin - CANDLE) / (DAY - CANDLE));
  const [day, body] = [uvOf(daylight(kelvin)), blackBody(kelvin)];
  return [body[0] + (day[0] - body[0]) * share, body[1] + (day[1] - body[1]) * share];
}

/** Away from the locus towards green: across the way that it runs. */
function greenwards(kelvin: number): readonly [number, number] {
  const [a, b] = [locus(kelvin * 0.999), locus(kelvin * 1.001)];
  const [du, dv] = [b[0] - a[0], b[1] - a[1]];
  const length = Math.hypot(du, dv);
  // Towards higher temperatures the locus runs to the left: across it, up is green.
  return [dv / length, -du / length];
}

/** Chromaticity of a light. */
export function chromaticityOf({ kelvin, tint }: White): Chromaticity {
  const [u, v] = locus(kelvin);
  const [du, dv] = greenwards(kelvin);
  return xyOf([u + (du * tint) / 1000, v + (dv * tint) / 1000]);
}

/** The light of a chromaticity: the nearest of the locus, within what it reaches. */
export function whiteOf(at: Chromaticity): White {
  const [u, v] = uvOf(at);
  const away = (kelvin: number) => {
    const [x, y] = locus(kelvin);
    return Math.hypot(x - u, y - v);
  };
  // In even steps of reciprocal temperature, in which colours lie evenly; then ever closer around the best.
  let [low, high] = [1 / COLDEST, 1 / WARMEST];
  for (let round = 0; round < 8; round++) {
    const step = (high - low) / 16;
    const tried = Array.from({ length: 17 }, (_, i) => low + i * step);
    const best = tried.reduce((least, each) => (away(1 / each) < away(1 / least) ? each : least));
    [low, high] = [Math.max(1 / COLDEST, best - step), Math.min(1 / WARMEST, best + step)];
  }
  const kelvin = 2 / (low + high);
  const [du, dv] = greenwards(kelvin);
  const [x, y] = locus(kelvin);
  const tint = 1000 * ((u - x) * du + (v - y) * dv);
  return { kelvin, tint: Math.min(MOST_TINT, Math.max(-MOST_TINT, tint)) };
}

/** The white of all working spaces, D65, in whole kelvins and tenths of tint. */
export const WORKING_WHITE: White = { kelvin: 6504, tint: 0 };

/** Matrix over linear light that makes a picture taken under a light look as under the white of the space. Luminance of grey stays. */
export function whiteMatrix(white: White, space: WorkingSpace): Matrix3 {
  const toXyz = rgbToXyz(primariesOf(space));
  const adapted = adaptXyz(xyzOf(chromaticityOf(white)), xyzOf(chromaticityOf(WORKING_WHITE)));
  return multiply3(invert3(toXyz), multiply3(adapted, toXyz));
}

/** The light under which a colour of a picture is grey.
 * @param rgb - Linear light. */
export function whiteOfGrey(rgb: readonly [number, number, number], space: OutputSpace): White {
  const [x, y, z] = times3(rgbToXyz(primariesOf(space)), rgb);
  const sum = x + y + z;
  return whiteOf({ x: x / sum, y: y / sum });
}
