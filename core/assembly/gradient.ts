import { betweenKnots, knotsAt } from './gather';

const TILE: i32 = 128;

/** How a fall goes: straight, softly at both ends, or as a profile says. */
const STRAIGHT = 0;
const SMOOTH = 1;
const PROFILE = 2;

/** Coverage between the knots of a profile.
 * @param t - 0..1. */
// @ts-ignore: decorator
@inline
function byProfile(profile: usize, t: v128): v128 {
  const place = f32x4.mul(t, f32x4.splat(1024));
  const knot = f32x4.pmin(f32x4.splat(1023), f32x4.floor(place));
  return betweenKnots(knotsAt(profile, knot, 2), f32x4.sub(place, knot));
}

// @ts-ignore: decorator
@inline
function fell(kind: i32, profile: usize, t: v128): v128 {
  const one = f32x4.splat(1);
  const cut = f32x4.pmin(one, f32x4.pmax(f32x4.splat(0), t));
  if (kind == PROFILE) return byProfile(profile, cut);
  if (kind == STRAIGHT) return f32x4.sub(one, cut);
  return f32x4.sub(one, f32x4.mul(f32x4.mul(cut, cut), f32x4.sub(f32x4.splat(3), f32x4.add(cut, cut))));
}

// @ts-ignore: decorator
@inline
function fill(kind: i32, out: usize, start: f32, across: f32, down: f32, profile: usize): void {
  const ramp = f32x4.mul(f32x4(0, 1, 2, 3), f32x4.splat(across));
  for (let y = 0; y < TILE; y++) {
    const row = out + (<usize>y << 9);
    const begin = start + down * <f32>y;
    let x = 0;
    do {
      const t = f32x4.add(f32x4.splat(begin + across * <f32>x), ramp);
      v128.store(row + (<usize>x << 2), fell(kind, profile, t));
      x += 4;
    } while (x < TILE);
  }
}

/** A fall across a tile. `start` is how far along it the first pixel's centre lies, 0..1 from its beginning to its end;
 * `across` and `down` how much a step to the right and down adds.
 * @param profile - 1,025 floats: coverage from the beginning of the fall to its end; or 0, then it is straight, or `smooth`. */
export function gradient(out: usize, start: f32, across: f32, down: f32, profile: usize, smooth: i32): void {
  if (profile != 0) fill(PROFILE, out, start, across, down, profile);
  else if (smooth != 0) fill(SMOOTH, out, start, across, down, 0);
  else fill(STRAIGHT, out, start, across, down, 0);
}
