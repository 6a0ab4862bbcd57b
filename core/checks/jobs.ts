import { levelCount, levelSize, type Region, type Size } from '../raster/size.ts';

/** A part of a level that is judged at once, and what is looked for there. */
export interface CheckJob {
  level: number;
  region: Region;
  /** Light is judged over the whole picture; seams from coarse to fine; what goes by frames at one level. */
  look: 'light' | 'seams' | 'all';
  /** No finer level is looked at. */
  isFinest: boolean;
  /** No finer than what frames are compared on: colours are judged as well, which the eye sees less finely. */
  isCoarse: boolean;
}

/** Side of the parts, in pixels of a level. */
export const BLOCK = 192;

/** Longest side of the picture that frames are compared on, in pixels. */
const COMPARED = 2000;
/** Pixels of the finest picture that is looked at. */
const FINEST = 12e6;
/** Shortest side that edges are looked for on. */
const COARSEST = 24;

/** What is to be judged of a picture, coarse before fine. */
export function jobsOf(size: Size): CheckJob[] {
  const levels = levelCount(size);
  const longest = Math.max(size.width, size.height);
  const finest = Math.max(0, Math.ceil(Math.log2((size.width * size.height) / FINEST) / 2));
  const compared = Math.min(levels - 1, Math.max(finest, Math.ceil(Math.log2(longest / COMPARED))));
  const top = levels - 1;
  const jobs: CheckJob[] = [
    { level: top, region: { x: 0, y: 0, ...levelSize(size, top) }, look: 'light', isFinest: false, isCoarse: true },
  ];
  for (let level = top; level >= finest; level--) {
    const at = levelSize(size, level);
    if (Math.min(at.width, at.height) < COARSEST && level !== compared) continue;
    for (let y = 0; y < at.height; y += BLOCK)
      for (let x = 0; x < at.width; x += BLOCK) {
        const region = { x, y, width: Math.min(BLOCK, at.width - x), height: Math.min(BLOCK, at.height - y) };
        jobs.push({
          level,
          region,
          look: level === compared ? 'all' : 'seams',
          isFinest: level === finest,
          isCoarse: level >= compared,
        });
      }
  }
  return jobs;
}
