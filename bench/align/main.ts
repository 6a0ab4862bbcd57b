import { estimatePlacement } from '#core/align/estimate.ts';
import { shiftMatrix } from '#core/align/placement.ts';
import { TileSource } from '#core/align/tileSource.ts';
import { type Matrix3, multiply3 } from '#core/raster/matrix3.ts';
import type { Size } from '#core/raster/size.ts';
import { keyOf } from '#core/raster/tileKey.ts';
import { dropFrame, IncomingFrame } from '#core/render/tiles/loadFrame.ts';
import type { NodeEngine } from '../../engine/node/startEngine.ts';
import { type OpenCv, startOpenCv } from '../../tests/openCv.ts';
import { SIZES } from '../frames.ts';
import { type Measure, quantile, tableOf, wallMs } from '../measure.ts';
import { lightFor } from './light.ts';
import { lowTexture } from './lowTexture.ts';
import { chanceBeyond } from './noiseBound.ts';
import { alignByEcc, alignByFeatures } from './openCv.ts';
import { ALIGN_SETS, type AlignPair, cornerError, takePair } from './sets.ts';
import { variation } from './variations.ts';

const SIZE: Size = { width: 2400, height: 1600 };
const SMALL: Size = { width: 1200, height: 800 };
const SCENES = ['tarn', 'viaduct', 'observatory'];
const VARIATIONS = 200;
const LOW_TEXTURES = 60;
const EXACT = 0.15;
const FAIR = 0.5;
const NIGHT = 0.3;
const ECC_GOOD = 0.4;

/** Aligns two pictures that are laid into tiles first, which is not counted. */
function alignOurs(node: NodeEngine, { base, frame, size }: Omit<AlignPair, 'truth'>) {
  const keys = [base, frame].map((pixels, index) => {
    const key = keyOf('align', index);
    const incoming = new IncomingFrame(node.loader, key, size, 16);
    incoming.add(new Uint8Array(pixels.buffer));
    incoming.buildPyramid();
    return key;
  });
  const since = performance.now();
  const [a, b] = keys.map((key) => new TileSource(node.loader.table, key, size));
  const found = estimatePlacement(a, b);
  const ms = performance.now() - since;
  for (const key of keys) dropFrame(node.loader.table, key, size);
  return { found, ms };
}

const px = (error: number) => (error > 99 ? 'lost' : error.toFixed(3));

/** Alignment of sets with known motion, beside OpenCV on the same pictures.
 * @returns A section for the figures. */
export async function measureAlign(node: NodeEngine, quick: boolean): Promise<string> {
  const { cv } = await startOpenCv();
  const rows: string[] = [];
  const worst = { exact: 0, fair: 0, wrong: 0 };
  const light = lightFor('tarn', SIZE);
  for (const set of ALIGN_SETS) {
    const pair = takePair(set, light, SIZE);
    const { found, ms } = alignOurs(node, pair);
    const error = cornerError(found.matrix, pair);
    if (set.asks === 'exact') worst.exact = Math.max(worst.exact, error);
    else if (found.verdict !== 'failed') worst.fair = Math.max(worst.fair, error);
    if (found.verdict === 'good' && error > FAIR) worst.wrong++;
    const theirs = (matrix: Matrix3 | undefined) => (matrix ? px(cornerError(matrix, pair)) : 'none');
    const timed = async (work: () => Matrix3 | undefined) => {
      let matrix: Matrix3 | undefined;
      const took = await wallMs(() => {
        matrix = work();
      });
      return `${theirs(matrix)} | ${took.toFixed(0)}`;
    };
    const ecc = await timed(() => alignByEcc(cv, pair.base, pair.frame, SIZE, 'homography'));
    const features = await timed(() => alignByFeatures(cv, pair.base, pair.frame, SIZE));
    const row = `| ${set.name} | ${px(error)} | ${found.verdict} | ${found.model} | ${ms.toFixed(0)} | ${ecc} | ${features} |`;
    console.log(row);
    rows.push(row);
  }
  const identical = exactly(node, light, 0, 0);
  const shifted = exactly(node, light, 7, -3);
  const [variations, lows] = quick ? [20, 6] : [VARIATIONS, LOW_TEXTURES];
  const lights = SCENES.map((name) => lightFor(name, SMALL));
  worst.wrong += wrongOf(node, variations, (seed) =>
    takePair(variation(seed), lights[seed % lights.length], SMALL, seed),
  );
  const wrongLows = wrongOf(node, lows, (seed) => {
    const { set, light } = lowTexture(seed, SMALL);
    return takePair(set, light, SMALL, seed);
  });
  const nights = nightsBesideEcc(node, cv, 0, lows);
  const measures: Measure[] = [
    {
      measure: 'largest corner error, tripod and hand-held up to 3 stops, pixels',
      value: worst.exact,
      unit: 'ratio',
      bar: EXACT,
    },
    {
      measure: '4.5 stops, moved object, low texture, almost black, where not failed',
      value: worst.fair,
      unit: 'ratio',
      bar: FAIR,
    },
    {
      measure: `wrong results called good, over the sets and ${variations} variations`,
      value: worst.wrong,
      unit: 'times',
      bar: 0,
    },
    { measure: `the same over ${lows} pairs of low texture`, value: wrongLows, unit: 'times', bar: 0 },
    ...nights,
    { measure: 'identical frames: distance from identity, pixels', value: identical, unit: 'ratio', bar: 0 },
    { measure: 'shifted by whole pixels: distance from the shift, pixels', value: shifted, unit: 'ratio', bar: 1e-3 },
    ...(quick ? [] : await timeLarge(node, cv)),
  ];
  return [
    '| set | corner error, px | verdict | motion | ms | OpenCV ECC, px | ms | OpenCV features, px | ms |',
    '|---|---|---|---|---|---|---|---|---|',
    ...rows,
    '',
    tableOf(measures),
  ].join('\n');
}

/** Takes the same picture twice, the second moved by whole pixels. */
function exactly(node: NodeEngine, light: ReturnType<typeof lightFor>, dx: number, dy: number): number {
  const shot = { ev: 0 };
  const pair = takePair({ name: '', asks: 'exact', frame: shot }, light, SIZE);
  const frame = new Uint16Array(pair.base.length);
  for (let y = 0; y < SIZE.height; y++)
    for (let x = 0; x < SIZE.width; x++) {
      const [u, v] = [Math.min(SIZE.width - 1, x + dx), Math.max(0, y + dy)];
      frame.set(pair.base.subarray((v * SIZE.width + u) * 3, (v * SIZE.width + u) * 3 + 3), (y * SIZE.width + x) * 3);
    }
  const { found } = alignOurs(node, { ...pair, frame });
  return cornerError(found.matrix, { ...pair, truth: shiftMatrix(dx, dy) });
}

/** Night lakes with noise, OpenCV's ECC on the same, and how many of them noise takes beyond the bar whoever finds them. ECC is begun 1.8 pixels
 * from the truth, since from no motion it is lost, and smoothed as much as serves it best.
 * @param from - First number that a view may have; `to` is one past the last. */
function nightsBesideEcc(node: NodeEngine, cv: OpenCv, from: number, to: number): Measure[] {
  const near: number[] = [];
  const all: number[] = [];
  const theirs: number[] = [];
  let expected = 0;
  for (let seed = from; seed < to; seed++) {
    const { set, light, kind } = lowTexture(seed, SMALL);
    if (kind !== 'night') continue;
    const pair = takePair(set, light, SMALL, seed);
    const error = cornerError(alignOurs(node, pair).found.matrix, pair);
    const start = multiply3(shiftMatrix(1.5, -1), pair.truth);
    const ecc = alignByEcc(cv, pair.base, pair.frame, SMALL, 'homography', { start, blur: 15 });
    const chance = chanceBeyond(NIGHT, set, light, SMALL);
    const its = ecc ? cornerError(ecc, pair) : Number.POSITIVE_INFINITY;
    console.log(`night ${seed}: ours ${px(error)}, ECC ${px(its)}, beyond ${NIGHT} by noise ${chance.toFixed(3)}`);
    expected += chance;
    all.push(error);
    theirs.push(its);
    if (its <= ECC_GOOD) near.push(error);
  }
  const beyond = all.filter((error) => error > NIGHT).length;
  const which = `${near.length} night lakes on which OpenCV's ECC, begun beside the truth, comes within ${ECC_GOOD}`;
  return [
    { measure: `largest corner error of ${which}, pixels`, value: Math.max(...near), unit: 'ratio', bar: NIGHT },
    { measure: `median of all ${all.length} night lakes, pixels`, value: quantile(all, 0.5), unit: 'ratio' },
    { measure: 'the same of ECC', value: quantile(theirs, 0.5), unit: 'ratio' },
    { measure: `how many are beyond ${NIGHT}`, value: beyond, unit: 'times' },
    { measure: 'how many would be by noise alone, of a finder without bias', value: expected, unit: 'times' },
  ];
}

/** Night lakes alone. */
export async function measureNights(node: NodeEngine, from: number, to: number): Promise<string> {
  if (!(to - from >= 3))
    throw new Error('nights FROM TO: every third view is a night; name the first, and one past the last');
  const { cv } = await startOpenCv();
  return tableOf(nightsBesideEcc(node, cv, from, to));
}

/** How many of some pairs made up at random are called good and are not. */
function wrongOf(node: NodeEngine, count: number, pairOf: (seed: number) => AlignPair): number {
  const tally: Record<string, number> = {};
  for (let seed = 0; seed < count; seed++) {
    const pair = pairOf(seed);
    const { found } = alignOurs(node, pair);
    const error = cornerError(found.matrix, pair);
    const name = `${found.verdict}, ${error <= EXACT ? 'exact' : error <= FAIR ? 'fair' : 'wrong'}`;
    tally[name] = (tally[name] ?? 0) + 1;
  }
  console.log(tally);
  return tally['good, wrong'] ?? 0;
}

/** The largest pair, in megapixels, that OpenCV's ECC has memory for: its WebAssembly build has one gigabyte. */
const ECC_MEGAPIXELS = 12;

/** Hand-held pairs, the last with OpenCV's ECC beside it, on all pixels; turn and shift only, since its homographies need more. */
async function timeLarge(node: NodeEngine, cv: OpenCv): Promise<Measure[]> {
  const measures: Measure[] = [];
  let largest = 0;
  for (const megapixels of [45, 24, ECC_MEGAPIXELS] as const) {
    const pair = handHeld(SIZES[megapixels]);
    const { found, ms } = alignOurs(node, pair);
    const error = cornerError(found.matrix, pair);
    const name = `a ${megapixels} MP pair`;
    console.log(`${name}: ours ${px(error)} px, ${ms.toFixed(0)} ms`);
    measures.push(
      { measure: name, value: ms, unit: 'ms' },
      { measure: `${name}: corner error, pixels`, value: error, unit: 'ratio' },
    );
    if (megapixels === 45) largest = ms;
    if (megapixels !== ECC_MEGAPIXELS) continue;
    let theirs: Matrix3 | undefined;
    const ecc = await wallMs(() => {
      theirs = alignByEcc(cv, pair.base, pair.frame, pair.size, 'euclidean');
    });
    console.log(`ECC: ${theirs ? px(cornerError(theirs, pair)) : 'none'} px, ${ecc.toFixed(0)} ms`);
    if (!theirs) continue;
    const measure = `${name} / OpenCV ECC at full size (turn and shift)`;
    measures.push({ measure, value: ms / ecc, unit: 'ratio', bar: 0.5 });
    // It takes longer the more pixels there are, so this is more than the ratio at 45 would be.
    const bound = `a 45 MP pair / OpenCV ECC on a pair of ${ECC_MEGAPIXELS} MP`;
    measures.push({ measure: bound, value: largest / ecc, unit: 'ratio', bar: 0.5 });
  }
  return measures;
}

/** The large pairs alone, which take some minutes. */
export async function measureLarge(node: NodeEngine): Promise<string> {
  const { cv } = await startOpenCv();
  return tableOf(await timeLarge(node, cv));
}

function handHeld(size: Size): AlignPair {
  const placement = { shiftX: 3, shiftY: -2, turnDegrees: 0.05 };
  return takePair({ name: '', asks: 'exact', frame: { ev: 2, placement } }, lightFor('tarn', size), size);
}
