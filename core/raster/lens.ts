import type { Size } from './size.ts';

/** What a lens did to a picture. Places are counted from the picture's middle, half its diagonal being 1. */
export interface Lens {
  /** Radial bending: a straight place (x, y) was taken at (x, y) * (1 + k1 r^2 + k2 r^4 + k3 r^6) (Brown 1966, "Decentering distortion
   * of lenses", after Conrady 1919; radial part). Below 0 is barrel, above 0 pincushion. */
  readonly bend: readonly [k1: number, k2: number, k3: number];
  /** Shares by which red and blue were drawn larger than green, about the middle of the frame. */
  readonly red: number;
  readonly blue: number;
}

export const PLAIN_LENS: Lens = { bend: [0, 0, 0], red: 0, blue: 0 };

export const isBent = ({ bend }: Lens): boolean => bend.some((k) => k !== 0);
export const isPlainLens = (lens: Lens): boolean => !isBent(lens) && lens.red === 0 && lens.blue === 0;

interface Place {
  x: number;
  y: number;
}

/** A picture's middle and half its diagonal, in pixels counted from the centre of the first. */
export const middleOf = ({ width, height }: Size): { x: number; y: number; radius: number } => ({
  x: (width - 1) / 2,
  y: (height - 1) / 2,
  radius: Math.hypot(width, height) / 2,
});

/** By how much a place at a squared distance from the middle was moved outwards. */
export const bendFactor = ([k1, k2, k3]: Lens['bend'], squared: number): number =>
  1 + squared * (k1 + squared * (k2 + squared * k3));

/** Where a place of the straightened picture was taken, in pixels. */
export function bentPlace({ bend }: Lens, size: Size, { x, y }: Place): Place {
  const middle = middleOf(size);
  const [dx, dy] = [(x - middle.x) / middle.radius, (y - middle.y) / middle.radius];
  const factor = bendFactor(bend, dx * dx + dy * dy) * middle.radius;
  return { x: middle.x + dx * factor, y: middle.y + dy * factor };
}

/** Rounds of Newton's method: the bending of lenses is mild, so that it ends after three or four. */
const ROUNDS = 8;

/** Where a place of the picture as it was taken lies in the straightened one, in pixels. */
export function straightPlace({ bend }: Lens, size: Size, { x, y }: Place): Place {
  const middle = middleOf(size);
  const [dx, dy] = [x - middle.x, y - middle.y];
  const taken = Math.hypot(dx, dy) / middle.radius;
  if (taken === 0) return { x, y };
  const [k1, k2, k3] = bend;
  let r = taken;
  for (let round = 0; round < ROUNDS; round++) {
    const s = r * r;
    const slope = 1 + s * (3 * k1 + s * (5 * k2 + s * 7 * k3));
    r -= (r * bendFactor(bend, s) - taken) / Math.max(0.05, slope);
  }
  const by = r / taken;
  return { x: middle.x + dx * by, y: middle.y + dy * by };
}
