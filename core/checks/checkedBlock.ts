import type { FrameId, ItemId } from '../ids.ts';
import type { Region, Size } from '../raster/size.ts';
import type { PlanePool } from './planePool.ts';

/** A picture in a block and around it: encoded red, green and blue, 0..1 and beyond, and their tone. */
export interface CheckedPicture {
  rgb: readonly Float32Array[];
  /** Luma of encoded values. */
  tone: Float32Array;
}

/** Something laid over what lies below it, where its share varies. */
export interface CheckedItem {
  id: ItemId;
  /** What it lies on, what it would be like if it covered all, and what comes out. */
  below: CheckedPicture;
  content: CheckedPicture;
  result: CheckedPicture;
  /** How much of it counts, 0..1: mask, guard, window, opacity and groups. */
  share: Float32Array;
  /** How much of it is seen through what lies above it, 0..1. */
  seen: Float32Array;
}

/** A frame of the scene as it is developed and placed. */
export interface CheckedFrame {
  id: FrameId;
  picture: CheckedPicture;
  /** How much of the blend comes from it, 0..1. */
  weight: Float32Array;
  /** Where it is, 0..1; undefined for everywhere. */
  inside?: Float32Array;
  /** Deviation of its noise at an encoded tone, 0..1, in one pixel at full size. */
  noiseAt(tone: number): number;
}

/** Where a layer's mask would show its frame, wherever that is. */
export interface WantedFrame {
  item: ItemId;
  frame: FrameId;
  wanted: Float32Array;
  inside: Float32Array;
}

/** A part of a level of the blend that is judged, with what lies around it. */
export interface CheckedBlock {
  level: number;
  /** What is judged, in pixels of the level. */
  region: Region;
  /** Pixels around it that all planes have; beyond the picture its edge repeats. */
  margin: number;
  /** Samples of a row of the planes. */
  stride: number;
  /** Of the picture at full size. */
  size: Size;
  /** Planes to compute in. */
  pool: PlanePool;
  items: readonly CheckedItem[];
  frames: readonly CheckedFrame[];
  result: CheckedPicture;
  /** Deviation of the blend's noise in one pixel at full size, encoded; undefined where it was not worked out. */
  noise?: Float32Array;
  bare: readonly WantedFrame[];
}

/** What is measured, in the order that checks are listed in. */
export const CHECKS = ['rims', 'seams', 'flat', 'light', 'ghosts', 'noise', 'limits', 'colours', 'bare'] as const;
export type CheckName = (typeof CHECKS)[number];

/** A small place that a check has found something at. */
export interface Found {
  check: CheckName;
  /** Its middle, in scene pixels, and half its side. */
  x: number;
  y: number;
  reach: number;
  /** How many times what is just seen, or just counts. */
  strength: number;
  /** Kinds of one check that are told apart, as bright and dark rims. */
  kind?: string;
  item?: ItemId;
  frame?: FrameId;
  /** Another frame that matters. */
  other?: FrameId;
  /** What is told of it. */
  facts: Readonly<Record<string, number>>;
}

/** Side of the places that are told apart, in pixels of the level. */
export const CELL = 8;

/** The best of a check in each cell of a block. */
export class Cells {
  readonly #found = new Map<number, Found>();
  readonly #block: CheckedBlock;

  constructor(block: CheckedBlock) {
    this.#block = block;
  }

  /** Takes what was found at a pixel of the block, if nothing stronger of its kind was.
   * @param x - Pixels of the level from the left of what is judged. */
  take(x: number, y: number, what: Omit<Found, 'x' | 'y' | 'reach'>): void {
    const at = (y >> 3) * 4096 + (x >> 3);
    const known = this.#found.get(at);
    if (known && known.strength >= what.strength) return;
    const { level, region, size } = this.#block;
    const scale = 2 ** level;
    const middle = (from: number, within: number, most: number) => Math.min(most - 1, (from + within + 0.5) * scale);
    this.#found.set(at, {
      ...what,
      x: middle(region.x, x, size.width),
      y: middle(region.y, y, size.height),
      reach: (CELL / 2) * scale,
    });
  }

  get all(): Found[] {
    return [...this.#found.values()];
  }
}

/** Calls `at` for the middle of each cell of a block that lies in the picture.
 * @param at - Pixels from the left and the top of what is judged, and the sample there. */
export function forCells(
  { region, margin, stride }: CheckedBlock,
  at: (x: number, y: number, sample: number) => void,
): void {
  for (let y = CELL / 2; y < region.height; y += CELL)
    for (let x = CELL / 2; x < region.width; x += CELL) at(x, y, (y + margin) * stride + x + margin);
}

/** The frame that shows most at a place. */
export const strongest = ({ frames }: CheckedBlock, at: number): CheckedFrame =>
  frames.reduce((a, b) => (b.weight[at] > a.weight[at] ? b : a));
