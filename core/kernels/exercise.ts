import type { Arena } from '../raster/arena.ts';
import { TILE, TILE_SAMPLES } from '../raster/size.ts';
import { PROFILE_STEPS } from './gradient.ts';
import type { Kernels } from './kernels.ts';
import { PHASE_NUMBERS, phaseWeights } from './warpTile.ts';

/** One call of a kernel with typical arguments. */
export interface Exercise {
  name: string;
  run: (kernels: Kernels) => void;
}

const BLOCK = { from: 3, stride: 128, to: 5, outStride: 128, width: 117, rows: 120 };
const TILT = [0.98, 0.02, 4, -0.02, 0.98, 5, 1e-5, 1e-5, 1];

/** Every kernel on made planes of a tile: to warm them up, and to time them.
 * @param arena - Where the planes lie. */
export function exercises(arena: Arena): { list: readonly Exercise[]; refresh: () => void } {
  const [p0, p1, p2, p3, p4, p5, p6, p7] = Array.from({ length: 8 }, (_, k) => {
    const plane = arena.samples(TILE_SAMPLES);
    for (let i = 0; i < TILE_SAMPLES; i++) plane[i] = (i * (977 + k * 31)) & 0xffff;
    return plane;
  });
  const floats = Array.from({ length: 7 }, () => arena.floats(TILE_SAMPLES));
  const [a, b, c, d, e, f, g] = floats;
  const rgba = arena.bytes(TILE_SAMPLES * 4);
  const table = arena.samples(65536);
  const block = new Uint8Array(rgba.buffer, rgba.byteOffset, rgba.length);
  const bins = arena.words(256);
  const interleaved = arena.samples(TILE_SAMPLES * 3);
  const profile = arena.floats(PROFILE_STEPS + 1);
  for (let step = 0; step <= PROFILE_STEPS; step++) profile[step] = step / PROFILE_STEPS;
  const curve = arena.floats(65536);
  const weights = arena.floats(PHASE_NUMBERS * 1025);
  weights.set(phaseWeights('lanczos3'));
  const area = { guide: a, mask: b, slope: c, offset: d, spare: [e, f, g] as const, width: 128, height: 128 };
  const coarse = { area: c, side: 36, offset: 2, step: 4 };
  const rgb = [p0, p1, p2] as const;
  const out = [p3, p4, p5] as const;
  const layers = Array.from({ length: 4 }, () => ({ upper: [p6, p7, p6] as const, mask: p7, opacity: 0.7 }));
  const list: Exercise[] = [
    { name: 'compositing, four layers', run: (k) => k.composite(rgb, layers, out) },
    { name: 'luminance', run: (k) => k.luminance(p0, p1, p2, [0.2, 0.7, 0.1], p3) },
    { name: 'look-up', run: (k) => k.lookUp(table, p0, p3) },
    { name: 'widening', run: (k) => k.widen(p0, a) },
    { name: 'widening a block', run: (k) => k.widenRows(p0, a, BLOCK) },
    { name: 'narrowing', run: (k) => k.narrow(a, p3) },
    { name: 'finding one value', run: (k) => k.uniformValue(p0) },
    { name: 'joining', run: (k) => k.joinCoverage('add', a, b, c) },
    { name: 'joining samples', run: (k) => k.joinFromSamples('add', a, p0) },
    { name: 'joining to samples', run: (k) => k.joinSamples('add', p0, a, b, p3) },
    { name: 'inverting', run: (k) => k.invert(a) },
    { name: 'larger of two', run: (k) => k.maxInto(a, b) },
    { name: 'a dab', run: (k) => k.layDab(a, 64, 64, 60, 0.2, 1, 0.3) },
    { name: 'painting over', run: (k) => k.paintOver(a, b, c, 1, 0.2, p6, false) },
    { name: 'painting with enlarged coverage', run: (k) => k.paintEnlarged(a, b, coarse, 1, 0.2, p6, false) },
    { name: 'adding an enlarged stroke', run: (k) => k.joinEnlarged(p0, coarse, 1, 0.2, p6, p3) },
    { name: 'halving', run: (k) => k.halveTile(p0, p3, 0, 0) },
    { name: 'halving a plane', run: (k) => k.halvePlane(a, 128, b) },
    { name: 'spreading rows, 8 bits', run: (k) => k.spreadRows(block, 384, 8, out, 128, 128) },
    { name: 'spreading rows, 16 bits', run: (k) => k.spreadRows(block, 768, 16, out, 128, 64) },
    { name: 'interleaving', run: (k) => k.interleave(p0, p1, p2, interleaved) },
    { name: 'drawing RGBA', run: (k) => k.drawRgba(p0, p1, p2, rgba) },
    { name: 'drawing grey', run: (k) => k.drawGrey(p0, rgba) },
    { name: 'tinting', run: (k) => k.tint(rgba, p7, [90, 190, 170], 0.7) },
    { name: 'counting', run: (k) => k.countLevels(p0, 128, 128, bins) },
    { name: 'blurring, sigma 2', run: (k) => k.blurPlane(a, d, 128, 128, 2) },
    { name: 'blurring, sigma 12', run: (k) => k.blurPlane(a, d, 128, 128, 12) },
    { name: 'enlarging 4 times', run: (k) => k.enlarge(a, 36, 2, 2, 4, d) },
    { name: 'a gradient', run: (k) => k.fillGradient(a, 0.1, 0.004, 0.003, profile) },
    { name: 'fitting to a guide, radius 3', run: (k) => k.fitGuided(area, 3, 0.01) },
    { name: 'fitting to a guide, radius 12', run: (k) => k.fitGuided(area, 12, 0.01) },
    { name: 'applying the fit', run: (k) => k.applyGuided(a, b, TILE, p0, p3) },
    { name: 'finding the core', run: (k) => k.findCore(a, b, 0.8, 0.25) },
    { name: 'to linear light', run: (k) => k.linearize(curve, p0, a) },
    { name: 'back from linear light', run: (k) => k.encodeLinear(curve, b, p3) },
    { name: 'warping a tile', run: (k) => k.warpTile(rgb, 128, TILT, weights, out) },
  ];
  // Far from the smallest floats, which processors are slow with.
  const refresh = () => {
    for (const plane of floats) plane.fill(0.3);
  };
  return { list, refresh };
}

/** Calls that make an engine compile a kernel for speed rather than at once. */
const WARMING_CALLS = 24;

/** Runs every kernel until it is compiled in earnest, so that the first picture does not wait for it. */
export function warmUp(kernels: Kernels, arena: Arena): void {
  const { list, refresh } = exercises(arena);
  refresh();
  for (const { run } of list) for (let call = 0; call < WARMING_CALLS; call++) run(kernels);
}
