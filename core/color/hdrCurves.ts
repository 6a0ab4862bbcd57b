import type { Curve } from './iccProfile.ts';

/** Light of graphics white in PQ, and what it is in HLG (ITU-R BT.2408-5, table 1): what counts as white, 1. */
const PQ_WHITE = 203;
const HLG_WHITE = 0.75;

/** ITU-R BT.2100-2, table 4. */
const M1 = 2610 / 16384;
const M2 = (2523 / 4096) * 128;
const C1 = 3424 / 4096;
const C2 = (2413 / 4096) * 32;
const C3 = (2392 / 4096) * 32;
const PQ_MOST = 10000;

/** Light of a PQ value, against white: up to 49 (ITU-R BT.2100-2, table 4). */
export const pqLight: Curve = (encoded) => {
  const power = Math.max(0, encoded) ** (1 / M2);
  return ((Math.max(0, power - C1) / (C2 - C3 * power)) ** (1 / M1) * PQ_MOST) / PQ_WHITE;
};

/** ITU-R BT.2100-2, table 5. */
const A = 0.17883277;
const B = 1 - 4 * A;
const C = 0.5 - A * Math.log(4 * A);
const sceneLight = (encoded: number) => (encoded <= 0.5 ? encoded ** 2 / 3 : (Math.exp((encoded - C) / A) + B) / 12);

/** Light of the scene of an HLG value, against white: up to 3.8 (ITU-R BT.2100-2, table 5). How a screen would change it is left
 * out, as it is for other pictures. */
export const hlgLight: Curve = (encoded) => sceneLight(Math.max(0, encoded)) / sceneLight(HLG_WHITE);
