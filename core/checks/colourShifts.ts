import { decodeSrgb } from '../color/srgb.ts';
import { labOfLms, lmsMatrix } from '../color/oklab.ts';
import { type OutputSpace } from '../color/workingSpace.ts';
import { times3 } from '../raster/matrix3.ts';
import { Cells, type CheckedBlock, type CheckedItem, type CheckedPicture, type Found } from './checkedBlock.ts';
import { boxMean, meanAlong } from './planes.ts';
import { maskedStep } from './visibility.ts';

/** A difference of colour in Oklab that is just seen (CSS Color Module Level 4, section 13.2: the JND of its gamut mapping). */
const JUST_SEEN = 0.02;

/** Pixels of the level that a step is looked for across, and every so many of them. */
const LENGTH = 4;
const STEP = 4;
const LEAST_CHANGE = 0.02;
/** Pixels that a border runs to each side. */
const RUN = 8;
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
  for (const item of block.items) if (varies(item.share)) scan(block, item, space, cells);
  return cells.all;
}

const varies = (share: Float32Array): boolean => {
  const [first] = share;
  return share.some((each) => Math.abs(each - first) > LEAST_CHANGE);
};

function scan(block: CheckedBlock, { id, below, content, result, share, seen }: CheckedItem, space: OutputSpace, cells: Cells): void {
  const { region, margin, stride } = block;
  const flat = [below, content, result].map((picture) => chromaOf(picture, stride, space));
  for (const [dx, dy] of [[1, 0], [0, 1]] as const) {
    const by = LENGTH * (dy * stride + dx);
    const [under, over, mixed] = flat.map((chroma) => alongBorder(chroma, stride, [dy, dx]));
    for (let y = 0; y < region.height; y += STEP)
      for (let x = 0; x < region.width; x += STEP) {
        const at = (y + margin) * stride + x + margin;
        const light = mixed.light[at];
        if (seen[at] < 0.05 || light < DARKEST || Math.abs(share[at - by] - share[at + by]) < LEAST_CHANGE) continue;
        const own = Math.max(stepOf(under, at, by), stepOf(over, at, by));
        const around = Math.min(stepOf(mixed, at - 2 * by, by), stepOf(mixed, at + 2 * by, by));
        const excess = (stepOf(mixed, at, by) - own) * light * seen[at];
        const strength = excess / maskedStep(JUST_SEEN, around * light);
        if (strength > 1) cells.take(x, y, { check: 'colours', strength, item: id, facts: { difference: excess } });
      }
  }
}

/** Means along a border, so that single leaves and twigs count little. */
const alongBorder = ({ light, a, b }: Chroma, stride: number, way: readonly [number, number]): Chroma => ({
  light,
  a: meanAlong(a, stride, way, RUN),
  b: meanAlong(b, stride, way, RUN),
});

const stepOf = ({ a, b }: Chroma, at: number, by: number): number =>
  Math.hypot(a[at - by] - a[at + by], b[at - by] - b[at + by]);

function chromaOf({ rgb }: CheckedPicture, stride: number, space: OutputSpace): Chroma {
  const matrix = lmsMatrix(space);
  const [red, green, blue] = rgb.map((plane) => boxMean(plane, stride, 1));
  const [light, a, b] = [0, 1, 2].map(() => new Float32Array(red.length));
  for (let i = 0; i < red.length; i++) {
    const [l, x, y] = labOfLms(times3(matrix, [decode(red[i]), decode(green[i]), decode(blue[i])]));
    const scale = 1 / Math.max(DARKEST, l);
    a[i] = x * scale;
    b[i] = y * scale;
    light[i] = l;
  }
  return { light, a, b };
}

/** Steps of a table over encoded values. */
const STEPS = 1024;
const LIGHT = Float32Array.from({ length: STEPS + 1 }, (_, step) => decodeSrgb(step / STEPS));
const decode = (value: number): number => LIGHT[Math.min(STEPS, Math.max(0, Math.round(value * STEPS)))];
