import type { Alignment } from './alignment.ts';
import { type AlignOptions, estimatePlacement } from './estimate.ts';
import { compose, MODELS } from './placement.ts';
import type { PixelSource } from './tileSource.ts';

/** A frame to be placed. */
export interface ChainFrame {
  source: PixelSource;
  /** Brightness in stops, null when nobody knows; neighbours are found by it. */
  ev: number | null;
}

const RANK = { good: 0, look: 1, failed: 2 } as const;

/** Places a frame on a base; when they share too little, by way of frames whose exposures lie between the two: each step is then a
 * small one. The result is as trustworthy as its weakest step.
 * @param between - Other frames of the scene, in any order.
 * @throws {AlignCancelled} */
export function alignThrough(
  base: ChainFrame,
  frame: ChainFrame,
  between: readonly ChainFrame[],
  options: AlignOptions = {},
): Alignment {
  const steps = stepsBetween(base, frame, between);
  const parts = 1 + (steps.length > 0 ? steps.length + 1 : 0);
  let done = 0;
  const estimate = (from: PixelSource, to: PixelSource, wanted: AlignOptions['wanted']) => {
    const { onProgress } = options;
    const part = done++;
    const found = estimatePlacement(from, to, {
      ...options,
      wanted,
      onProgress: (share) => onProgress?.((part + share) / parts),
    });
    return found;
  };
  const direct = estimate(base.source, frame.source, options.wanted);
  if (direct.verdict === 'good' || steps.length === 0) return finish(direct, options);
  let chain: Alignment | undefined;
  let below = base;
  for (const next of [...steps, frame]) {
    // What stands still was marked on the base; after a step, places are no longer its own to the pixel, but nearly so.
    const found = estimate(below.source, next.source, options.wanted);
    chain = chain ? joinAlignments(chain, found) : found;
    if (chain.verdict === 'failed') return finish(direct, options);
    below = next;
  }
  return finish(chain && RANK[chain.verdict] < RANK[direct.verdict] ? chain : direct, options);
}

function finish(found: Alignment, { onProgress }: AlignOptions): Alignment {
  onProgress?.(1);
  return found;
}

/** Frames whose brightness lies between two others', from the base on. */
function stepsBetween(base: ChainFrame, frame: ChainFrame, frames: readonly ChainFrame[]): ChainFrame[] {
  if (base.ev === null || frame.ev === null) return [];
  const [low, high] = [Math.min(base.ev, frame.ev), Math.max(base.ev, frame.ev)];
  const steps = frames.filter(
    ({ ev, source }) => ev !== null && ev > low && ev < high && source !== base.source && source !== frame.source,
  );
  return steps.sort((a, b) => Math.abs((a.ev ?? 0) - (base.ev ?? 0)) - Math.abs((b.ev ?? 0) - (base.ev ?? 0)));
}

/** Two placements one after the other. */
function joinAlignments(below: Alignment, above: Alignment): Alignment {
  const weakest = RANK[above.verdict] >= RANK[below.verdict] ? above : below;
  return {
    ...above,
    matrix: compose(above.matrix, below.matrix),
    model: richer(below.model, above.model),
    residualPx: Math.hypot(below.residualPx, above.residualPx),
    agreement: Math.min(below.agreement, above.agreement),
    confidence: below.confidence * above.confidence,
    verdict: weakest.verdict,
    reason: { ...weakest.reason, isChained: true },
    stops: below.stops + above.stops,
  };
}

const richer = (a: Alignment['model'], b: Alignment['model']) => (MODELS.indexOf(a) > MODELS.indexOf(b) ? a : b);
