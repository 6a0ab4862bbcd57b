/** A piece of a picture, four bytes a pixel as on screen. */
export interface Piece {
  width: number;
  height: number;
  rgba: Uint8ClampedArray;
}

interface Point {
  x: number;
  y: number;
}

/** A disc of a piece, in its pixels. */
export interface Disc extends Point {
  radius: number;
}

/** How far away a place may be looked for, and how near it may be, in radii. */
const NEAREST = 2.1;
const FARTHEST = 6;
/** Steps of a radius and around the circle. */
const RINGS = 9;
const TURNS = 28;
/** What surrounds a place: from its edge to so many radii. */
const AROUND = 1.6;
/** How much a difference of light counts against one of structure: healing takes light from the surroundings. */
const OF_LIGHT = 0.15;

const offsetsWithin = (from: number, to: number): Point[] => {
  const found: Point[] = [];
  for (let y = Math.ceil(-to); y <= to; y++)
    for (let x = Math.ceil(-to); x <= to; x++) {
      const squared = x * x + y * y;
      if (squared > from * from && squared <= to * to) found.push({ x, y });
    }
  return found;
};

/** Mean difference and what is left of it besides, of two rings of a piece. */
function differenceAt({ width, rgba }: Piece, ring: readonly Point[], a: Point, b: Point) {
  let [sum, squares, count] = [0, 0, 0];
  for (const { x, y } of ring) {
    const [i, k] = [4 * ((a.y + y) * width + a.x + x), 4 * ((b.y + y) * width + b.x + x)];
    for (let channel = 0; channel < 3; channel++) {
      const off = rgba[i + channel] - rgba[k + channel];
      sum += off;
      squares += off * off;
      count++;
    }
  }
  const mean = sum / count;
  return { mean, rest: squares / count - mean * mean };
}

/** How uneven a disc of a piece is: the variance of its green. */
function unevenness({ width, rgba }: Piece, disc: readonly Point[], at: Point): number {
  let [sum, squares] = [0, 0];
  for (const { x, y } of disc) {
    const value = rgba[4 * ((at.y + y) * width + at.x + x) + 1];
    sum += value;
    squares += value * value;
  }
  return squares / disc.length - (sum / disc.length) ** 2;
}

/** The place near another one whose surroundings are most like its own, and that has nothing in it that its surroundings have not; on whole pixels of
 * the piece.
 * @param taken - Discs that it may not touch: other spots.
 * @returns How far away it is; undefined when there is no room. */
export function proposeSource(piece: Piece, spot: Disc, taken: readonly Disc[]): Point | undefined {
  const at = { x: Math.round(spot.x), y: Math.round(spot.y) };
  const reach = Math.ceil(spot.radius * AROUND) + 1;
  const ring = offsetsWithin(spot.radius, spot.radius * AROUND);
  const disc = offsetsWithin(-1, spot.radius);
  const fits = ({ x, y }: Point) => x >= reach && y >= reach && x < piece.width - reach && y < piece.height - reach;
  if (!fits(at)) return nearestThatFits(piece, spot, reach);
  const own = unevenness(piece, ring, at);
  let best: { cost: number; by: Point } | undefined;
  for (let step = 0; step < RINGS; step++)
    for (let turn = 0; turn < TURNS; turn++) {
      const away = spot.radius * (NEAREST + ((FARTHEST - NEAREST) * step) / (RINGS - 1));
      const angle = (2 * Math.PI * (turn + (step % 2) / 2)) / TURNS;
      const to = { x: at.x + Math.round(away * Math.cos(angle)), y: at.y + Math.round(away * Math.sin(angle)) };
      if (!fits(to) || taken.some((other) => touches(to, spot.radius, other))) continue;
      const { mean, rest } = differenceAt(piece, ring, at, to);
      const inside = Math.max(0, unevenness(piece, disc, to) - 1.5 * own);
      const cost = rest + OF_LIGHT * mean * mean + inside + 0.02 * step;
      if (!best || cost < best.cost) best = { cost, by: { x: to.x - at.x, y: to.y - at.y } };
    }
  return best?.by;
}

const touches = (at: Point, radius: number, other: Disc): boolean =>
  Math.hypot(at.x - other.x, at.y - other.y) < radius + other.radius;

/** At the border nothing can be compared: inwards it goes. */
function nearestThatFits({ width, height }: Piece, { x, y, radius }: Disc, reach: number): Point | undefined {
  const inwards = { x: Math.sign(width / 2 - x) || 1, y: Math.sign(height / 2 - y) || 1 };
  const away = NEAREST * radius;
  const fits = (to: Point) => to.x >= reach && to.y >= reach && to.x < width - reach && to.y < height - reach;
  return [
    { x: inwards.x * away, y: 0 },
    { x: 0, y: inwards.y * away },
    { x: inwards.x * away, y: inwards.y * away },
  ]
    .map((by) => ({ x: Math.round(by.x), y: Math.round(by.y) }))
    .find((by) => fits({ x: x + by.x, y: y + by.y }));
}

/** Stops by which one piece is brighter than another, in the middle of all pixels that both hold; 0 where none is.
 * @param light - Linear light of the 256 levels. */
export function stopsBetween(a: Piece, b: Piece, light: Float64Array): number {
  const ratios: number[] = [];
  for (let i = 1; i < a.rgba.length; i += 4) {
    const [one, other] = [a.rgba[i], b.rgba[i]];
    if (one > 7 && one < 248 && other > 7 && other < 248) ratios.push(Math.log2(light[one] / light[other]));
  }
  return ratios.length > 0 ? ratios.sort((x, y) => x - y)[ratios.length >> 1] : 0;
}
