import { ENCODING } from '../../color/encodedSteps.ts';
import type { MaskedLayer } from '../../kernels/composite.ts';
import type { Rgb16, RgbFloats } from '../../kernels/planes.ts';
import { type ModeName, modeNumber } from '../../modes/list.ts';
import { levelSize, TILE, TILE_SAMPLES } from '../../raster/size.ts';
import { type NodeKey, packPlace } from '../../raster/tileKey.ts';
import { HELD, type PinnedTile } from '../../raster/tileTable.ts';
import {
  type Extent,
  keepBriefly,
  planeOf,
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  transientTile,
} from './renderContext.ts';

/** Tiles of pictures: three planes of 16 bits at rest and where they are drawn or written, and floats of 0..65535 where a next
 * step follows, so that each picture is rounded once. Floats of a plane lie in two slots, or in one where its lower half lies below the
 * picture. */

/** Samples of half a tile: as many floats as a slot holds. */
export const HALF = TILE_SAMPLES / 2;

/** How a picture's tile is held. */
export type PictureForm = 'planes' | 'floats';

/** What is laid over a picture: another, through a tile of coverage. */
export interface LaidPicture {
  tile: PinnedTile;
  mask: PinnedTile;
  opacity: number;
  mode: ModeName;
  /** Light is mixed, not encoded values. */
  inLight?: boolean;
}

/** Laid as a picture it stands for what has been mixed so far. */
export const MIXED_SO_FAR: PinnedTile = { entry: HELD, form: 'floats', value: 0, slots: [] };

/** Whether it can be mixed as it is at rest. */
const isAtRest = ({ tile, mode }: LaidPicture): boolean => tile.form !== 'floats' && mode === 'normal';

/** The planes of a tile that is at rest. */
export const rgbOf = ({ slots }: Pick<PinnedTile, 'slots'>, { table }: RenderContext): Rgb16 => [
  table.slab.plane(slots[0]),
  table.slab.plane(slots[1]),
  table.slab.plane(slots[2]),
];

/** Which half of a tile: the upper or the lower. */
export type Half = 0 | 1;
export const HALVES = [0, 1] as const;
export const CHANNELS = [0, 1, 2] as const;

/** Slots of a tile in floats whose lower half lies below the picture: it has none. */
const UPPER_SLOTS = 3;
const UPPER = [0] as const;

/** Whether the lower half of a tile lies below the picture. */
export const isUpperOnly = ({ level, ty }: Spot, { size }: Extent): boolean =>
  levelSize(size, level).height <= ty * TILE + TILE / 2;

/** The halves that a tile in floats has. */
export const halvesIn = (slots: readonly number[]): readonly Half[] => (slots.length === UPPER_SLOTS ? UPPER : HALVES);

/** Half of a tile in floats.
 * @throws {RangeError} when the tile does not have it. */
export function halfOf(
  { slots }: Pick<PinnedTile, 'slots'>,
  which: Half,
  { table: { slab } }: RenderContext,
): RgbFloats {
  if (slots.length === UPPER_SLOTS) {
    if (which === 1) throw new RangeError('The tile has no lower half');
    return [slab.halfPlane(slots[0]), slab.halfPlane(slots[1]), slab.halfPlane(slots[2])];
  }
  return [slab.halfPlane(slots[which]), slab.halfPlane(slots[2 + which]), slab.halfPlane(slots[4 + which])];
}

/** What lies below the picture is black. */
function blacken(rgb: Rgb16, halves: readonly Half[]): void {
  if (halves.length < HALVES.length) for (const plane of rgb) plane.fill(0, HALF);
}

/** Half of a tile that is at rest. */
const halfRgb = ({ slots }: Pick<PinnedTile, 'slots'>, which: Half, { table: { slab } }: RenderContext): Rgb16 => [
  slab.halves(slots[0])[which],
  slab.halves(slots[1])[which],
  slab.halves(slots[2])[which],
];

/** Writes a picture's tile that is in floats into slots, rounded. */
export function writeRounded(tile: PinnedTile, slots: readonly number[], context: RenderContext): void {
  const halves = halvesIn(tile.slots);
  for (const which of halves)
    context.kernels.composite(halfOf(tile, which, context), [], halfRgb({ slots }, which, context));
  blacken(rgbOf({ slots }, context), halves);
}

/** Calls `use` with a picture's tile in 16 bits, rounded if it is not at rest. */
export function withRounded<T>(tile: PinnedTile, context: RenderContext, use: (rgb: Rgb16) => T): T {
  if (tile.form !== 'floats') return use(rgbOf(tile, context));
  const { scratch, kernels } = context;
  return scratch.lendRgb((rgb) => {
    const halves = halvesIn(tile.slots);
    for (const which of halves)
      kernels.composite(
        halfOf(tile, which, context),
        [],
        [
          rgb[0].subarray(which * HALF, (which + 1) * HALF),
          rgb[1].subarray(which * HALF, (which + 1) * HALF),
          rgb[2].subarray(which * HALF, (which + 1) * HALF),
        ],
      );
    blacken(rgb, halves);
    return use(rgb);
  });
}

/** Linear light of a picture's tile, 0..1 and beyond where it is in floats.
 * @param out - Overwritten; planes of a tile, or of its upper half where that is all that lies in the picture. */
export function readLight(tile: PinnedTile, out: RgbFloats, context: RenderContext): void {
  const { kernels, scratch } = context;
  if (tile.form !== 'floats') {
    const { decoding } = scratch.curves;
    const rgb = rgbOf(tile, context);
    for (const channel of CHANNELS)
      kernels.linearize(decoding, rgb[channel].subarray(0, out[channel].length), out[channel]);
    return;
  }
  for (const which of halvesIn(tile.slots)) {
    const planes = halfOf(tile, which, context);
    for (const channel of CHANNELS) kernels.linearizeFloats(planes[channel], out[channel], which * HALF);
  }
  if (tile.slots.length === UPPER_SLOTS) for (const plane of out) plane.fill(0, HALF);
}

/** Calls `use` with the light of a node's tile, which others will read as well and nobody may write to. */
export function withLight(
  node: TileNode,
  spot: Spot,
  tile: PinnedTile,
  context: RenderContext,
  use: (light: RgbFloats) => void,
): void {
  const read = (light: RgbFloats) => readLight(tile, light, context);
  if (!node.isTransient) {
    use(context.scratch.lights.get(node.keyAt(spot, context), packPlace(spot.level, spot.tx, spot.ty), read));
    return;
  }
  context.scratch.lend(3, (red, green, blue) => {
    read([red, green, blue]);
    use([red, green, blue]);
  });
}

/** Linear light of a node's tile, as {@link readLight}: copied where it was read lately.
 * @param out - Overwritten. */
export function copyLight(node: TileNode, spot: Spot, tile: PinnedTile, out: RgbFloats, context: RenderContext): void {
  const place = packPlace(spot.level, spot.tx, spot.ty);
  const known = node.isTransient ? undefined : context.scratch.lights.find(node.keyAt(spot, context), place);
  if (known)
    for (const channel of CHANNELS)
      context.kernels.copyPlane(known[channel].subarray(0, out[channel].length), out[channel]);
  else readLight(tile, out, context);
}

/** Encoded values of a picture's tile, 0..65535 and beyond where it is in floats.
 * @param out - Overwritten. */
export function readEncoded(tile: PinnedTile, out: RgbFloats, context: RenderContext): void {
  if (tile.form !== 'floats') {
    for (const [channel, plane] of rgbOf(tile, context).entries()) out[channel].set(plane);
    return;
  }
  for (const which of halvesIn(tile.slots)) {
    const planes = halfOf(tile, which, context);
    for (const channel of CHANNELS)
      context.kernels.copyPlane(planes[channel], out[channel].subarray(which * HALF, (which + 1) * HALF));
  }
  if (tile.slots.length === UPPER_SLOTS) for (const plane of out) plane.fill(0, HALF);
}

/** Writes planes into a tile's slots, as encoded floats, 0..65535 and beyond.
 * @param unit - What 1 counts as. */
export function writeFloats(planes: RgbFloats, slots: readonly number[], context: RenderContext, unit = 1): void {
  for (const which of halvesIn(slots)) {
    const half = halfOf({ slots }, which, context);
    for (const channel of CHANNELS)
      context.kernels.scaleFloats(planes[channel].subarray(which * HALF, (which + 1) * HALF), unit, half[channel]);
  }
}

/** Writes planes of linear light into a tile's slots, as encoded floats. */
export function writeLight(planes: RgbFloats, slots: readonly number[], context: RenderContext): void {
  const { kernels, scratch } = context;
  const table = scratch.within(ENCODING);
  for (const which of halvesIn(slots)) {
    const half = halfOf({ slots }, which, context);
    for (const channel of CHANNELS)
      kernels.mapLight(table, planes[channel], half[channel], Number.NEGATIVE_INFINITY, which * HALF);
  }
}

/** Writes planes of linear light into a tile's slots, encoded and rounded. */
export function writeLightRounded(planes: RgbFloats, slots: readonly number[], context: RenderContext): void {
  const { kernels, scratch } = context;
  const table = scratch.within(ENCODING);
  const out = rgbOf({ slots }, context);
  scratch.lend(3, (r, g, b) => {
    for (const [index, plane] of planes.entries())
      kernels.mapLight(table, plane, [r, g, b][index], Number.NEGATIVE_INFINITY);
    kernels.composite([r, g, b], [], out);
  });
}

/** How a picture's tile is kept. */
export interface Kept {
  form: PictureForm;
  /** Of the picture. */
  extent: Extent;
  /** It is drawn or written at once. */
  isTransient?: boolean;
}

/** Reserves a tile, has it written, and keeps it. */
export function publishPicture(
  spot: Spot,
  key: NodeKey,
  context: RenderContext,
  { form, extent, isTransient = false }: Kept,
  write: (slots: readonly number[]) => void,
): PinnedTile {
  const slots = reserveOrFail(context, form === 'planes' || isUpperOnly(spot, extent) ? UPPER_SLOTS : 6);
  write(slots);
  if (isTransient) return transientTile(context, slots, form);
  if (form === 'floats') return keepBriefly(context, key, spot, { form, slots });
  return context.table.publish(key, spot.level, spot.tx, spot.ty, { form, slots });
}

/** Lays pictures over one and writes what comes out into slots, rounded if the form says so. */
export function layOver(
  base: PinnedTile,
  laid: readonly LaidPicture[],
  context: RenderContext,
  { form, slots }: { form: PictureForm; slots: readonly number[] },
): void {
  const { kernels } = context;
  const isPlain = laid.every(isAtRest);
  if (isPlain && base.form !== 'floats' && form === 'planes') {
    const layers = laid.map(({ tile, mask, opacity }) => ({
      upper: rgbOf(tile, context),
      mask: planeOf(mask, 0, context),
      opacity,
    }));
    kernels.composite(rgbOf(base, context), layers, rgbOf({ slots }, context));
    return;
  }
  const halves = form === 'floats' ? halvesIn(slots) : halvesOfAll([base, ...laid.map(({ tile }) => tile)]);
  for (const which of halves) {
    const out = form === 'floats' ? halfOf({ slots }, which, context) : halfRgb({ slots }, which, context);
    const from = base.form === 'floats' ? halfOf(base, which, context) : halfRgb(base, which, context);
    if (isPlain) kernels.composite(from, halfLayers(laid, 0, laid.length, which, context), out);
    else layFloats(from, laid, context, which, out);
  }
  if (form === 'planes') blacken(rgbOf({ slots }, context), halves);
}

/** The halves that all tiles of a place have. */
const halvesOfAll = (tiles: readonly PinnedTile[]): readonly Half[] =>
  tiles.some(({ form, slots }) => form === 'floats' && slots.length === UPPER_SLOTS) ? UPPER : HALVES;

/** Half a tile, some of whose layers are in floats or in modes: plain ones at rest are laid as many at a time as follow each other. What comes
 * out in floats is mixed where it stays. */
function layFloats(
  base: Rgb16 | RgbFloats,
  laid: readonly LaidPicture[],
  context: RenderContext,
  which: Half,
  out: Rgb16 | RgbFloats,
): void {
  const { kernels, scratch } = context;
  const stays = out[0] instanceof Float32Array;
  const runFrom = (at: number): MaskedLayer[] => {
    let end = at;
    while (end < laid.length && isAtRest(laid[end])) end++;
    return halfLayers(laid, at, end, which, context);
  };
  scratch.lendHalves(stays ? 3 : 6, (planes) => {
    const widened: RgbFloats = [planes[0], planes[1], planes[2]];
    const now: RgbFloats = stays ? (out as RgbFloats) : [planes[3], planes[4], planes[5]];
    const first = runFrom(0);
    let below = base[0] instanceof Float32Array ? (base as RgbFloats) : now;
    if (first.length > 0 || below === now) {
      kernels.composite(base, first, now);
      below = now;
    }
    for (let at = first.length; at < laid.length; ) {
      const run = runFrom(at);
      const { tile, opacity, mode } = laid[at];
      const mask = halfMask(laid[at], which, context);
      if (run.length > 0) kernels.composite(below, run, now);
      else if (mode === 'normal') {
        const upper = floatsOf(tile, which, widened, context);
        for (const channel of CHANNELS) kernels.mixFloats(below[channel], upper[channel], mask, opacity, now[channel]);
      } else {
        const upper = tile === MIXED_SO_FAR ? below : floatsOf(tile, which, widened, context);
        kernels.blendOver(modeNumber(mode), below, upper, mask, opacity, null, now);
      }
      below = now;
      at += Math.max(1, run.length);
    }
    if (!stays) kernels.composite(now, [], out);
  });
}

/** Half a tile in floats.
 * @param spare - Written to when it is not in floats yet. */
export function floatsOf(tile: PinnedTile, which: Half, spare: RgbFloats, context: RenderContext): RgbFloats {
  if (tile.form === 'floats') return halfOf(tile, which, context);
  context.kernels.composite(halfRgb(tile, which, context), [], spare);
  return spare;
}

export function halfMask(
  { mask }: Pick<LaidPicture, 'mask'>,
  which: Half,
  { table }: RenderContext,
): Uint16Array | number {
  return mask.form === 'constant' ? mask.value : table.slab.halves(mask.slots[0])[which];
}

/** Half of some layers at rest.
 * @param to - One past the last. */
function halfLayers(
  laid: readonly LaidPicture[],
  from: number,
  to: number,
  which: Half,
  context: RenderContext,
): MaskedLayer[] {
  const layers: MaskedLayer[] = [];
  for (let at = from; at < to; at++) {
    const { tile, opacity } = laid[at];
    layers.push({ upper: halfRgb(tile, which, context), mask: halfMask(laid[at], which, context), opacity });
  }
  return layers;
}
