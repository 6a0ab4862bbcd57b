import type { FrameEvidence } from '#core/scene/evidence.ts';
import type { Frame, Placement, VerdictReason } from '#core/scene/frame.ts';
import { sayPixels } from '../../wording.ts';

export const VERDICTS: Record<NonNullable<Placement['verdict']>, string> = {
  good: 'Good',
  look: 'Needs review',
  failed: 'Failed: mark something that does not move',
};

export const MODEL_NAMES: Record<Placement['model'], string> = {
  none: 'has not moved',
  shift: 'shifted',
  similarity: 'shifted, turned and scaled',
  perspective: 'seen from a slightly different viewpoint (perspective)',
  hand: 'placed by hand',
};

const REASONS: Record<VerdictReason['code'], (reason: VerdictReason) => string> = {
  'nothing-found': () => 'nothing in it could be found in the base',
  'places-agree': ({ count, of }) => `${count} of ${of} places agree`,
  'few-of-compared': ({ count, of }) => `only ${count} of ${of} places agree`,
  'few-places': ({ count }) => `only ${count} places agree`,
  'low-agreement': ({ share = 0 }) => `${Math.round(share * 100)} % of the places agree`,
  'rival-motion': () => 'another part of the picture moved differently',
  'corners-uncertain': ({ px = 0 }) => `corners may be off by ${px.toFixed(1)} pixels`,
  'part-compared': () => 'only part of the picture could be compared',
  'parts-disagree': () => 'large parts of the picture do not agree',
  'places-off': ({ px = 0 }) => `places are off by ${px.toFixed(2)} pixels`,
  'former-base': () => 'it was the base, which the others were aligned to',
  'halves-disagree': ({ px = 0 }) => `two halves of the places disagree by ${px.toFixed(1)} pixels`,
};

/** What a verdict goes by; empty when nothing was said. */
export function sayReason(reason: VerdictReason | null): string {
  if (!reason) return '';
  const said = REASONS[reason.code](reason);
  return reason.isChained ? `${said}, by way of a frame in between` : said;
}

/** How a frame lies, in a few words.
 * @param evidence - What was found of it. */
export function sayPlacement({ placement }: Frame, evidence: FrameEvidence | undefined): string {
  if (evidence?.found.verdict === 'failed' && placement?.model !== 'hand') return VERDICTS.failed;
  if (!placement) return 'Not aligned yet';
  if (!placement.verdict) return 'Placed by hand';
  const said = VERDICTS[placement.verdict];
  return placement.residualPx === null ? said : `${said} · ${sayPixels(placement.residualPx)}`;
}
