import { address, defineKernel } from './defineKernel.ts';

/** The least of a square around every sample, cut off at the plane's edges, in place.
 * @param spare - Scratch of the same length.
 * @param radius - Samples each way. */
export function leastAround<Plane extends Float32Array | Uint8Array>(
  plane: Plane,
  spare: Plane,
  width: number,
  height: number,
  radius: number,
): void {
  leastAlong(plane, spare, { lines: height, length: width, line: width, step: 1 }, radius);
  leastAlong(spare, plane, { lines: width, length: height, line: 1, step: width }, radius);
}

/** Least values along lines: those of spans that reach back to a span's start, and on to its end, hold every window between them (van Herk 1992; Gil and
 * Werman 1993). */
function leastAlong(
  from: Float32Array | Uint8Array,
  to: Float32Array | Uint8Array,
  { lines, length, line, step }: { lines: number; length: number; line: number; step: number },
  radius: number,
): void {
  const span = 2 * radius + 1;
  const back = new Float32Array(length);
  const on = new Float32Array(length);
  for (let row = 0; row < lines; row++) {
    const start = row * line;
    for (let i = 0, at = start; i < length; i++, at += step) {
      const value = from[at];
      back[i] = i % span !== 0 && back[i - 1] < value ? back[i - 1] : value;
    }
    for (let i = length - 1, at = start + i * step; i >= 0; i--, at -= step) {
      const value = from[at];
      on[i] = i + 1 < length && (i + 1) % span !== 0 && on[i + 1] < value ? on[i + 1] : value;
    }
    for (let i = 0, at = start; i < length; i++, at += step) {
      const first = i - radius;
      const last = Math.min(length - 1, i + radius);
      // Windows that lie in one span are cut off at an edge, or all of it.
      if (first <= 0) to[at] = back[last];
      else if (last - (last % span) <= first) to[at] = on[first];
      else to[at] = Math.min(on[first], back[last]);
    }
  }
}

/** Planes of floats whose width is a multiple of four. */
export const leastAroundKernel = defineKernel(leastAround<Float32Array>)({
  compiled: ['leastRows', 'leastColumns'],
  bind:
    ({ wasm }) =>
    (plane, spare, width, height, radius) => {
      wasm.leastRows(address(plane), address(spare), width, height, radius);
      wasm.leastColumns(address(spare), address(plane), width, height, radius);
    },
  samples: {
    'the least around, 4 samples each way': (make) => [make.floats(), make.floats(), 128, 100, 4],
    'the least around, 70 samples each way': (make) => [make.floats(), make.floats(), 64, 60, 70],
  },
  floats: 0,
});
