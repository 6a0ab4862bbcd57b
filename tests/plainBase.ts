/** Tones without detail at one place, in plain doubles straight from the paper: for every window that holds the place a share of the
 * tone that stays, from the window's variance, and the mean of them all (He, Sun and Tang 2010, eq. 5, 6 and 8, with a weight for
 * each window as Li and others 2015). */
const CONTRAST = 0.25;

/** @param toneAt - Stops; beyond the picture its edge.
 * @param radius - Of windows, in pixels. */
export function plainBase(toneAt: (x: number, y: number) => number, x: number, y: number, radius: number): number {
  const r = Math.max(1, Math.round(radius));
  let [slopes, offsets] = [0, 0];
  for (let dy = -r; dy <= r; dy++)
    for (let dx = -r; dx <= r; dx++) {
      const { mean, variance } = momentsAround(toneAt, x + dx, y + dy, r);
      const kept = variance ** 2 / (variance ** 2 + CONTRAST ** 4);
      slopes += kept;
      offsets += (1 - kept) * mean;
    }
  const count = (2 * r + 1) ** 2;
  return (slopes * toneAt(x, y) + offsets) / count;
}

function momentsAround(toneAt: (x: number, y: number) => number, x: number, y: number, r: number) {
  let [sum, squares] = [0, 0];
  for (let dy = -r; dy <= r; dy++)
    for (let dx = -r; dx <= r; dx++) {
      const tone = toneAt(x + dx, y + dy);
      sum += tone;
      squares += tone * tone;
    }
  const count = (2 * r + 1) ** 2;
  const mean = sum / count;
  return { mean, variance: squares / count - mean * mean };
}
