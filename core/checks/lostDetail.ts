import { CELL, Cells, type CheckedBlock, type CheckedFrame, type Found, forCells, strongest } from './checkedBlock.ts';
import { BLOCKED_TO, BLOWN_FROM, isUsable } from './limits.ts';

/** Share of a place that is blown or blocked in the blend, and at least usable in the frame that holds it. */
const LOST = 0.6;
const HELD = 0.85;
/** Detail that is lost, in encoded tone: it counts from here on. */
const LEAST_DETAIL = 0.008;

/** Limits: places that are blown or blocked in the blend though a frame of the scene holds detail there, and which one. */
export function lostDetail(block: CheckedBlock): Found[] {
  const cells = new Cells(block);
  forCells(block, (x, y, at) => {
    const lost = (['blown', 'blocked'] as const).find(
      (end) =>
        shareOf(block.result.rgb, at, block.stride, (level) =>
          end === 'blown' ? level >= BLOWN_FROM : level <= BLOCKED_TO,
        ) > LOST,
    );
    if (!lost) return;
    const holding = block.frames.flatMap((frame) => {
      if (frame.inside && frame.inside[at] < 0.99) return [];
      const held = shareOf(frame.picture.rgb, at, block.stride, isUsable);
      return held < HELD ? [] : [{ frame, detail: detailOf(frame, at, block.stride) }];
    });
    const best = holding.reduce<(typeof holding)[number] | undefined>(
      (a, b) => (!a || b.detail > a.detail ? b : a),
      undefined,
    );
    if (!best || best.detail < LEAST_DETAIL) return;
    const shows = strongest(block, at).id;
    if (shows === best.frame.id) return;
    cells.take(x, y, {
      check: 'limits',
      strength: 1 + best.detail / 0.02,
      kind: lost,
      frame: shows,
      other: best.frame.id,
      facts: { detail: best.detail },
    });
  });
  return cells.all;
}

function shareOf(rgb: readonly Float32Array[], at: number, stride: number, is: (level: number) => boolean): number {
  let count = 0;
  eachOf(at, stride, (i) => {
    if (is(255 * Math.max(rgb[0][i], rgb[1][i], rgb[2][i]))) count++;
  });
  return count / CELL ** 2;
}

function detailOf({ picture }: CheckedFrame, at: number, stride: number): number {
  let [sum, squares] = [0, 0];
  eachOf(at, stride, (i) => {
    sum += picture.tone[i];
    squares += picture.tone[i] ** 2;
  });
  const mean = sum / CELL ** 2;
  return Math.sqrt(Math.max(0, squares / CELL ** 2 - mean ** 2));
}

function eachOf(at: number, stride: number, take: (sample: number) => void): void {
  const half = CELL / 2;
  for (let y = -half; y < half; y++) for (let x = -half; x < half; x++) take(at + y * stride + x);
}
