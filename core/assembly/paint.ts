import { code } from './coverage';

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
    if (fromX > toX) continue;
    let column = fromX;
    do {
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
      column += 4;
    } while (column <= toX);
  }
}

/** Four samples' weight, times strength. */
// @ts-ignore: decorator
@inline
function weightAt(through: bool, stencil: usize, scale: v128, even: v128): v128 {
  return through ? f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(stencil)), scale) : even;
}

// @ts-ignore: decorator
@inline
function paintFirst(
  through: bool, value: usize, alpha: usize, coverage: usize, targets: v128, stencil: usize, scale: v128, even: v128, n: i32,
): void {
  let i: usize = 0;
  do {
    const weight = f32x4.mul(weightAt(through, stencil + (i << 1), scale, even), v128.load(coverage + (i << 2)));
    v128.store(value + (i << 2), f32x4.mul(targets, weight));
    v128.store(alpha + (i << 2), weight);
    i += 4;
  } while (i < <usize>n);
}

// @ts-ignore: decorator
@inline
function paintMore(
  through: bool, value: usize, alpha: usize, coverage: usize, targets: v128, stencil: usize, scale: v128, even: v128, n: i32,
): void {
  const one = f32x4.splat(1);
  let i: usize = 0;
  do {
    const c = v128.load(coverage + (i << 2));
    if (v128.any_true(c)) {
      const weight = f32x4.mul(weightAt(through, stencil + (i << 1), scale, even), c);
      const v = v128.load(value + (i << 2));
      const h = v128.load(alpha + (i << 2));
      v128.store(value + (i << 2), f32x4.add(v, f32x4.mul(f32x4.sub(targets, v), weight)));
      v128.store(alpha + (i << 2), f32x4.add(h, f32x4.mul(f32x4.sub(one, h), weight)));
    }
    i += 4;
  } while (i < <usize>n);
}

/** Lets one stroke pull a painted part towards its target. `stencil` 0: the weight `constant` (0..65535) throughout.
 * `fresh`: nothing has been painted before, whatever the planes hold. */
// @ts-ignore: decorator
@inline
export function paintRow(
  value: usize, alpha: usize, coverage: usize, target: f32, strength: f32, stencil: usize, constant: f32, n: i32, fresh: i32,
): void {
  const targets = f32x4.splat(target);
  const scale = f32x4.splat(strength / 65535.0);
  const even = f32x4.splat((constant * strength) / 65535.0);
  if (fresh != 0) {
    if (stencil != 0) paintFirst(true, value, alpha, coverage, targets, stencil, scale, even, n);
    else paintFirst(false, value, alpha, coverage, targets, stencil, scale, even, n);
  } else if (stencil != 0) paintMore(true, value, alpha, coverage, targets, stencil, scale, even, n);
  else paintMore(false, value, alpha, coverage, targets, stencil, scale, even, n);
}

// @ts-ignore: decorator
@inline
function joined(before: v128, held: v128, targets: v128, one: v128): v128 {
  return f32x4.add(f32x4.mul(targets, held), f32x4.mul(before, f32x4.sub(one, held)));
}

// @ts-ignore: decorator
@inline
function joinRowThrough(
  through: bool, mask: usize, out: usize, coverage: usize, targets: v128, stencil: usize, scale: v128, even: v128,
): void {
  const one = f32x4.splat(1);
  const unit = f32x4.splat(1.0 / 65535.0);
  let i: usize = 0;
  do {
    const before = f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(mask + i)), unit);
    const beforeHigh = f32x4.mul(f32x4.convert_i32x4_s(v128.load16x4_u(mask + i, 8)), unit);
    const held = f32x4.mul(weightAt(through, stencil + i, scale, even), v128.load(coverage + (i << 1)));
    const heldHigh = f32x4.mul(weightAt(through, stencil + i + 8, scale, even), v128.load(coverage + (i << 1), 16));
    const low = code(joined(before, held, targets, one));
    v128.store(out + i, i16x8.narrow_i32x4_u(low, code(joined(beforeHigh, heldHigh, targets, one))));
    i += 16;
  } while (i < 256);
}

/** Paints a row of a tile that nothing was painted on, adds it to a mask and rounds. */
// @ts-ignore: decorator
@inline
export function joinRow(
  mask: usize, out: usize, coverage: usize, target: f32, strength: f32, stencil: usize, constant: f32,
): void {
  const targets = f32x4.splat(target);
  const scale = f32x4.splat(strength / 65535.0);
  const even = f32x4.splat((constant * strength) / 65535.0);
  if (stencil != 0) joinRowThrough(true, mask, out, coverage, targets, stencil, scale, even);
  else joinRowThrough(false, mask, out, coverage, targets, stencil, scale, even);
}

/** The same as `paintRow` for a whole tile. */
export function paintOver(
  value: usize, alpha: usize, coverage: usize, target: f32, strength: f32, stencil: usize, constant: f32, n: i32, fresh: i32,
): void {
  paintRow(value, alpha, coverage, target, strength, stencil, constant, n, fresh);
}
