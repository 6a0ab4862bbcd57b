import alea from 'alea';
import type { Kernels } from '#core/kernels/kernels.ts';
import { twinKernels } from '#core/kernels/kernels.ts';
import type { Rgb16 } from '#core/kernels/planes.ts';
import { exercises, exert } from '#core/kernels/warmUp.ts';
import type { Arena } from '#core/raster/arena.ts';
import { allTiles } from '#core/raster/region.ts';
import { type Size, TILE_SAMPLES } from '#core/raster/size.ts';
import { keyOfText, type NodeKey } from '#core/raster/tileKey.ts';
import { SLOT_BYTES } from '#core/raster/tileSlab.ts';
import type { TileTable } from '#core/raster/tileTable.ts';
import { dropFrame, type FrameLoader, IncomingFrame } from '#core/render/tiles/loadFrame.ts';
import { openResources } from '../engine/kernelModule.ts';
import { createPixelMemory } from '../engine/memory.ts';
import { interleaved, type Measure, medianMs, wallMs } from './measure.ts';

/** Slots of a memory in which no picture lies. */
const NO_PICTURE = 16 * SLOT_BYTES;

/** Every SIMD kernel against its twin in TypeScript: how many times quicker. In memory of its own, since arguments for all fill most of an arena.
 * @param calls - Of each in a round. */
export async function compareKernels(kernels: WebAssembly.Module, calls: number): Promise<Measure[]> {
  const { memory } = createPixelMemory(NO_PICTURE, 1);
  const { kernels: simd, arena } = openResources({ memory, kernels, arena: 0 }, { warmsUp: true });
  const random = alea('kernels');
  const measures: Measure[] = [];
  for (const exercise of exercises(arena, random)) {
    const { name } = exercise;
    const round = (kernels: Kernels) =>
      medianMs(3, () => {
        for (let call = 0; call < calls; call++) exert(kernels, exercise);
      });
    await round(twinKernels);
    const quick = await round(simd);
    const slow = await round(twinKernels);
    const bar = name.startsWith('compositing') ? 6 : undefined;
    const measure = `SIMD against its twin: ${name}`;
    measures.push({ measure, value: slow / quick, unit: 'times', bar, atLeast: true });
  }
  return measures;
}

/** Bytes that copies are written to, in turn: far more than any cache holds. */
const COPY_BYTES = 128 * 2 ** 20;

/** A pyramid, and five layers with masks ready, against copying the bytes that they read. */
export async function compareCopies(
  loader: FrameLoader,
  arena: Arena,
  size: Size,
  frames: readonly NodeKey[],
  rounds: number,
): Promise<Measure[]> {
  const target = new Uint16Array(COPY_BYTES / 2).fill(1);
  const { layers, copies } = await interleaved(rounds, layering(loader, arena, size, frames, target));
  const { pyramid, copy } = await interleaved(rounds, pyramids(loader, size));
  return [
    {
      measure: 'five-layer composite with masks ready / copying the bytes it reads',
      value: layers / copies,
      unit: 'ratio',
      bar: 1.6,
    },
    { measure: 'pyramid of one frame / copying it', value: pyramid / copy, unit: 'ratio', bar: 3.5 },
  ];
}

function layering(
  { table, kernels }: FrameLoader,
  arena: Arena,
  size: Size,
  keys: readonly NodeKey[],
  target: Uint16Array,
) {
  const spots = allTiles(size, 0);
  const out = [arena.samples(TILE_SAMPLES), arena.samples(TILE_SAMPLES), arena.samples(TILE_SAMPLES)] as const;
  // Four masks: planes of the frames themselves serve, of the next tile so that they are not in the cache already.
  const tiles = spots.map(({ tx, ty }, index) => {
    const next = spots[(index + 1) % spots.length];
    const [base, ...uppers] = keys.map((key) => readTile(table, key, tx, ty));
    const masks = keys.slice(1).map((key) => readTile(table, key, next.tx, next.ty)[0]);
    return { base, layers: uppers.map((upper, i) => ({ upper, mask: masks[i], opacity: 0.8 })) };
  });
  let at = 0;
  return {
    layers: () =>
      wallMs(() => {
        for (const { base, layers } of tiles) kernels.composite(base, layers, out);
      }),
    copies: () =>
      wallMs(() => {
        for (const { base, layers } of tiles) {
          for (const plane of [...base, ...layers.flatMap(({ upper, mask }) => [...upper, mask])]) {
            if (at + plane.length > target.length) at = 0;
            target.set(plane, at);
            at += plane.length;
          }
        }
      }),
  };
}

function pyramids(loader: FrameLoader, size: Size) {
  const key = keyOfText('bench pyramid');
  const row = new Uint8Array(size.width * 6);
  const [from, to] = [
    new Uint8Array(size.width * size.height * 6).fill(1),
    new Uint8Array(size.width * size.height * 6).fill(2),
  ];
  return {
    pyramid: async () => {
      const incoming = new IncomingFrame(loader, key, size, 16);
      for (let y = 0; y < size.height; y++) incoming.add(row);
      const ms = await wallMs(() => incoming.buildPyramid());
      dropFrame(loader.table, key, size);
      return ms;
    },
    copy: () => wallMs(() => to.set(from)),
  };
}

function readTile(table: TileTable, key: NodeKey, tx: number, ty: number): Rgb16 {
  const tile = table.find(key, 0, tx, ty);
  if (!tile) throw new RangeError('The frame is not loaded');
  table.release(tile); // frames fit into memory here, and stay
  return [table.slab.plane(tile.slots[0]), table.slab.plane(tile.slots[1]), table.slab.plane(tile.slots[2])];
}
