import { assumedProfile, srgbProfile } from '#core/color/assumedProfile.ts';
import type { IccProfile } from '#core/color/iccProfile.ts';
import { encodeFloats, greyLevels, isSrgb, profileTo, spaceHolding } from '#core/color/toWorking.ts';
import type { WorkingSpace } from '#core/color/workingSpace.ts';
import type { ReadingWish } from '#core/reading.ts';

/** Changes samples in place. */
export type SampleMap = (samples: Uint16Array) => void;

/** How colours come into a working space. */
export interface ColourPlan {
  space: WorkingSpace;
  /** Undefined when they are in it already. */
  map: SampleMap | undefined;
  /** Stops by which light is darkened, so that what is brighter than white is kept. */
  headroom: number;
}

type MatrixProfile = IccProfile & { kind: 'matrix' };

/** Light that is kept above white, at most, in stops: beyond it there is hardly anything but the sun itself. */
const MOST_HEADROOM = 12;
const HEADROOM_STEP = 1 / 3;

/** Stops, in thirds, by which light has to be darkened to come to white at most. */
export function headroomFor(light: number): number {
  if (Number.isNaN(light) || light <= 1) return 0;
  const stops = Math.min(MOST_HEADROOM, Math.log2(light));
  return Math.ceil(stops / HEADROOM_STEP - 1e-6) * HEADROOM_STEP;
}

/** Plans how interleaved RGB comes into a working space: the one asked for, or the narrowest that holds the profile.
 * @param embedded - The file's own profile.
 * @param brightest - Finds the highest sample, 0..1, when the profile goes beyond white. */
export function planColours(
  embedded: IccProfile | undefined,
  { untagged, space }: ReadingWish,
  brightest: () => number,
): ColourPlan {
  const profile = embedded ?? assumedProfile(untagged);
  const own: MatrixProfile | undefined = profile?.kind === 'matrix' && !isSrgb(profile) ? profile : undefined;
  const chosen = space === 'fitting' ? (own ? spaceHolding(own) : 'srgb') : space;
  if (!own && chosen === 'srgb') return { space: 'srgb', map: undefined, headroom: 0 };
  if (own && own.curves[0](1) > 1.01) return planBright(own, chosen, brightest());
  const convert = profileTo(chosen, own ?? srgbProfile());
  return { space: chosen, map: (samples) => convert(samples, samples), headroom: 0 };
}

/** Pixels that are mapped at a time. */
const PIECE = 3 * 4096;

/** Code values of light above white: the picture is darkened by as many thirds of a stop as it takes. */
function planBright({ curves, toXyz }: MatrixProfile, space: WorkingSpace, brightest: number): ColourPlan {
  const headroom = headroomFor(Math.max(...curves.map((curve) => curve(brightest))));
  const tables = curves.map((curve) => Float32Array.from({ length: 65536 }, (_, code) => curve(code / 65535)));
  const light = new Float32Array(PIECE);
  const map = (samples: Uint16Array) => {
    for (let at = 0; at < samples.length; at += PIECE) {
      const some = samples.subarray(at, at + PIECE);
      for (let i = 0; i < some.length; i++) light[i] = tables[i % 3][some[i]];
      encodeFloats(space, light.subarray(0, some.length), some, toXyz, 2 ** -headroom);
    }
  };
  return { space, map, headroom };
}

/** The same for one channel of grey, which is the same in every working space. */
export function planGrey(profile: IccProfile | undefined, { space: wish }: ReadingWish): ColourPlan {
  const space = wish === 'fitting' ? 'srgb' : wish;
  if (profile?.kind !== 'grey') return { space, map: undefined, headroom: 0 };
  const table = greyLevels(profile.curve);
  const map = (samples: Uint16Array) => {
    for (let i = 0; i < samples.length; i++) samples[i] = table[samples[i]];
  };
  return { space, map, headroom: 0 };
}
