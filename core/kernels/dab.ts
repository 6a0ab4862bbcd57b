import { TILE } from '../raster/size.ts';
import { address, defineKernel } from './defineKernel.ts';
import { LAB_UNIT, type NearColour, nearness } from './nearColour.ts';
import { smoothstep } from './smoothstep.ts';

/** Lays one round dab into a stroke's coverage of a tile: each sample moves towards the dab's own coverage by `flow`,
 * and never back. With full flow the stroke is the largest of its dabs.
 * @param coverage - A tile's float plane, 0..1; changed in place.
 * @param x - Centre in the tile's pixels; pixel centres lie at +0.5.
 * @param radius - In the tile's pixels.
 * @param hardness - Share of the radius that is full, 0..1; the rest falls along a smoothstep.
 * @param share - Coverage at the centre, 0..1.
 * @param near - Colours that it stays on. */
export function layDab(
  coverage: Float32Array,
  x: number,
  y: number,
  radius: number,
  hardness: number,
  share: number,
  flow: number,
  near?: NearColour,
): void {
  // A thin edge still takes a pixel to fall, or it would show stairs.
  const ramp = Math.max(1, radius * (1 - hardness));
  const outer = Math.max(radius, radius * hardness + ramp / 2);
  const fromY = Math.max(0, Math.floor(y - outer));
  const toY = Math.min(TILE - 1, Math.ceil(y + outer));
  for (let row = fromY; row <= toY; row++) {
    const dy = row + 0.5 - y;
    const halfWidth = Math.sqrt(Math.max(0, outer * outer - dy * dy));
    const fromX = Math.max(0, Math.floor(x - halfWidth - 0.5));
    const toX = Math.min(TILE - 1, Math.ceil(x + halfWidth));
    for (let column = fromX; column <= toX; column++) {
      const dx = column + 0.5 - x;
      const t = (outer - Math.sqrt(dx * dx + dy * dy)) / ramp;
      if (t <= 0) continue;
      const at = row * TILE + column;
      const wanted = share * smoothstep(t) * (near ? nearness(near, at) : 1);
      if (wanted > coverage[at]) coverage[at] += (wanted - coverage[at]) * flow;
    }
  }
}

export const layDabKernel = defineKernel(layDab)({
  compiled: ['layDab'],
  bind:
    ({ wasm }) =>
    (coverage, x, y, radius, hardness, share, flow, near) => {
      const [l, a, b] = near ? near.lab.map(address) : [0, 0, 0];
      const [centreL, centreA, centreB] = near ? near.centre : [0, 0, 0];
      const perTolerance = near ? 1 / (near.tolerance * LAB_UNIT) : 0;
      const dab = [x, y, radius, hardness, share, flow] as const;
      wasm.layDab(address(coverage), ...dab, l, a, b, centreL, centreA, centreB, perTolerance);
    },
  samples: {
    'a dab': (make) => [make.floats(), make.number(0, 128), make.number(0, 128), make.number(2, 90), 0.2, 1, 0.3],
    'a dab that stays on colours': (make) => [
      ...([make.floats(), 64, 64, make.number(20, 90), 0.2, 1, 0.3] as const),
      { lab: make.rgb(), centre: [30000, 32000, 33000], tolerance: make.number(0.05, 0.6) },
    ],
  },
  // Floats of 32 bits tell places on a steep edge apart by a few millionths of the radius.
  floats: 3e-4,
});
