import type { CheckName } from '#core/checks/checkedBlock.ts';
import type { Visit } from '#core/checks/visits.ts';
import type { Scene } from '#core/scene/scene.ts';
import { findItem } from '#core/scene/tree.ts';
import { frameLabel, itemLabel } from '../../../frameLabel.ts';

/** What checks are called, and what they look for. */
export const CHECK_WORDS: Record<CheckName, { name: string; looksFor: string }> = {
  rims: { name: 'Rims', looksFor: 'bright or dark bands along edges, that no frame has' },
  seams: { name: 'Seams', looksFor: 'steps and blotches away from edges, that no frame has' },
  flat: { name: 'Flat places', looksFor: 'places that lost the depth that a frame has' },
  light: { name: 'Wrong light', looksFor: 'places brighter than others that were brighter in the light itself' },
  ghosts: { name: 'Ghosts', looksFor: 'places where two frames show at once and do not agree' },
  noise: { name: 'Noise', looksFor: 'grain where another frame would be quieter' },
  limits: { name: 'Limits', looksFor: 'blown or blocked places that another frame holds' },
  colours: { name: 'Colour shifts', looksFor: 'steps of colour along masks' },
  bare: { name: 'Bare edges', looksFor: 'places that a frame does not reach though its mask asks for it' },
};

const px = (value: number): string => `${Math.max(1, Math.round(value))} px`;
const percent = (share: number): string => `${Math.max(1, Math.round(100 * share))} %`;

/** What is there, in a sentence. */
export function sayVisit(visit: Visit, scene: Scene): string {
  const { check, kind, facts } = visit;
  const label = (id: typeof visit.frame) => (id ? frameLabel(scene, id) : 'another frame');
  switch (check) {
    case 'rims':
      return `${kind === 'bright' ? 'Bright' : 'Dark'} rim, ${px(facts.widthPx)} wide, ${percent(facts.share)} ${kind === 'bright' ? 'brighter' : 'darker'} than what lies beside it.`;
    case 'seams':
      return kind === 'step'
        ? `A step of ${percent(facts.share)} where no frame has one.`
        : `A ${kind === 'bright' ? 'bright' : 'dark'} blotch, ${percent(facts.share)} ${kind === 'bright' ? 'brighter' : 'darker'} than around it.`;
    case 'flat':
      return `Only ${percent(facts.kept)} of the depth that ${label(visit.frame)} has here is left.`;
    case 'light':
      return `Darker by ${facts.stops.toFixed(1)} stops in the light itself than the second mark, and shown ${percent(facts.tone)} brighter.`;
    case 'ghosts':
      return `${label(visit.frame)} and ${label(visit.other)} both show and do not agree${facts.apartPx ? `: they lie about ${px(facts.apartPx)} apart` : ''}.`;
    case 'noise':
      return `Grain of ${label(visit.frame)}${kind === 'step' ? ', which stops beside a quieter place' : ''}: ${label(visit.other)} would be ${facts.times.toFixed(1)} times as quiet.`;
    case 'limits':
      return `${kind === 'blown' ? 'Blown' : 'Blocked'} here; ${label(visit.other)} holds detail.`;
    case 'colours':
      return `A step of colour along the mask, ${(facts.difference / 0.02).toFixed(1)} times what is just seen.`;
    case 'bare':
      return `${label(visit.frame)} does not reach here, and what lies below shows through.`;
  }
}

/** The card that a visit is about. */
export function cardOf(visit: Visit, scene: Scene): string | undefined {
  const item = visit.item && findItem(scene, visit.item);
  return item ? itemLabel(scene, item) : undefined;
}
