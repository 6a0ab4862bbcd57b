import type { Kernels } from '../kernels/kernels.ts';

/** What growing works on: square planes of one size. */
export interface GrowPlanes {
  /** Coverage 0..1; shrinking turns it round and back. */
  plane: Float32Array;
  /** Overwritten. */
  out: Float32Array;
  /** Scratch. */
  runs: Float32Array;
  spare: Float32Array;
  width: number;
}

/** Largest coverage within a disc of whole radius around every sample (grey dilation; a sample belongs to the disc when its
 * centre does). Samples nearer than the radius to a border may be too large.
 * Rows of the disc of one width share their running maximum, which grows by a sample each way from one width to the next. */
function dilate(kernels: Kernels, { plane, runs, spare, width }: GrowPlanes, out: Float32Array, radius: number): void {
  const { length } = plane;
  runs.set(plane);
  out.fill(0);
  for (let half = 0; half <= radius; half++) {
    for (let dy = -radius; dy <= radius; dy++) {
      if (Math.floor(Math.sqrt(radius * radius - dy * dy)) !== half) continue;
      const shift = dy * width;
      const count = length - Math.abs(shift);
      const from = Math.max(0, shift);
      kernels.maxInto(out.subarray(from - shift, from - shift + count), runs.subarray(from, from + count));
    }
    if (half === radius) break;
    spare.set(runs);
    kernels.maxInto(runs.subarray(1), spare.subarray(0, length - 1));
    kernels.maxInto(runs.subarray(0, length - 1), spare.subarray(1));
  }
}

/** Lets covered places grow by a disc, or shrink, which is to let the others grow. Between whole radii both are mixed.
 * @param radius - Samples; negative shrinks. */
export function grow(kernels: Kernels, planes: GrowPlanes, radius: number): void {
  const { plane, out } = planes;
  if (radius < 0) kernels.invert(plane);
  const by = Math.abs(radius);
  const less = Math.floor(by);
  dilate(kernels, planes, out, less);
  if (by > less) {
    const more = Math.ceil(by);
    const share = by - less;
    // The plane has served its turn once the runs are taken from it.
    const smaller = out.slice();
    dilate(kernels, planes, out, more);
    for (let i = 0; i < out.length; i++) out[i] = smaller[i] + (out[i] - smaller[i]) * share;
  }
  if (radius < 0) kernels.invert(out);
}
