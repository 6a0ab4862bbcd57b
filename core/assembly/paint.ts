const TILE: i32 = 128;

// @ts-ignore: decorator
@inline
function clampInt(value: i32, from: i32, to: i32): i32 {
  return value < from ? from : value > to ? to : value;
}

/** Square of the distances of four samples from one code. */
// @ts-ignore: decorator
@inline
function apart(plane: usize, at: usize, centre: v128): v128 {
  const off = f32x4.sub(f32x4.convert_i32x4_s(v128.load16x4_u(plane + at)), centre);
  return f32x4.mul(off, off);
}

/** Lays one round dab into a stroke's coverage of a tile, four samples at a time.
 * @param l - A tile's three axes of colour, or 0; then where the colour lies that is stayed on, and 1 over how far. */
export function layDab(
  coverage: usize, x: f32, y: f32, radius: f32, hardness: f32, share: f32, flow: f32, l: usize, a: usize, b: usize,
  centreL: f32, centreA: f32, centreB: f32, perTolerance: f32,
): void {
  const centresL = f32x4.splat(centreL);
  const centresA = f32x4.splat(centreA);
  const centresB = f32x4.splat(centreB);
  const ramp = max<f32>(1, radius * (1 - hardness));
  const outer = max<f32>(radius, radius * hardness + ramp * 0.5);
  const fromY = clampInt(<i32>Mathf.floor(y - outer), 0, TILE);
  const toY = clampInt(<i32>Mathf.ceil(y + outer), -1, TILE - 1);
  const outers = f32x4.splat(outer);
  const steep = f32x4.splat(1 / ramp);
  const shares = f32x4.splat(share);
  const flows = f32x4.splat(flow);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const two = f32x4.splat(2);
  const three = f32x4.splat(3);
  const steps = f32x4(0.5, 1.5, 2.5, 3.5);
  for (let row = fromY; row <= toY; row++) {
    const dy = <f32>row + 0.5 - y;
    const halfWidth = Mathf.sqrt(max<f32>(0, outer * outer - dy * dy));
    const fromX = clampInt(<i32>Mathf.floor(x - halfWidth - 0.5), 0, TILE) & ~3;
    const toX = clampInt(<i32>Mathf.ceil(x + halfWidth), -1, TILE - 1);
    const dy2 = f32x4.splat(dy * dy);
    for (let column = fromX; column <= toX; column += 4) {
      const at = coverage + (<usize>(row * TILE + column) << 2);
      const dx = f32x4.add(f32x4.splat(<f32>column - x), steps);
      const distance = f32x4.sqrt(f32x4.add(f32x4.mul(dx, dx), dy2));
      const t = f32x4.pmin(one, f32x4.pmax(zero, f32x4.mul(f32x4.sub(outers, distance), steep)));
      let fall = f32x4.mul(f32x4.mul(t, t), f32x4.sub(three, f32x4.mul(two, t)));
      if (l != 0) {
        const place = <usize>(row * TILE + column) << 1;
        const away = f32x4.add(apart(l, place, centresL), f32x4.add(apart(a, place, centresA), apart(b, place, centresB)));
        const s = f32x4.pmin(one, f32x4.pmax(zero, f32x4.sub(two, f32x4.mul(f32x4.sqrt(away), f32x4.splat(perTolerance)))));
        fall = f32x4.mul(fall, f32x4.mul(f32x4.mul(s, s), f32x4.sub(three, f32x4.mul(two, s))));
      }
      const now = v128.load(at);
      const more = f32x4.pmax(zero, f32x4.sub(f32x4.mul(fall, shares), now));
      v128.store(at, f32x4.add(now, f32x4.mul(more, flows)));
    }
  }
}

/** Lets one stroke pull a painted part towards its target. `stencil` 0: the weight `constant` (0..65535) throughout.
 * `fresh`: nothing has been painted before, whatever the planes hold. */
// @ts-ignore: decorator
@inline
export function paintRow(
  value: usize, hold: usize, coverage: usize, target: f32, strength: f32, stencil: usize, constant: f32, n: i32, fresh: i32,
): void {
  const targets = f32x4.splat(target);
  const one = f32x4.splat(1);
  const scale = f32x4.splat(strength / 65535.0);
  const even = f32x4.splat((constant * strength) / 65535.0);
  for (let i: usize = 0; i < <usize>n; i += 4) {
    const c = v128.load(coverage + (i << 2));
    if (fresh == 0 && !v128.any_true(c)) continue;
    let weight = even;
    if (stencil != 0) {
      weight = f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(stencil + (i << 1))), scale);
    }
    weight = f32x4.mul(weight, c);
    if (fresh != 0) {
      v128.store(value + (i << 2), f32x4.mul(targets, weight));
      v128.store(hold + (i << 2), weight);
      continue;
    }
    const v = v128.load(value + (i << 2));
    const h = v128.load(hold + (i << 2));
    v128.store(value + (i << 2), f32x4.add(v, f32x4.mul(f32x4.sub(targets, v), weight)));
    v128.store(hold + (i << 2), f32x4.add(h, f32x4.mul(f32x4.sub(one, h), weight)));
  }
}

/** The same for a whole tile. */
export function paintOver(
  value: usize, hold: usize, coverage: usize, target: f32, strength: f32, stencil: usize, constant: f32, n: i32, fresh: i32,
): void {
  paintRow(value, hold, coverage, target, strength, stencil, constant, n, fresh);
}
