import { smoothstep } from '../kernels/smoothstep.ts';

/** Tones that something is limited to. */
export const TONES = ['all', 'darks', 'middle', 'brights'] as const;
export type Tones = (typeof TONES)[number];

/** Lightness, in Oklab, where darks go over into the middle, and the middle into brights: some four stops and one and a half below white
 * (common practice, no source). */
const DARKS_TO = 0.42;
const BRIGHTS_FROM = 0.72;

/** How much of some tones a lightness belongs to, 0..1; darks, middle and brights add up to 1.
 * @param soft - Lightness over which one goes over into the next. */
export function toneShare(tones: Tones, soft: number, lightness: number): number {
  if (tones === 'all') return 1;
  const over = (border: number) => smoothstep((lightness - border) / Math.max(1e-3, soft) + 0.5);
  const [above, brights] = [over(DARKS_TO), over(BRIGHTS_FROM)];
  if (tones === 'darks') return 1 - above;
  return tones === 'brights' ? brights : above - brights;
}
