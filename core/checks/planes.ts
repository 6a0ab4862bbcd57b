import type { PlanePool } from './planePool.ts';

/** Mean of a plane over squares around each of its samples; at the border over what there is of them.
 * @param radius - Samples to each side.
 * @returns Of the pool, of the same size. */
export function boxMean(plane: Float32Array, stride: number, radius: number, pool: PlanePool): Float32Array {
  const rows = plane.length / stride;
  const out = pool.take(plane.length);
  const across = pool.take(plane.length);
  for (let y = 0; y < rows; y++) slideRow(plane, across, y * stride, stride, radius);
  const sums = new Float32Array(stride);
  for (let y = 0; y < Math.min(radius, rows); y++) addRow(sums, across, y * stride, 1);
  for (let y = 0; y < rows; y++) {
    if (y + radius < rows) addRow(sums, across, (y + radius) * stride, 1);
    if (y - radius - 1 >= 0) addRow(sums, across, (y - radius - 1) * stride, -1);
    const share = 1 / (Math.min(rows - 1, y + radius) - Math.max(0, y - radius) + 1);
    const to = y * stride;
    for (let x = 0; x < stride; x++) out[to + x] = sums[x] * share;
  }
  return out;
}

function addRow(sums: Float32Array, plane: Float32Array, from: number, sign: number): void {
  for (let x = 0; x < sums.length; x++) sums[x] += sign * plane[from + x];
}

/** Means within a row; V8 runs loops without conditions and closures several times as fast. */
function slideRow(from: Float32Array, to: Float32Array, start: number, count: number, radius: number): void {
  const end = start + count;
  let sum = 0;
  for (let i = start; i < start + Math.min(count, radius); i++) sum += from[i];
  for (let i = start; i < Math.min(end, start + radius + 1); i++) {
    if (i + radius < end) sum += from[i + radius];
    to[i] = sum / (Math.min(end - 1, i + radius) - start + 1);
  }
  if (radius + 1 < count) slideInside(from, to, start, end, radius, sum);
}

function slideInside(
  from: Float32Array,
  to: Float32Array,
  start: number,
  end: number,
  radius: number,
  sumSoFar: number,
): void {
  const share = 1 / (2 * radius + 1);
  let sum = sumSoFar;
  let i = start + radius + 1;
  for (; i < end - radius; i++) {
    sum += from[i + radius] - from[i - radius - 1];
    to[i] = sum * share;
  }
  for (; i < end; i++) {
    sum -= from[i - radius - 1];
    to[i] = sum / (end - i + radius);
  }
}

/** Mean of a plane along lines through every other sample of every other row, from the first on; those between, and those nearer to the border
 * than the line is long, are undefined.
 * @param way - Columns and rows from one sample of a line to the next; rows 0 or 1.
 * @param radius - Samples to each side; even.
 * @returns Of the pool, of the same size. */
export function meanAlong(
  plane: Float32Array,
  stride: number,
  [dx, dy]: readonly [number, number],
  radius: number,
  pool: PlanePool,
): Float32Array {
  const rows = plane.length / stride;
  const out = pool.take(plane.length);
  const step = dy * stride + dx;
  const left = dx === 0 ? 0 : radius;
  const right = stride - left;
  const lastX = left + 2 * Math.floor((right - 1 - left) / 2);
  const top = dy === 0 ? 0 : radius;
  for (let y = top; y < rows - top; y += 2) {
    const row = y * stride;
    if (dy === 0) {
      out[row + left] = lineMean(plane, row + left, step, radius);
      followLines(plane, out, row + left + 2, row + right, step, radius);
    } else if (y === top) {
      for (let x = left; x < right; x += 2) out[row + x] = lineMean(plane, row + x, step, radius);
    } else {
      // The outermost begin lines of their own.
      if (dx > 0) out[row + left] = lineMean(plane, row + left, step, radius);
      if (dx < 0) out[row + lastX] = lineMean(plane, row + lastX, step, radius);
      followLines(plane, out, row + left + (dx > 0 ? 2 : 0), row + (dx < 0 ? lastX : right), step, radius);
    }
  }
  return out;
}

function lineMean(plane: Float32Array, at: number, step: number, radius: number): number {
  let sum = 0;
  for (let i = -radius; i <= radius; i++) sum += plane[at + i * step];
  return sum / (2 * radius + 1);
}

/** Each follows from the one two samples before it on its line. */
function followLines(
  plane: Float32Array,
  out: Float32Array,
  from: number,
  to: number,
  step: number,
  radius: number,
): void {
  const share = 1 / (2 * radius + 1);
  const ahead = radius * step;
  const behind = ahead + step;
  const before = 2 * step;
  for (let at = from; at < to; at += 2)
    out[at] =
      out[at - before] +
      (plane[at + ahead] + plane[at + ahead - step] - plane[at - behind] - plane[at - behind - step]) * share;
}

/** Means of squares of two by two samples.
 * @param stride - Even.
 * @returns Of the pool, half as wide and half as high. */
export function halved(plane: Float32Array, stride: number, pool: PlanePool): Float32Array {
  const [width, height] = [stride >> 1, Math.floor(plane.length / stride / 2)];
  const out = pool.take(width * height);
  for (let y = 0; y < height; y++) halveRow(plane, out, 2 * y * stride, y * width, width, stride);
  return out;
}

function halveRow(
  plane: Float32Array,
  out: Float32Array,
  from: number,
  to: number,
  width: number,
  stride: number,
): void {
  for (let x = 0; x < width; x++) {
    const at = from + 2 * x;
    out[to + x] = 0.25 * (plane[at] + plane[at + 1] + plane[at + stride] + plane[at + stride + 1]);
  }
}

/** Contrast of a plane at a distance: by how much samples differ from what lies that far beside them, in the mean around each. */
export function contrastAt(plane: Float32Array, stride: number, distance: number, pool: PlanePool): Float32Array {
  const differences = pool.filled(plane.length, 0);
  const rows = plane.length / stride;
  const down = distance * stride;
  for (let y = distance; y < rows - distance; y++)
    for (let at = y * stride + distance; at < (y + 1) * stride - distance; at++) {
      const twice = 2 * plane[at];
      const across = Math.abs(plane[at - distance] + plane[at + distance] - twice);
      differences[at] = 0.25 * (across + Math.abs(plane[at - down] + plane[at + down] - twice));
    }
  return boxMean(differences, stride, distance, pool);
}
