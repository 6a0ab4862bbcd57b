/** Heights 0..1 of a histogram's 256 levels: square roots, so that rare levels show, against the 99.5th percentile, so
 * that one full level at an end does not flatten the rest. */
export function heightsOf(counts: Uint32Array | undefined): number[] {
  if (!counts) return Array.from({ length: 256 }, () => 0);
  const sorted = [...counts].sort((a, b) => a - b);
  const top = Math.sqrt(Math.max(1, sorted[Math.floor(255 * 0.985)]));
  return Array.from(counts, (count) => Math.min(1, Math.sqrt(count) / top));
}
