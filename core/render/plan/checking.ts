import { bareEdges } from '../../checks/bareEdges.ts';
import type {
  CheckedBlock,
  CheckedFrame,
  CheckedItem,
  CheckedPicture,
  CheckName,
  Found,
  WantedFrame,
} from '../../checks/checkedBlock.ts';
import { colourShifts } from '../../checks/colourShifts.ts';
import { flatPlaces } from '../../checks/flatPlaces.ts';
import { ghosts } from '../../checks/ghosts.ts';
import type { CheckJob } from '../../checks/jobs.ts';
import { lostDetail } from '../../checks/lostDetail.ts';
import { noisyPlaces } from '../../checks/noisyPlaces.ts';
import { PlanePool } from '../../checks/planePool.ts';
import { rims } from '../../checks/rims.ts';
import { seams } from '../../checks/seams.ts';
import { lengthsAt } from '../../checks/seamTerm.ts';
import { type LitFrame, wrongLight } from '../../checks/wrongLight.ts';
import { decodeSrgb, encodeSrgb } from '../../color/srgb.ts';
import { toneWeights } from '../../color/workingSpace.ts';
import type { FrameId } from '../../ids.ts';
import type { Region } from '../../raster/size.ts';
import { keyOf, keyText, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import { readCoverage, readRegion, readTone, spotsIn } from '../nodes/readRegion.ts';
import type { RenderContext, TileNode } from '../tiles/renderContext.ts';
import type { BlendLook } from './blendLook.ts';
import { measureNoiseByTone, noiseAt } from './measureNoise.ts';

/** Pixels around what is judged that checks look at. */
const MARGIN = 24;

/** A share that varies less than this is one for all of a block. */
const VARIES = 0.01;

/** What one job of a scene found, and checks that failed. */
export interface JobFound {
  found: Found[];
  failed: { check: CheckName; detail: string }[];
}

/** What is remembered from one job to the next: noise of pictures, by key, and planes to compute in. */
export class CheckMemory {
  readonly noise = new Map<string, Float32Array>();
  readonly #pools: PlanePool[] = [];

  /** Jobs take turns in a thread: each has planes of its own. */
  takePool(): PlanePool {
    return this.#pools.pop() ?? new PlanePool();
  }

  giveBack(pool: PlanePool): void {
    pool.clear();
    this.#pools.push(pool);
  }
}

const around = ({ x, y, width, height }: Region): Region => ({
  x: x - MARGIN,
  y: y - MARGIN,
  width: width + 2 * MARGIN,
  height: height + 2 * MARGIN,
});

/** Key of all that a job looks at: equal keys, equal findings. */
export function keyOfJob(job: CheckJob, look: BlendLook, context: RenderContext): NodeKey {
  const { items, frames, edges, bottom, repaired, within, base } = look;
  const ids = [base, ...items.map(({ id, isChange }) => [id, isChange]), ...frames.map(({ id, ev }) => [id, ev])];
  const seed = keyOf('check', [
    job.look,
    job.level,
    job.region,
    ids,
    edges.map(({ item, opacity }) => [item, opacity]),
    repaired,
  ]);
  const nodes = [
    ...(job.look === 'light' ? frames.map(({ taken }) => taken) : []),
    ...(job.look === 'all'
      ? [...frames.flatMap(({ picture, inside }) => [picture, inside]), ...edges.map(({ mask }) => mask)]
      : []),
    bottom,
    ...items.flatMap(({ content, share }) => [content, share]),
    ...(within ? [within] : []),
  ];
  const region = around(job.region);
  const byOrigin = { ...context, byContent: false };
  return mixKeys(
    seed,
    ...nodes.flatMap((node) => spotsIn(node, job.level, region).map((spot) => node.keyAt(spot, byOrigin))),
  );
}

/** Measures one job. It pauses after each step, so that the caller can do something more urgent, or stop.
 * @param memory - The same for all jobs of a thread. */
export function* measureJob(
  job: CheckJob,
  look: BlendLook,
  memory: CheckMemory,
  context: RenderContext,
): Generator<undefined, JobFound> {
  const pool = memory.takePool();
  try {
    const of = { job, look, memory, pool, context };
    const { found, failed } = job.look === 'light' ? yield* lightOf(of) : yield* blockOf(of);
    const isJudged = ({ x, y }: Found) => !isRepaired(look, x, y) && isWithin(look, x, y, context);
    return { found: found.filter(isJudged), failed };
  } finally {
    memory.giveBack(pool);
  }
}

/** What a job is measured with. */
interface Measuring {
  job: CheckJob;
  look: BlendLook;
  memory: CheckMemory;
  pool: PlanePool;
  context: RenderContext;
}

const isRepaired = ({ repaired }: BlendLook, x: number, y: number): boolean =>
  repaired.some((each) => x >= each.x && y >= each.y && x < each.x + each.width && y < each.y + each.height);

function isWithin({ within }: BlendLook, x: number, y: number, context: RenderContext): boolean {
  if (!within) return true;
  return readCoverage(within, 0, { x: Math.floor(x), y: Math.floor(y), width: 1, height: 1 }, context)[0] >= 0.5;
}

/** Reads pictures of a part of a level. */
class Reader {
  readonly region: Region;
  readonly pool: PlanePool;
  readonly #level: number;
  readonly #context: RenderContext;
  readonly #weights: readonly [number, number, number];
  readonly #isToneAlone: boolean;
  readonly #read = new Map<TileNode, CheckedPicture>();

  constructor({ look, pool, context, job }: Measuring, region: Region) {
    this.region = region;
    this.pool = pool;
    this.#level = job.level;
    this.#context = context;
    this.#weights = toneWeights(look.space);
    // Mixes of encoded values have the mix of their tones; finer than what frames are compared on nothing asks for colours.
    this.#isToneAlone = !job.isCoarse && !look.inLight;
  }

  /** What a layer shows is mostly a frame that is looked at by itself as well: each is read once. */
  picture(node: TileNode): CheckedPicture {
    const known = this.#read.get(node);
    if (known) return known;
    const picture = this.#readPicture(node);
    this.#read.set(node, picture);
    return picture;
  }

  #readPicture(node: TileNode): CheckedPicture {
    const make = (length: number) => this.pool.take(length);
    if (this.#isToneAlone)
      return { rgb: [], tone: readTone(node, this.#level, this.region, this.#weights, this.#context, make) };
    const rgb = readRegion(node, this.#level, this.region, this.#context, make);
    for (const plane of rgb) for (let i = 0; i < plane.length; i++) plane[i] /= 65535;
    return this.toned(rgb);
  }

  toned(rgb: readonly Float32Array[]): CheckedPicture {
    const [r, g, b] = this.#weights;
    const [red, green, blue] = rgb;
    const tone = this.pool.take(red.length);
    for (let i = 0; i < tone.length; i++) tone[i] = r * red[i] + g * green[i] + b * blue[i];
    return { rgb, tone };
  }

  coverage(node: TileNode): Float32Array {
    return readCoverage(node, this.#level, this.region, this.#context, (length) => this.pool.take(length));
  }
}

const decoded = (value: number): number => (value <= 1 ? decodeSrgb(value) : value);
const encoded = (light: number): number => (light <= 1 ? encodeSrgb(light) : light);

function mixed(
  below: CheckedPicture,
  content: CheckedPicture,
  share: Float32Array,
  inLight: boolean,
  reader: Reader,
): CheckedPicture {
  const mix = inLight ? mixLight : mixEncoded;
  const through = (plane: Float32Array, over: Float32Array) => mix(plane, over, share, reader.pool.take(plane.length));
  if (below.rgb.length === 0) return { rgb: [], tone: through(below.tone, content.tone) };
  return reader.toned(below.rgb.map((plane, channel) => through(plane, content.rgb[channel])));
}

function mixEncoded(below: Float32Array, over: Float32Array, share: Float32Array, out: Float32Array): Float32Array {
  for (let i = 0; i < out.length; i++) out[i] = below[i] + share[i] * (over[i] - below[i]);
  return out;
}

function mixLight(below: Float32Array, over: Float32Array, share: Float32Array, out: Float32Array): Float32Array {
  for (let i = 0; i < out.length; i++) {
    const light = decoded(below[i]);
    out[i] = encoded(light + share[i] * (decoded(over[i]) - light));
  }
  return out;
}

function rangeOf(plane: Float32Array): [number, number] {
  let [least, most] = [1, 0];
  for (let i = 0; i < plane.length; i++) {
    if (plane[i] < least) least = plane[i];
    if (plane[i] > most) most = plane[i];
  }
  return [least, most];
}

type Weights = Map<FrameId, Float32Array>;

/** Lays a share of a frame, or of something else, over what shows so far. */
function cover(weights: Weights, frame: FrameId | undefined, share: Float32Array, pool: PlanePool): void {
  for (const weight of weights.values()) for (let i = 0; i < weight.length; i++) weight[i] *= 1 - share[i];
  if (frame === undefined) return;
  const own = weights.get(frame) ?? pool.filled(share.length, 0);
  for (let i = 0; i < own.length; i++) own[i] += share[i];
  weights.set(frame, own);
}

function* blockOf(of: Measuring): Generator<undefined, JobFound> {
  const { job, look, pool } = of;
  const { level, region } = job;
  const reader = new Reader(of, around(region));
  const shares: Float32Array[] = [];
  for (const { share } of look.items) {
    shares.push(reader.coverage(share));
    yield undefined;
  }
  const ranges = shares.map(rangeOf);
  const isSame = ranges.every(([least, most]) => most - least < VARIES);
  if (isSame && job.look === 'seams') return { found: [], failed: [] };
  const isAll = job.look === 'all';
  let result = reader.picture(look.bottom);
  yield undefined;
  const samples = result.tone.length;
  const weights: Weights = new Map([[look.base, pool.filled(samples, 1)]]);
  const items: CheckedItem[] = [];
  for (const [index, item] of look.items.entries()) {
    const [share, [least, most]] = [shares[index], ranges[index]];
    if (most === 0) continue;
    const content = reader.picture(item.content);
    yield undefined;
    const below = result;
    result = mixed(below, content, share, look.inLight, reader);
    if (isAll && !item.isChange) cover(weights, item.frame, share, pool);
    if (most - least >= VARIES)
      items.push({
        id: item.id,
        below,
        content,
        result,
        share,
        seen: seenThrough(shares.slice(index + 1), look.items.slice(index + 1), pool.filled(samples, 1)),
      });
    yield undefined;
  }
  const frames: CheckedFrame[] = [];
  for (const frame of isAll ? look.frames : []) {
    const table = yield* tableOf(frame.picture, of);
    const inside = frame.isPlaced ? reader.coverage(frame.inside) : undefined;
    frames.push({
      id: frame.id,
      picture: reader.picture(frame.picture),
      weight: weights.get(frame.id) ?? pool.filled(samples, 0),
      inside,
      noiseAt: (tone) => noiseAt(table, tone),
    });
    yield undefined;
  }
  const bare = isAll
    ? look.edges.flatMap(({ item, frame, mask, opacity }): WantedFrame[] => {
        const inside = frames.find(({ id }) => id === frame)?.inside;
        return inside ? [{ item, frame, wanted: reader.coverage(mask).map((value) => value * opacity), inside }] : [];
      })
    : [];
  const stride = region.width + 2 * MARGIN;
  const noise = isAll ? noiseOf(frames, result, pool) : undefined;
  const block: CheckedBlock = {
    level,
    region,
    margin: MARGIN,
    stride,
    size: look.size,
    pool,
    items,
    frames,
    result,
    noise,
    bare,
  };
  const outcome: JobFound = { found: [], failed: [] };
  for (const [check, measure] of checksOf(job, look, block)) {
    yield undefined;
    run(check, measure, outcome);
  }
  return outcome;
}

/** One that fails harms neither the others nor the picture. */
function run(check: CheckName, measure: () => Found[], { found, failed }: JobFound): void {
  try {
    found.push(...measure());
  } catch (error) {
    failed.push({ check, detail: String((error as Error).message) });
  }
}

function checksOf(job: CheckJob, { space }: BlendLook, block: CheckedBlock): [CheckName, () => Found[]][] {
  const lengths = lengthsAt(job.level, job.isFinest);
  const along: [CheckName, () => Found[]][] = [
    ['rims', () => rims(block, lengths)],
    ['seams', () => seams(block, lengths)],
  ];
  const seen = lengths.length === 0 ? [] : along;
  const coloured: typeof seen = job.isCoarse ? [...seen, ['colours', () => colourShifts(block, space)]] : seen;
  if (job.look === 'seams') return coloured;
  return [
    ...coloured,
    ['flat', () => flatPlaces(block)],
    ['ghosts', () => ghosts(block)],
    ['noise', () => noisyPlaces(block)],
    ['limits', () => lostDetail(block)],
    ['bare', () => bareEdges(block)],
  ];
}

/** How much of something is seen through what lies above it; changes let it through. */
function seenThrough(shares: readonly Float32Array[], above: BlendLook['items'], seen: Float32Array): Float32Array {
  for (const [index, share] of shares.entries())
    if (!above[index].isChange) for (let i = 0; i < seen.length; i++) seen[i] *= 1 - share[i];
  return seen;
}

function* tableOf(node: TileNode, { look, memory, context }: Measuring): Generator<undefined, Float32Array> {
  const byOrigin = { ...context, byContent: false };
  const name = keyText(node.fixedKey ?? node.keyAt({ level: 0, tx: 0, ty: 0 }, byOrigin));
  const known = memory.noise.get(name);
  if (known) return known;
  const table = yield* measureNoiseByTone(node, toneWeights(look.space), context);
  memory.noise.set(name, table);
  return table;
}

/** Deviation of the blend's noise: of independent frames by their weights, and as much more as the blend is brighter than they make it. */
function noiseOf(frames: readonly CheckedFrame[], { tone }: CheckedPicture, pool: PlanePool): Float32Array {
  const [variance, made] = [pool.filled(tone.length, 0), pool.filled(tone.length, 0)];
  for (const { weight, picture, noiseAt: at } of frames)
    for (let i = 0; i < tone.length; i++) {
      if (weight[i] < 0.01) continue;
      const own = picture.tone[i];
      variance[i] += (weight[i] * at(own)) ** 2;
      made[i] += weight[i] * own;
    }
  for (let i = 0; i < tone.length; i++)
    variance[i] = Math.sqrt(variance[i]) * Math.min(8, tone[i] / Math.max(0.01, made[i]));
  return variance;
}

function* lightOf(of: Measuring): Generator<undefined, JobFound> {
  const { look, pool } = of;
  const { level, region } = of.job;
  const outcome: JobFound = { found: [], failed: [] };
  if (look.frames.some(({ ev }) => ev === null)) return outcome;
  const reader = new Reader(of, region);
  let blend = reader.picture(look.bottom);
  const treated: Float32Array[] = [];
  const weights: Weights = new Map([[look.base, pool.filled(blend.tone.length, 1)]]);
  for (const item of look.items) {
    const share = reader.coverage(item.share);
    blend = mixed(blend, reader.picture(item.content), share, look.inLight, reader);
    if (!item.isChange) cover(weights, item.frame, share, pool);
    treated.push(share);
    yield undefined;
  }
  const frames: LitFrame[] = [];
  for (const { id, taken, ev } of look.frames) {
    frames.push({
      id,
      tone: reader.picture(taken).tone,
      ev: ev as number,
      weight: weights.get(id) ?? pool.filled(blend.tone.length, 0),
    });
    yield undefined;
  }
  const cells = { columns: region.width, rows: region.height, px: 2 ** level };
  run('light', () => wrongLight(blend.tone, frames, treated, cells), outcome);
  return outcome;
}
