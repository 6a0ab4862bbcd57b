import type { StrokeId } from '../ids.ts';
import { isFill, type Stroke } from '../masks/stroke.ts';
import { allMasks } from './places.ts';
import type { RepairCode } from './repairs.ts';
import { type Scene, sceneSize } from './scene.ts';

/** Numbers of a point, see `POINT_NUMBERS`. */
const NUMBERS = 4;
/** How many sizes of the picture beyond its edges a hand may go. */
const BEYOND = 3;
/** Dabs that a stroke may lay: sixty times across the largest picture with the smallest brush. */
const MOST_DABS = 1_000_000;
/** Least distance of two dabs, and least share of a brush's size between them, as strokes are painted. */
const LEAST_STEP = 0.5;
const LEAST_SHARE = 0.035;

type Brush = Pick<Stroke, 'size' | 'pressure'>;

/** Points of a stroke as they can be painted: whole points with finite numbers, near the picture, pressures 0..1, and no more of them
 * than a hand paints.
 * @param brushes - Those of all strokes with these points. */
export function soundPoints(
  points: Float32Array,
  brushes: readonly Brush[],
  size: { width: number; height: number },
): { points: Float32Array; repair: RepairCode | undefined } {
  const sound = new Float32Array(points.length);
  let [count, dabs] = [0, 0];
  let repair: RepairCode | undefined = points.length % NUMBERS === 0 ? undefined : 'stroke-points';
  const step = Math.min(...brushes.map(stepOf), Infinity);
  for (let at = 0; at + NUMBERS <= points.length; at += NUMBERS) {
    const [x, y, pressure, ms] = points.subarray(at, at + NUMBERS);
    if (!Number.isFinite(x) || !Number.isFinite(y)) {
      repair = 'stroke-points';
      continue;
    }
    const whole = [within(x, size.width), within(y, size.height), unit(pressure), Number.isFinite(ms) ? ms : 0];
    if (whole[0] !== x || whole[1] !== y || whole[2] !== pressure || whole[3] !== ms) repair = 'stroke-points';
    if (count > 0) dabs += Math.hypot(whole[0] - sound[count - 4], whole[1] - sound[count - 3]) / step;
    if (dabs > MOST_DABS) return { points: sound.slice(0, count), repair: 'stroke-cut' };
    sound.set(whole, count);
    count += NUMBERS;
  }
  return { points: repair ? sound.slice(0, count) : points, repair };
}

/** With pressure the brush may be as small as a fiftieth. */
function stepOf({ size, pressure }: Brush): number {
  const least = pressure === 'size' || pressure === 'both' ? size * 0.02 : size;
  return Math.max(LEAST_STEP, least * LEAST_SHARE);
}

const within = (value: number, length: number): number =>
  Math.min((1 + BEYOND) * length, Math.max(-BEYOND * length, value));
const unit = (value: number): number => (Number.isFinite(value) ? Math.min(1, Math.max(0, value)) : 1);

/** All strokes of scenes' masks by id; copies of a mask have strokes of the same ids. */
export function brushesOf(...scenes: readonly Scene[]): Map<StrokeId, Stroke[]> {
  const brushes = new Map<StrokeId, Stroke[]>();
  for (const { parts } of scenes.flatMap(allMasks))
    for (const part of parts) {
      if (part.kind !== 'painted') continue;
      for (const touch of part.strokes)
        if (!isFill(touch)) {
          const known = brushes.get(touch.id);
          if (!known) brushes.set(touch.id, [touch]);
          else if (!known.includes(touch)) known.push(touch);
        }
    }
  return brushes;
}

/** Points of all strokes of a scene, mended where they have to be.
 * @param find - Points of a stroke by id; undefined when nobody has them.
 * @param mended - Told of every stroke that was.
 * @param others - Scenes before and after it, whose strokes are mended as well. */
export function soundStrokes(
  scene: Scene,
  find: (id: StrokeId) => Float32Array | undefined,
  mended: (code: RepairCode) => void,
  others: readonly Scene[] = [],
): Map<StrokeId, Float32Array> {
  const size = sceneSize(scene);
  const all = new Map<StrokeId, Float32Array>();
  if (!size) return all;
  const shown = brushesOf(scene);
  for (const [id, brushes] of brushesOf(scene, ...others)) {
    const found = find(id);
    if (!found) {
      if (shown.has(id)) mended('stroke-missing');
      continue;
    }
    const { points, repair } = soundPoints(found, brushes, size);
    if (repair) mended(repair);
    all.set(id, points);
  }
  return all;
}
