import { BT2020_PRIMARIES, luminanceWeights, type Primaries, SRGB_PRIMARIES } from './primaries.ts';

/** Spaces in which a scene's pixels are kept, both encoded with the sRGB curve. */
export type WorkingSpace = 'srgb' | 'bt2020';

const PRIMARIES: Record<WorkingSpace, Primaries> = { srgb: SRGB_PRIMARIES, bt2020: BT2020_PRIMARIES };

/** Weights with which a tone is read from encoded red, green and blue. */
export function toneWeights(space: WorkingSpace): [number, number, number] {
  return luminanceWeights(PRIMARIES[space]);
}
