/** The sRGB transfer curve, IEC 61966-2-1:1999, section 5.2 (constants of the standard, continuous to 16 bits). */
const LINEAR_SLOPE = 12.92;
const ENCODED_KNEE = 0.04045;
const LINEAR_KNEE = 0.0031308;
const OFFSET = 0.055;
const EXPONENT = 2.4;

/** Linear light of an encoded value, both 0..1. */
export function decodeSrgb(encoded: number): number {
  return encoded <= ENCODED_KNEE ? encoded / LINEAR_SLOPE : ((encoded + OFFSET) / (1 + OFFSET)) ** EXPONENT;
}

/** Encoded value of linear light, both 0..1. */
export function encodeSrgb(linear: number): number {
  return linear <= LINEAR_KNEE ? linear * LINEAR_SLOPE : (1 + OFFSET) * linear ** (1 / EXPONENT) - OFFSET;
}
