import { Cells, type CheckedBlock, type CheckedFrame, type Found, forCells, strongest } from './checkedBlock.ts';
import { BLOCKED_TO, BLOWN_FROM } from './limits.ts';
import { boxMean } from './planes.ts';

/** Deviation in one pixel at full size from which on noise is seen on even ground, in encoded tone (common practice, no source: about 5 of 255
 * levels); and from which on it is where it stops beside a quieter place. */
const SEEN = 0.02;
const SEEN_BESIDE = 0.012;
/** A step is as much quieter within so many pixels of the level. */
const STEP = 2;
const STEP_WITHIN = 12;
/** A frame that is as much quieter would have been the better one. */
const QUIETER = 0.6;
/** Detail of the picture that hides noise, in deviations of it. */
const HIDES = 2.5;

/** Noise: what is predicted of the blend, from the noise of its frames as they are developed at their own tones, by their weights. Told where it
 * is seen, or stops beside a quieter place, and another frame would be quieter there. */
export function noisyPlaces(block: CheckedBlock): Found[] {
  const { noise, result, stride, margin, pool } = block;
  if (!noise) return [];
  const cells = new Cells(block);
  const tone = boxMean(result.tone, stride, 3, pool);
  const squares = pool.take(tone.length);
  for (let i = 0; i < squares.length; i++) squares[i] = (result.tone[i] - tone[i]) ** 2;
  const detail = boxMean(squares, stride, 3, pool);
  const reach = Math.min(STEP_WITHIN, margin);
  forCells(block, (x, y, at) => {
    const own = noise[at];
    const beside = Math.min(
      noise[at - reach],
      noise[at + reach],
      noise[at - reach * stride],
      noise[at + reach * stride],
    );
    const isStep = own > SEEN_BESIDE && beside * STEP < own && weightsDiffer(block, at, reach);
    if (own < SEEN && !isStep) return;
    const inLevel = own / 2 ** block.level;
    if (Math.sqrt(detail[at]) > HIDES * Math.max(inLevel, 0.004)) return;
    const better = quietest(block, at, tone[at]);
    if (!better || better.noise > QUIETER * own) return;
    const strength = Math.max(own / SEEN, isStep ? own / SEEN_BESIDE : 0);
    const facts = { deviation: own, times: own / Math.max(1e-4, better.noise) };
    cells.take(x, y, {
      check: 'noise',
      strength,
      kind: isStep ? 'step' : 'seen',
      frame: strongest(block, at).id,
      other: better.frame.id,
      facts,
    });
  });
  return cells.all;
}

const weightsDiffer = ({ frames, stride }: CheckedBlock, at: number, reach: number): boolean =>
  frames.some(({ weight }) =>
    [-reach, reach, -reach * stride, reach * stride].some((by) => Math.abs(weight[at + by] - weight[at]) > 0.25),
  );

/** The frame that would be quietest if it were brought to the blend's tone there. */
function quietest(
  { frames }: CheckedBlock,
  at: number,
  tone: number,
): { frame: CheckedFrame; noise: number } | undefined {
  let best: { frame: CheckedFrame; noise: number } | undefined;
  for (const frame of frames) {
    const own = frame.picture.tone[at];
    if (own * 255 <= BLOCKED_TO || own * 255 >= BLOWN_FROM - 4 || (frame.inside && frame.inside[at] < 0.99)) continue;
    const noise = frame.noiseAt(own) * (tone / own);
    if (!best || noise < best.noise) best = { frame, noise };
  }
  return best;
}
