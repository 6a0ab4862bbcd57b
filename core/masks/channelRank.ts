import { borderWidths, type GreySketch, isResolved, median, type PieceAt, piecesWithBorders } from './borderWidth.ts';

/** How well a channel tells two marked areas apart. */
export interface ChannelScore {
  /** How surely a place of one area is lighter (or darker) than one of the other: 0 by chance, 1 always. */
  separation: number;
  /** Width of the border between them in scene pixels, from a quarter to three quarters of the way; null when none was met. */
  borderPx: number | null;
  /** The first area is the darker one. */
  thisIsDark: boolean;
  /** What channels are ranked by, higher first. */
  rank: number;
}

interface Place {
  x: number;
  y: number;
}

/** Radius in pixels of the sketch that a mark takes in. */
const REACH = 3;
/** So many pieces are looked at in full size. */
const MOST_PIECES = 6;
/** A border of this many scene pixels takes a tenth off a channel's rank: a soft border blends, a ragged one shows. */
const RAGGED_PX = 1.5;

/** Judges a channel by two scribbles.
 * The separation is the probability that a random place of one is lighter than a random place of the other, stretched so that
 * chance is 0 (the area under the ROC curve, Hanley and McNeil 1982, which is Mann and Whitney's U; Gini's coefficient).
 * @param meant - Scene points of the scribble over what is meant.
 * @param others - Scene points of the other.
 * @param pieces - Pieces at full size, from which borders are known that the sketch does not resolve; see `piecesToRankBy`. */
export function rankChannel(
  sketch: GreySketch,
  meant: readonly Place[],
  others: readonly Place[],
  pieces: readonly GreySketch[] = [],
): ChannelScore {
  const a = valuesAt(sketch, meant);
  const b = valuesAt(sketch, others);
  const area = probabilityAbove(a, b);
  const separation = Math.abs(2 * area - 1);
  const borderPx = borderOf(sketch, pieces, median(a), median(b));
  const raggedness = borderPx === null ? 0 : 0.1 * Math.min(1, RAGGED_PX / borderPx);
  // Between channels that both tell the areas apart fully, the one whose areas lie farther apart leaves more room for a border.
  const distance = 0.05 * Math.abs(median(a) - median(b));
  return { separation, borderPx, thisIsDark: area < 0.5, rank: separation + distance - raggedness };
}

/** Pieces of the full size, `side` pixels square, that tell how wide the borders between two scribbles are. */
export function piecesToRankBy(
  sketch: GreySketch,
  meant: readonly Place[],
  others: readonly Place[],
  side: number,
): PieceAt[] {
  const [a, b] = [median(valuesAt(sketch, meant)), median(valuesAt(sketch, others))];
  const coarse = median(borderWidths(sketch, a, b));
  return coarse > 0 && isResolved(coarse, sketch) ? [] : piecesWithBorders(sketch, (a + b) / 2, side, MOST_PIECES);
}

/** Width of the borders, in the median over all places; from the pieces where the sketch is too coarse. */
function borderOf(sketch: GreySketch, pieces: readonly GreySketch[], from: number, to: number): number | null {
  const coarse = borderWidths(sketch, from, to);
  const fine = pieces.flatMap((piece) => borderWidths(piece, from, to)).sort((p, q) => p - q);
  const widths = fine.length > 0 ? fine : coarse;
  return widths.length === 0 ? null : median(widths);
}

function valuesAt({ width, height, step, grey }: GreySketch, places: readonly Place[]): number[] {
  const seen = new Set<number>();
  for (const { x, y } of places) {
    const [cx, cy] = [Math.floor(x / step), Math.floor(y / step)];
    for (let dy = -REACH; dy <= REACH; dy++)
      for (let dx = -REACH; dx <= REACH; dx++) {
        const [px, py] = [cx + dx, cy + dy];
        if (px < 0 || py < 0 || px >= width || py >= height || dx * dx + dy * dy > REACH * REACH) continue;
        seen.add(py * width + px);
      }
  }
  return Array.from(seen, (at) => grey[at]).sort((p, q) => p - q);
}

/** Probability that a value of the first list is above one of the second, equals counting half. Both are sorted. */
export function probabilityAbove(a: readonly number[], b: readonly number[]): number {
  if (a.length === 0 || b.length === 0) return 0.5;
  let below = 0;
  let upTo = 0;
  let sum = 0;
  for (const value of a) {
    while (below < b.length && b[below] < value) below++;
    while (upTo < b.length && b[upTo] <= value) upTo++;
    sum += (below + upTo) / 2;
  }
  return sum / (a.length * b.length);
}
