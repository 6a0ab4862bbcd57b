import type { Kernels } from '#core/kernels/kernels.ts';
import { twinKernels } from '#core/kernels/twins.ts';
import type { Arena } from '#core/raster/arena.ts';
import { allTiles } from '#core/raster/region.ts';
import { type Size, TILE_SAMPLES } from '#core/raster/size.ts';
import { keyOfText, type NodeKey } from '#core/raster/tileKey.ts';
import type { TileTable } from '#core/raster/tileTable.ts';
import { dropFrame, FrameLoader, type LoadingDesk } from '#core/render/loadFrame.ts';
import { type Measure, medianMs } from './measure.ts';

/** Median of several rounds of many calls, in milliseconds a round. */
const round = (calls: number, work: () => void): Promise<number> =>
  medianMs(7, () => {
    for (let call = 0; call < calls; call++) work();
  });

/** Every SIMD kernel against its twin in TypeScript: how many times quicker. */
export async function compareKernels(simd: Kernels, arena: Arena): Promise<Measure[]> {
  const planes = Array.from({ length: 12 }, (_, k) => {
    const plane = arena.samples(TILE_SAMPLES);
    for (let i = 0; i < TILE_SAMPLES; i++) plane[i] = (i * (977 + k * 31)) & 0xffff;
    return plane;
  });
  const [a, b, c] = [arena.floats(TILE_SAMPLES), arena.floats(TILE_SAMPLES), arena.floats(TILE_SAMPLES)];
  const rgba = arena.bytes(TILE_SAMPLES * 4);
  const table = arena.samples(65536);
  const bins = arena.words(256);
  const [p0, p1, p2, p3, p4, p5, p6, p7, p8, p9, p10, p11] = planes;
  const base = [p0, p1, p2] as const;
  const out = [p3, p4, p5] as const;
  const layers = [6, 7, 8, 9].map(() => ({ upper: [p6, p7, p8] as const, mask: p9, opacity: 0.7 }));
  const block = new Uint8Array(rgba.buffer, rgba.byteOffset, rgba.length);
  const works: [string, (kernels: Kernels) => void][] = [
    ['compositing, four layers', (k) => k.composite(base, layers, out)],
    ['luminance', (k) => k.luminance(p0, p1, p2, [0.2, 0.7, 0.1], p3)],
    ['look-up', (k) => k.lookUp(table, p0, p3)],
    ['widening', (k) => k.widen(p0, a)],
    ['narrowing', (k) => k.narrow(a, p3)],
    ['joining', (k) => k.joinCoverage('add', a, b, c)],
    ['a dab', (k) => k.layDab(a, 64, 64, 60, 0.2, 1, 0.3)],
    ['painting over', (k) => k.paintOver(a, b, c, 1, 0.2, p10, false)],
    ['halving', (k) => k.halveTile(p0, p11, 0, 0)],
    ['spreading rows', (k) => k.spreadRows(block, 384, 8, out, 128, 128)],
    ['drawing RGBA', (k) => k.drawRgba(p0, p1, p2, rgba)],
    ['tinting', (k) => k.tint(rgba, p9, [90, 190, 170], 0.7)],
    ['counting', (k) => k.countLevels(p0, 128, 128, bins)],
    ['blurring, sigma 6', (k) => k.blurPlane(a, b, 128, 128, 6)],
    ['enlarging 4 times', (k) => k.enlarge(a, 36, 2, 2, 4, b)],
  ];
  const measures: Measure[] = [];
  for (const [name, work] of works) {
    for (let warm = 0; warm < 60; warm++) for (const kernels of [simd, twinKernels]) work(kernels);
    // Far from the smallest floats, which processors are slow with.
    const refresh = () => {
      for (const plane of [a, b, c]) plane.fill(0.3);
    };
    refresh();
    const quick = await round(40, () => work(simd));
    refresh();
    const slow = await round(40, () => work(twinKernels));
    const bar = name.startsWith('compositing') ? 6 : undefined;
    measures.push({
      measure: `SIMD against its twin: ${name}`,
      value: slow / quick,
      unit: 'times',
      bar,
      atLeast: true,
    });
  }
  return measures;
}

/** A pyramid, and five layers with masks ready, against copying the bytes that they read. */
export async function compareCopies(
  desk: LoadingDesk,
  arena: Arena,
  size: Size,
  frames: readonly NodeKey[],
): Promise<Measure[]> {
  const { table, kernels } = desk;
  const spots = allTiles(size, 0);
  const read = (key: NodeKey, tx: number, ty: number) => readTile(table, key, tx, ty);
  const copy = arena.samples(TILE_SAMPLES);
  const out = [arena.samples(TILE_SAMPLES), arena.samples(TILE_SAMPLES), arena.samples(TILE_SAMPLES)] as const;
  // Four masks: planes of the frames themselves serve, shifted by a tile so that they are not in the cache already.
  const tilesAt = (index: number) => {
    const { tx, ty } = spots[index];
    const other = spots[(index + 1) % spots.length];
    const [base, ...uppers] = frames.map((key) => read(key, tx, ty));
    const masks = frames.slice(1).map((key) => read(key, other.tx, other.ty)[0]);
    return { base, layers: uppers.map((upper, i) => ({ upper, mask: masks[i], opacity: 0.8 })) };
  };
  const compositeMs = await medianMs(3, () => {
    for (let i = 0; i < spots.length; i++) {
      const { base, layers } = tilesAt(i);
      kernels.composite(base, layers, out);
    }
  });
  const compositeCopyMs = await medianMs(3, () => {
    for (let i = 0; i < spots.length; i++) {
      const { base, layers } = tilesAt(i);
      for (const plane of [...base, ...layers.flatMap(({ upper, mask }) => [...upper, mask])]) copy.set(plane);
    }
  });
  const key = keyOfText('bench pyramid');
  const loader = new FrameLoader(desk, key, size, 16);
  const row = new Uint8Array(size.width * 6);
  for (let y = 0; y < size.height; y++) loader.add(row);
  const pyramidMs = await medianMs(1, () => loader.buildPyramid());
  dropFrame(table, key, size);
  const [from, to] = [new Uint8Array(size.width * size.height * 6), new Uint8Array(size.width * size.height * 6)];
  to.set(from);
  const copyMs = await medianMs(3, () => to.set(from));
  return [
    {
      measure: 'five-layer composite with masks ready / copying the bytes it reads',
      value: compositeMs / compositeCopyMs,
      unit: 'ratio',
      bar: 1.6,
    },
    { measure: 'pyramid of one frame / copying it', value: pyramidMs / copyMs, unit: 'ratio', bar: 3.5 },
  ];
}

function readTile(table: TileTable, key: NodeKey, tx: number, ty: number): [Uint16Array, Uint16Array, Uint16Array] {
  const tile = table.find(key, 0, tx, ty);
  if (!tile) throw new RangeError('The frame is not loaded');
  table.release(tile); // frame tiles are kept, pinned or not
  return [table.slab.plane(tile.slots[0]), table.slab.plane(tile.slots[1]), table.slab.plane(tile.slots[2])];
}
