import { bendFactor } from '../raster/lens.ts';
import { IDENTITY3 } from '../raster/matrix3.ts';
import { TILE } from '../raster/size.ts';
import { address, addressOf, defineKernel } from './defineKernel.ts';
import type { Rgb16 } from './planes.ts';
import type { SampleMaker } from './sampleMaker.ts';
import { heldWeights, PHASE_NUMBERS, PHASES, type PhaseWeights, valueBetween } from './warpTile.ts';

/** From a tile's pixels to places of an area, one for each channel. */
export interface BentMap {
  /** Homography to the area, row by row: of the tile's pixels, or of bent places. */
  matrix: readonly number[];
  /** Homography from the tile's pixels to straight places, and what bends these, see `Lens`; undefined for none. */
  bent: { straight: readonly number[]; bend: readonly [number, number, number] } | undefined;
  /** Each channel is read farther from a place of the area, by its scale. */
  channels: { x: number; y: number; scales: readonly [number, number, number] };
}

/** Pixels as they are: nothing is bent. */
const PLAIN = { straight: IDENTITY3, bend: [0, 0, 0] as const };

/** Reads a tile out of an area of a picture through a lens: as {@link warpTile} does, places being bent first and channels read apart.
 * @param area - Three planes of `side` x `side` samples and eight more.
 * @param weights - Of {@link heldWeights}.
 * @param out - Three planes of a tile; overwritten, rounded, cut to 0..65535. */
export function warpBent(area: Rgb16, side: number, map: BentMap, weights: PhaseWeights, out: Rgb16): void {
  const { matrix, bent = PLAIN, channels } = map;
  const s = bent.straight;
  const inside = (value: number) => Math.min(side - 6, Math.max(2, value));
  for (let row = 0; row < TILE; row++)
    for (let column = 0; column < TILE; column++) {
      const depth = s[6] * column + s[7] * row + s[8];
      const straight = [(s[0] * column + s[1] * row + s[2]) / depth, (s[3] * column + s[4] * row + s[5]) / depth];
      const factor = bendFactor(bent.bend, straight[0] * straight[0] + straight[1] * straight[1]);
      const [x, y] = [straight[0] * factor, straight[1] * factor];
      const w = matrix[6] * x + matrix[7] * y + matrix[8];
      const u = (matrix[0] * x + matrix[1] * y + matrix[2]) / w - channels.x;
      const v = (matrix[3] * x + matrix[4] * y + matrix[5]) / w - channels.y;
      for (const channel of [0, 1, 2] as const) {
        const scale = channels.scales[channel];
        const [across, down] = [inside(channels.x + scale * u), inside(channels.y + scale * v)];
        const [left, top] = [Math.floor(across), Math.floor(down)];
        const phase = Math.floor((across - left) * PHASES + 0.5) * PHASE_NUMBERS;
        const lower = Math.floor((down - top) * PHASES + 0.5) * PHASE_NUMBERS;
        const from = (top - 2) * side + left - 2;
        out[channel][row * TILE + column] = valueBetween(area[channel], side, from, weights, [phase, lower]);
      }
    }
}

function argumentsOf(
  make: SampleMaker,
  scales: BentMap['channels']['scales'],
  straight: readonly number[],
): Parameters<typeof warpBent> {
  const weights = heldWeights('lanczos3', make.arena);
  const area = [0, 1, 2].map(() => make.samples(150 * 150 + 16)) as unknown as Rgb16;
  const bent = { straight, bend: [-0.06, 0.02, 0.005] as const };
  const matrix = [300, 1.5, 100.4, -1.25, 300, 76.2, 0.0005, 0.001, 1];
  return [area, 150, { matrix, bent, channels: { x: 70.25, y: 68.5, scales } }, weights, make.rgb()];
}

export const warpBentKernel = defineKernel(warpBent)({
  compiled: ['warpBent'],
  bind:
    ({ wasm, room }) =>
    (area, side, { matrix, bent = PLAIN, channels: { x, y, scales } }, weights, out) => {
      const { words } = room.records(1);
      words.set([...area, ...out].map(address));
      const place = [...bent.straight, ...bent.bend];
      const { across, down } = weights;
      const [a, d, paired] = [address(across), addressOf(down), address(room.areas(3 * side * side + 8))];
      wasm.warpBent(words.byteOffset, side, a, d, paired, ...place, ...matrix, x, y, ...scales);
    },
  samples: {
    'warping through a lens': (make) => argumentsOf(make, [1, 1, 1], [1 / 300, 0, -0.3, 0, 1 / 300, -0.22, 0, 0, 1]),
    'warping channels apart': (make) =>
      argumentsOf(make, [1.002, 1, 0.9985], [0.0032, 0.0004, -0.31, -0.0004, 0.0033, -0.2, 0.0002, 0.0003, 1.02]),
  },
  steps: 1,
});
