import { assumedProfile, srgbProfile } from '#core/color/assumedProfile.ts';
import type { IccProfile } from '#core/color/iccProfile.ts';
import { greyLevels, isSrgb, profileTo, spaceHolding } from '#core/color/toWorking.ts';
import type { WorkingSpace } from '#core/color/workingSpace.ts';
import type { ReadingWish } from '#core/scene/scene.ts';

/** Changes samples in place. */
export type SampleMap = (samples: Uint16Array) => void;

/** How colours come into a working space. */
export interface ColourPlan {
  space: WorkingSpace;
  /** Undefined when they are in it already. */
  map: SampleMap | undefined;
}

/** Plans how interleaved RGB comes into a working space: the one asked for, or the narrowest that holds the profile.
 * @param embedded - The file's own profile. */
export function planColours(embedded: IccProfile | undefined, { untagged, space }: ReadingWish): ColourPlan {
  const profile = embedded ?? assumedProfile(untagged);
  const own = profile?.kind === 'matrix' && !isSrgb(profile) ? profile : undefined;
  const chosen = space === 'fitting' ? (own ? spaceHolding(own) : 'srgb') : space;
  if (!own && chosen === 'srgb') return { space: 'srgb', map: undefined };
  const convert = profileTo(chosen, own ?? srgbProfile());
  return { space: chosen, map: (samples) => convert(samples, samples) };
}

/** The same for one channel of grey, which is the same in every working space. */
export function planGrey(profile: IccProfile | undefined, { space: wish }: ReadingWish): ColourPlan {
  const space = wish === 'fitting' ? 'srgb' : wish;
  if (profile?.kind !== 'grey') return { space, map: undefined };
  const table = greyLevels(profile.curve);
  const map = (samples: Uint16Array) => {
    for (let i = 0; i < samples.length; i++) samples[i] = table[samples[i]];
  };
  return { space, map };
}
