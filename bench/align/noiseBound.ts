import alea from 'alea';
import { invertSymmetric } from '#core/align/linear.ts';
import { cornersOf, mapPoint, type Point } from '#core/align/placement.ts';
import type { Size } from '#core/raster/size.ts';
import { lightNoise, type Placement, placementMatrix, STILL } from '../../demo/camera/camera.ts';
import type { RadianceCanvas } from '../../demo/radiance/canvas.ts';
import type { AlignSet } from './sets.ts';

/** Freedoms of a camera out of a hand, and steps by which their slopes are taken. */
const STEPS = { shiftX: 0.1, shiftY: 0.1, turnDegrees: 0.01, zoom: 1e-4, tiltX: 1e-4, tiltY: 1e-4 };
const FREEDOMS = Object.keys(STEPS) as (keyof Placement)[];
/** They and how much brighter one picture is. */
const UNKNOWNS = FREEDOMS.length + 1;
/** Every other pixel each way is looked at. */
const APART = 2;
const DRAWS = 4000;

/** Chance that noise takes a corner farther than a limit from its place, in pixels, whoever finds the placement without a bias: what the two
 * pictures tell of each freedom, from the true light's slopes against the noise of both, bounds its covariance from below (Rao 1945; Cramér
 * 1946). Errors are drawn from a normal distribution of that covariance, always the same ones. */
export function chanceBeyond(limit: number, set: AlignSet, light: RadianceCanvas, size: Size): number {
  const covariance = invertSymmetric(information(set, light, size), UNKNOWNS);
  if (!covariance) return 1;
  const root = choleskyOf(covariance);
  const placement = { ...STILL, ...set.frame.placement };
  const slopes = cornersOf(size).map((corner) => slopesAt(corner, placement, size));
  const random = alea('noise bound');
  const gaussian = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  let beyond = 0;
  for (let draw = 0; draw < DRAWS; draw++) {
    const even = Array.from({ length: UNKNOWNS }, gaussian);
    const off = root.map((row) => row.reduce((sum, each, i) => sum + each * even[i], 0));
    const isBeyond = slopes.some((corner) => {
      const [x, y] = [0, 1].map((axis) => corner.reduce((sum, slope, i) => sum + slope[axis] * off[i], 0));
      return Math.hypot(x, y) > limit;
    });
    if (isBeyond) beyond++;
  }
  return beyond / DRAWS;
}

/** What two pictures tell of the freedoms and of their brightness (Fisher's information), 7 x 7. */
function information(set: AlignSet, light: RadianceCanvas, size: Size): Float64Array {
  const placement = { ...STILL, ...set.frame.placement };
  const matrix = placementMatrix(size, placement);
  const [left, top] = [(light.width - size.width) / 2, (light.height - size.height) / 2];
  const shots = [set.base ?? { ev: 0 }, set.frame].map(({ ev, iso = 100 }) => ({ ev, iso }));
  const told = new Float64Array(UNKNOWNS ** 2);
  for (let y = 0; y < size.height; y += APART)
    for (let x = 0; x < size.width; x += APART) {
      const there = mapPoint(matrix, { x, y });
      const [column, row] = [Math.round(there.x), Math.round(there.y)];
      if (column < 1 || row < 1 || column >= size.width - 1 || row >= size.height - 1) continue;
      const moves = slopesAt({ x, y }, placement, size);
      const at = ((row + top) * light.width + column + left) * 3;
      for (let i = at; i < at + 3; i++) {
        const noises = shots.map((shot) => lightNoise(light.rgb[i], shot));
        if (noises.includes(Number.POSITIVE_INFINITY)) continue;
        const across = (light.rgb[i + 3] - light.rgb[i - 3]) / 2;
        const down = (light.rgb[i + 3 * light.width] - light.rgb[i - 3 * light.width]) / 2;
        const changes = [...moves.map(([dx, dy]) => across * dx + down * dy), light.rgb[i]];
        const weight = APART ** 2 / (noises[0] ** 2 + noises[1] ** 2);
        for (let a = 0; a < UNKNOWNS; a++)
          for (let b = 0; b < UNKNOWNS; b++) told[a * UNKNOWNS + b] += weight * changes[a] * changes[b];
      }
    }
  return told;
}

/** How a place of the frame moves on the base with each freedom. */
function slopesAt(place: Point, placement: Placement, size: Size): [number, number][] {
  const before = mapPoint(placementMatrix(size, placement), place);
  return FREEDOMS.map((freedom) => {
    const step = STEPS[freedom];
    const after = mapPoint(placementMatrix(size, { ...placement, [freedom]: placement[freedom] + step }), place);
    return [(after.x - before.x) / step, (after.y - before.y) / step];
  });
}

/** The lower triangle whose square a covariance is, row by row. */
function choleskyOf(covariance: Float64Array): number[][] {
  const root: number[][] = [];
  for (let i = 0; i < UNKNOWNS; i++) {
    root.push([]);
    for (let j = 0; j <= i; j++) {
      const before = root[j].slice(0, j).reduce((sum, each, k) => sum + each * root[i][k], 0);
      const rest = covariance[i * UNKNOWNS + j] - before;
      root[i].push(i === j ? Math.sqrt(rest) : rest / root[j][j]);
    }
  }
  return root;
}
