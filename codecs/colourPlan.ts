import { assumedProfile } from '#core/color/assumedProfile.ts';
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
  // What is sRGB stays so, whatever is asked for: there is nothing in it that would need more.
  if (profile?.kind !== 'matrix' || isSrgb(profile)) return { space: 'srgb', map: undefined };
  const chosen = space === 'fitting' ? spaceHolding(profile) : space;
  const convert = profileTo(chosen, profile);
  return { space: chosen, map: (samples) => convert(samples, samples) };
}

/** The same for one channel of grey, which is the same in every working space. */
export function planGrey(profile: IccProfile | undefined): ColourPlan {
  if (profile?.kind !== 'grey') return { space: 'srgb', map: undefined };
  const table = greyLevels(profile.curve);
  const map = (samples: Uint16Array) => {
    for (let i = 0; i < samples.length; i++) samples[i] = table[samples[i]];
  };
  return { space: 'srgb', map };
}
