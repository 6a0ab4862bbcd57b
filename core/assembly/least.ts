/** The least of the samples around each along its row, cut off at the ends. */
export function leastRows(plane: usize, out: usize, width: i32, height: i32, radius: i32): void {
  const stride = <usize>width << 2;
  const span = <usize>(2 * radius) << 2;
  for (let y = 0; y < height; y++) {
    const row = plane + <usize>y * stride;
    const to = out + <usize>y * stride;
    for (let x = 0; x < width; ) {
      if (x >= radius && x + 4 + radius <= width) {
        const first = row + (<usize>(x - radius) << 2);
        let least = v128.load(first);
        for (let at: usize = 4; at <= span; at += 4) least = f32x4.pmin(least, v128.load(first + at));
        v128.store(to + (<usize>x << 2), least);
        x += 4;
        continue;
      }
      const last = min(width - 1, x + radius);
      let least = load<f32>(row + (<usize>max(0, x - radius) << 2));
      for (let i = max(0, x - radius) + 1; i <= last; i++) least = min(least, load<f32>(row + (<usize>i << 2)));
      store<f32>(to + (<usize>x << 2), least);
      x++;
    }
  }
}

/** Likewise along columns. `width` is a multiple of 4. */
export function leastColumns(plane: usize, out: usize, width: i32, height: i32, radius: i32): void {
  const stride = <usize>width << 2;
  for (let y = 0; y < height; y++) {
    const first = plane + <usize>max(0, y - radius) * stride;
    const last = plane + <usize>min(height - 1, y + radius) * stride;
    const to = out + <usize>y * stride;
    for (let x: usize = 0; x < stride; x += 16) {
      let least = v128.load(first + x);
      for (let row = first + stride; row <= last; row += stride) least = f32x4.pmin(least, v128.load(row + x));
      v128.store(to + x, least);
    }
  }
}
