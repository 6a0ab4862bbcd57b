/** Red, green and blue, 16 bits. */
export type Rgb16 = readonly [Uint16Array, Uint16Array, Uint16Array];

/** Red, green and blue as floats, 0..65535: a picture that is still being mixed and must not be rounded. */
export type RgbFloats = readonly [Float32Array, Float32Array, Float32Array];

/** A stroke's coverage of a tile at a coarser level: `side` x `side` samples, of which the tile begins `offset` from the left
 * and from the top, `step` pixels of the tile for each. */
export interface CoarseCoverage {
  area: Float32Array;
  side: number;
  offset: number;
  step: number;
}
