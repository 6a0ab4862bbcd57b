import type { FrameEvidence } from '#core/scene/evidence.ts';
import type { Frame, Placement } from '#core/scene/frame.ts';

export const VERDICTS: Record<NonNullable<Placement['verdict']>, string> = {
  good: 'Good',
  look: 'Look here',
  failed: 'Failed: mark something that stands still',
};

export const MODEL_NAMES: Record<Placement['model'], string> = {
  none: 'has not moved',
  shift: 'shifted',
  similarity: 'shifted, turned and scaled',
  perspective: 'seen from a little elsewhere (perspective)',
  hand: 'placed by hand',
};

/** How a frame lies, in a few words.
 * @param evidence - What was found of it. */
export function sayPlacement({ placement }: Frame, evidence: FrameEvidence | undefined): string {
  if (evidence?.found.verdict === 'failed' && placement?.model !== 'hand') return VERDICTS.failed;
  if (!placement) return 'Not aligned yet';
  if (!placement.verdict) return 'Placed by hand';
  return `${VERDICTS[placement.verdict]} · ${sayPixels(placement.residualPx)}`;
}

export const sayPixels = (px: number | null): string =>
  px === null ? 'unknown' : `${px.toFixed(px < 0.1 ? 2 : 1)} px`;
