import type { ToneSignal } from './toneSignal.ts';

/** Reads a tone between pixels, and how far it is to be trusted: not at all beside clipped ones.
 * @param out - The tone and its weight. */
export function readTone({ value, weight, width, height }: ToneSignal, u: number, v: number, out: Float64Array): void {
  const left = Math.floor(u);
  const top = Math.floor(v);
  out[1] = 0;
  if (left < 1 || top < 1 || left + 2 >= width || top + 2 >= height) return;
  const i = top * width + left;
  out[1] = Math.min(weight[i], weight[i + 1], weight[i + width], weight[i + width + 1]);
  if (out[1] === 0) return;
  const s = u - left;
  const t = v - top;
  // Keys's cubic (Keys 1981, eq. 15), exact at samples.
  const a0 = s * (-0.5 + s * (1 - 0.5 * s));
  const a1 = 1 + s * s * (1.5 * s - 2.5);
  const a2 = s * (0.5 + s * (2 - 1.5 * s));
  const a3 = s * s * (0.5 * s - 0.5);
  const row = (at: number) => a0 * value[at - 1] + a1 * value[at] + a2 * value[at + 1] + a3 * value[at + 2];
  out[0] =
    t * (-0.5 + t * (1 - 0.5 * t)) * row(i - width) +
    (1 + t * t * (1.5 * t - 2.5)) * row(i) +
    t * (0.5 + t * (2 - 1.5 * t)) * row(i + width) +
    t * t * (0.5 * t - 0.5) * row(i + 2 * width);
}
