import { lmsMatrix } from '../color/oklab.ts';
import { decodeSrgb } from '../color/srgb.ts';
import type { OutputSpace } from '../color/workingSpace.ts';
import { ROOTS_TO_LAB } from '../kernels/oklabPlanes.ts';
import { Cells, type CheckedBlock, type CheckedItem, type CheckedPicture, type Found } from './checkedBlock.ts';
import type { PlanePool } from './planePool.ts';
import { halved, meanAlong } from './planes.ts';
import { maskedStep } from './visibility.ts';

/** A difference of colour in Oklab that is just seen (CSS Color Module Level 4, section 13.2: the JND of its gamut mapping). */
const JUST_SEEN = 0.02;

/** Pairs of pixels of the level that a step is looked for across, and every so many of them: the eye sees colour less finely. */
const LENGTH = 2;
const STEP = 2;
const LEAST_CHANGE = 0.02;
/** Pairs of pixels that a border runs to each side. */
const RUN = 4;
/** Colour of what is darker than this is noise. */
const DARKEST = 0.12;

/** Chroma at one lightness, so that a step of light alone is none of colour: axes a and b of Oklab over L. */
interface Chroma {
  light: Float32Array;
  a: Float32Array;
  b: Float32Array;
}

/** Colour shifts: steps of hue or chroma along the border of a mask that no picture that is blended has, and that its lightness does not
 * explain, in Oklab (Ottosson 2020). */
export function colourShifts(block: CheckedBlock, space: OutputSpace): Found[] {
  const cells = new Cells(block);
  for (const item of block.items) block.pool.within(() => scan(block, item, space, cells));
  return cells.all;
}

function scan(block: CheckedBlock, item: CheckedItem, space: OutputSpace, cells: Cells): void {
  const { region, margin, pool } = block;
  const stride = block.stride >> 1;
  const share = halved(item.share, block.stride, pool);
  const places = { width: region.width >> 1, height: region.height >> 1, margin: margin >> 1, stride };
  if (!varies(places, share)) return;
  const flat = [item.below, item.content, item.result].map((picture) => chromaOf(picture, block.stride, space, pool));
  for (const [dx, dy] of [
    [1, 0],
    [0, 1],
  ] as const) {
    const by = LENGTH * (dy * stride + dx);
    const [under, over, mixed] = flat.map((chroma) => alongBorder(chroma, stride, [dy, dx], pool));
    for (let y = 0; y < places.height; y += STEP)
      for (let x = 0; x < places.width; x += STEP) {
        const at = (y + places.margin) * stride + x + places.margin;
        const light = mixed.light[at];
        const seen = item.seen[2 * ((y + places.margin) * block.stride + x + places.margin)];
        if (seen < 0.05 || light < DARKEST || Math.abs(share[at - by] - share[at + by]) < LEAST_CHANGE) continue;
        const own = Math.max(stepOf(under, at, by), stepOf(over, at, by));
        const around = Math.min(stepOf(mixed, at - 2 * by, by), stepOf(mixed, at + 2 * by, by));
        const excess = (stepOf(mixed, at, by) - own) * light * seen;
        const strength = excess / maskedStep(JUST_SEEN, around * light);
        if (strength > 1)
          cells.take(2 * x, 2 * y, { check: 'colours', strength, item: item.id, facts: { difference: excess } });
      }
  }
}

/** Part of a plane of pairs of pixels that is judged. */
interface Places {
  width: number;
  height: number;
  margin: number;
  stride: number;
}

/** Whether a share changes over the length anywhere that is looked at. */
function varies({ width, height, margin, stride }: Places, share: Float32Array): boolean {
  for (let y = 0; y < height; y += STEP)
    for (let x = 0; x < width; x += STEP) {
      const at = (y + margin) * stride + x + margin;
      for (const by of [LENGTH, LENGTH * stride])
        if (Math.abs(share[at - by] - share[at + by]) >= LEAST_CHANGE) return true;
    }
  return false;
}

/** Means along a border, so that single leaves and twigs count little. */
const alongBorder = (
  { light, a, b }: Chroma,
  stride: number,
  way: readonly [number, number],
  pool: PlanePool,
): Chroma => ({
  light,
  a: meanAlong(a, stride, way, RUN, pool),
  b: meanAlong(b, stride, way, RUN, pool),
});

const stepOf = ({ a, b }: Chroma, at: number, by: number): number =>
  Math.hypot(a[at - by] - a[at + by], b[at - by] - b[at + by]);

function chromaOf({ rgb }: CheckedPicture, stride: number, space: OutputSpace, pool: PlanePool): Chroma {
  const m = lmsMatrix(space);
  const [red, green, blue] = rgb.map((plane) => halved(plane, stride, pool));
  const [light, a, b] = [0, 1, 2].map(() => pool.take(red.length));
  for (let i = 0; i < red.length; i++) {
    const [r, g, v] = [decode(red[i]), decode(green[i]), decode(blue[i])];
    const l = Math.cbrt(m[0] * r + m[1] * g + m[2] * v);
    const mid = Math.cbrt(m[3] * r + m[4] * g + m[5] * v);
    const s = Math.cbrt(m[6] * r + m[7] * g + m[8] * v);
    light[i] = ROOTS_TO_LAB[0] * l + ROOTS_TO_LAB[1] * mid + ROOTS_TO_LAB[2] * s;
    const scale = 1 / Math.max(DARKEST, light[i]);
    a[i] = (ROOTS_TO_LAB[3] * l + ROOTS_TO_LAB[4] * mid + ROOTS_TO_LAB[5] * s) * scale;
    b[i] = (ROOTS_TO_LAB[6] * l + ROOTS_TO_LAB[7] * mid + ROOTS_TO_LAB[8] * s) * scale;
  }
  return { light, a, b };
}

/** Steps of a table over encoded values. */
const STEPS = 1024;
const LIGHT = Float32Array.from({ length: STEPS + 1 }, (_, step) => decodeSrgb(step / STEPS));
const decode = (value: number): number => LIGHT[Math.min(STEPS, Math.max(0, (value * STEPS + 0.5) | 0))];
