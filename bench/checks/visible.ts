import ssim from '@blazediff/ssim';
import type { CheckName, Found } from '#core/checks/checkedBlock.ts';
import { BLOCKED_TO, BLOWN_FROM } from '#core/checks/limits.ts';
import { labOfLms, lmsMatrix } from '#core/color/oklab.ts';
import { decodeSrgb } from '#core/color/srgb.ts';
import { times3 } from '#core/raster/matrix3.ts';
import { compilePlan } from '#core/render/plan/plan.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { Planted, Studio } from '../../tests/plantedFaults.ts';
import { planeOfNode } from '../../tests/smallScene.ts';

/** Encoded difference to the blend without the fault that is seen: four of the least steps (common practice, no source). */
const SEEN = 0.04;
/** Share of the differences that may be larger than what counts. */
const LARGEST = 0.05;
/** Side of the places at which both measures are compared. */
const PLACE = 50;

interface Picture {
  rgb: Float32Array[];
  tone: Float32Array;
}

function pictureOf({ made, size }: Studio, scene: Scene): Picture {
  const node = compilePlan(scene)?.node({ what: 'result' });
  if (!node) throw new RangeError('A scene without a picture');
  const rgb = [0, 1, 2].map((plane) =>
    Float32Array.from(planeOfNode(node, plane, 0, size, made.context), (value) => value / 65535),
  );
  return { rgb, tone: rgb[0].map((red, i) => 0.2126 * red + 0.7152 * rgb[1][i] + 0.0722 * rgb[2][i]) };
}

/** Whether a planted fault is of visible strength, told by what differs from the same blend without it. */
export function isVisible(studio: Studio, fault: Planted): boolean {
  return TELL[fault.check](pictureOf(studio, fault.scene), pictureOf(studio, fault.without), fault, studio);
}

type Tell = (blend: Picture, without: Picture, fault: Planted, studio: Studio) => boolean;

/** Samples of the picture that lie in a fault's place. */
function samplesIn({ x, y, radius }: Planted, { size }: Studio): number[] {
  const samples: number[] = [];
  for (let row = Math.max(0, Math.floor(y - radius)); row < Math.min(size.height, y + radius); row++)
    for (let column = Math.max(0, Math.floor(x - radius)); column < Math.min(size.width, x + radius); column++)
      if (Math.hypot(column - x, row - y) < radius) samples.push(row * size.width + column);
  return samples;
}

/** The difference that some of a place goes beyond. */
function largest(values: number[]): number {
  values.sort((a, b) => b - a);
  return values[Math.floor(values.length * LARGEST)] ?? 0;
}

const byTone: Tell = (blend, without, fault, studio) =>
  largest(samplesIn(fault, studio).map((i) => Math.abs(blend.tone[i] - without.tone[i]))) > SEEN;

/** Grain is seen when it is twice as strong. */
const byGrain: Tell = (blend, without, fault, studio) =>
  largest(samplesIn(fault, studio).map((i) => Math.abs(blend.tone[i] - without.tone[i]))) > 2 * SEEN;

/** Differences of colour of which one is just seen, in Oklab (CSS Color Module Level 4), and how many of them are seen at a soft border. */
const JUST_SEEN = 0.02;
const AT_BORDER = 2;

const byColour: Tell = (blend, without, fault, studio) => {
  const matrix = lmsMatrix('srgb');
  const labOf = ({ rgb }: Picture, i: number) =>
    labOfLms(times3(matrix, [0, 1, 2].map((c) => decodeSrgb(rgb[c][i])) as never));
  const differences = samplesIn(fault, studio).map((i) => {
    const [, a, b] = labOf(blend, i);
    const [, c, d] = labOf(without, i);
    return Math.hypot(a - c, b - d);
  });
  return largest(differences) > AT_BORDER * JUST_SEEN;
};

/** Deviation of tones in doublings within small squares of the place, of the blend against that without the fault. */
const byContrast: Tell = (blend, without, fault, studio) => {
  const side = 8;
  const shares: number[] = [];
  const deviation = ({ tone }: Picture, from: number) => {
    let [sum, squares] = [0, 0];
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        const stops = 2.2 * Math.log2(tone[from + y * studio.size.width + x] + 0.03);
        sum += stops;
        squares += stops * stops;
      }
    return Math.sqrt(Math.max(0, squares / side ** 2 - (sum / side ** 2) ** 2));
  };
  for (const i of samplesIn(fault, studio)) {
    const [x, y] = [i % studio.size.width, Math.floor(i / studio.size.width)];
    if (x % side !== 0 || y % side !== 0 || x + side > studio.size.width || y + side > studio.size.height) continue;
    const held = deviation(without, i);
    if (held > 0.25) shares.push(deviation(blend, i) / held);
  }
  shares.sort((a, b) => a - b);
  return shares.length > 20 && shares[Math.floor(shares.length * 0.1)] < 0.75;
};

const byLimits: Tell = (blend, without, fault, studio) => {
  const isLost = ({ rgb }: Picture, i: number) => {
    const most = 255 * Math.max(rgb[0][i], rgb[1][i], rgb[2][i]);
    return most >= BLOWN_FROM || most <= BLOCKED_TO;
  };
  const samples = samplesIn(fault, studio);
  return samples.filter((i) => isLost(blend, i) && !isLost(without, i)).length > 0.15 * samples.length;
};

/** A quarter of the land is brighter than the sky above it by what is seen. */
const byLight: Tell = (blend, without, fault, studio) => {
  const toneOf = ({ tone }: Picture, samples: readonly number[], rank: number) =>
    samples.map((i) => tone[i]).sort((a, b) => a - b)[Math.floor(samples.length * rank)];
  const { y, radius } = fault;
  const land = toneOf(blend, samplesIn({ ...fault, radius: radius / 2 }, studio), 0.75);
  const sky = toneOf(without, samplesIn({ ...fault, y: y - radius, radius: radius / 4 }, studio), 0.5);
  return land - sky > SEEN;
};

/** Doubled edges are thin: half of what is seen, over less of the place. */
const byDoubles: Tell = (blend, without, fault, studio) => {
  const values = samplesIn(fault, studio).map((i) => Math.abs(blend.tone[i] - without.tone[i]));
  values.sort((a, b) => b - a);
  return values[Math.floor(values.length * 0.02)] > SEEN / 2;
};

const TELL: Record<CheckName, Tell> = {
  rims: byTone,
  seams: byTone,
  flat: byContrast,
  light: byLight,
  ghosts: byDoubles,
  noise: byGrain,
  limits: byLimits,
  colours: byColour,
  bare: () => true,
};

/** How strongly rims and seams tell of a fault's place, and how much SSIM says that it differs from the blend without the fault, where it
 * differs most. */
export function compareAt(studio: Studio, fault: Planted, found: readonly Found[]): { told: number; differs: number } {
  const [blend, without] = [fault.scene, fault.without].map((scene) => pictureOf(studio, scene));
  const { width, height } = studio.size;
  const isIn = (x: number, y: number) => Math.hypot(x - fault.x, y - fault.y) < fault.radius + PLACE / 2;
  const own = found.filter(({ check, x, y }) => (check === 'rims' || check === 'seams') && isIn(x, y));
  let differs = 0;
  for (let top = 0; top + PLACE <= height; top += PLACE / 2)
    for (let left = 0; left + PLACE <= width; left += PLACE / 2) {
      if (!isIn(left + PLACE / 2, top + PLACE / 2)) continue;
      const [a, b] = [blend, without].map(({ rgb }) => cropOf(rgb, width, left, top));
      differs = Math.max(differs, 1 - ssim(a, b, undefined, PLACE, PLACE));
    }
  return { told: Math.max(0, ...own.map(({ strength }) => strength)), differs };
}

function cropOf(rgb: readonly Float32Array[], width: number, left: number, top: number): Uint8ClampedArray {
  const out = new Uint8ClampedArray(PLACE * PLACE * 4);
  for (let y = 0; y < PLACE; y++)
    for (let x = 0; x < PLACE; x++)
      for (let channel = 0; channel < 4; channel++)
        out[(y * PLACE + x) * 4 + channel] = channel === 3 ? 255 : 255 * rgb[channel][(top + y) * width + left + x];
  return out;
}
