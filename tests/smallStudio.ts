import { tilesIn } from '#core/raster/region.ts';
import { type Size, TILE } from '#core/raster/size.ts';
import type { TileTable } from '#core/raster/tileTable.ts';
import { createStudio } from '#core/render/createStudio.ts';
import { frameKey } from '#core/render/frameNode.ts';
import { createLoadingDesk, FrameLoader, type LoadingDesk } from '#core/render/loadFrame.ts';
import { planeOf, type Studio, type TileNode, withTile } from '#core/render/studio.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { FrameId } from '#core/scene/ids.ts';
import { type Frame, newFrame, newScene, type Scene } from '#core/scene/scene.ts';
import { openWorkplace, type Workplace } from '../engine/kernelModule.ts';
import { createPixelMemory } from '../engine/memory.ts';
import { loadKernels } from '../engine/node/loadKernels.ts';

/** What a made frame holds: 16-bit RGB of each pixel. */
export type PixelSource = (x: number, y: number) => readonly [number, number, number];

/** Pixels, memory and a scene of made frames, for tests. */
export interface SmallStudio {
  studio: Studio;
  table: TileTable;
  memory: WebAssembly.Memory;
  desk: LoadingDesk;
  scene: Scene;
  frameIds: FrameId[];
}

/** Threads that tests may pretend to have on one memory. */
const THREADS = 4;

/** The kernels that the build made. */
export const testKernels = loadKernels(new URL('../core/assembly/build/kernels.wasm', import.meta.url));

/** Fresh pixel memory with a workplace on its last arena. */
export function openPixels(budgetBytes = 512 * 2 ** 20): {
  memory: WebAssembly.Memory;
  workplace: Workplace;
  desk: LoadingDesk;
} {
  const { memory } = createPixelMemory(budgetBytes, THREADS);
  const workplace = openWorkplace({ memory, kernels: testKernels, arena: THREADS - 1 });
  const loading = openWorkplace({ memory, kernels: testKernels, arena: THREADS - 2 });
  return { memory, workplace, desk: createLoadingDesk(loading.table, loading.kernels, loading.arena) };
}

/** A studio at a workplace, for pictures of one size. */
export const studioOn = (workplace: Workplace, size: Size): Studio => ({ ...createStudio(workplace), size });

/** A scene of made frames whose pixels are in memory, darkest first; the middle one is the base. */
export function smallStudio(size: Size, sources: readonly PixelSource[], budgetBytes = 512 * 2 ** 20): SmallStudio {
  const { memory, desk, workplace } = openPixels(budgetBytes);
  const studio = studioOn(workplace, size);
  const { table } = workplace;
  const frames = sources.map((source, index) => {
    const frame = madeFrame(index, size);
    loadPixels(desk, frame, source);
    return frame;
  });
  const scene = applyEdit(newScene('Test'), addFrames({ frames }));
  return { studio, table, memory, desk, scene, frameIds: frames.map(({ id }) => id) };
}

export function madeFrame(index: number, size: Size): Frame {
  const sha256 = String(index).padStart(64, 'f');
  return newFrame({
    id: FrameId.parse(`frame-${index}`),
    file: { sha256, name: `frame-${index}.tif`, bytes: 1 },
    ...size,
    bits: 16,
    shot: { exposureTime: 2 ** index, fNumber: 8, iso: 100, takenAt: null, ev: index, estimated: false },
    exif: {},
  });
}

export function loadPixels(desk: LoadingDesk, frame: Frame, source: PixelSource): void {
  const loader = new FrameLoader(desk, frameKey(frame.file.sha256, frame.reading), frame, 16);
  const row = new Uint16Array(frame.width * 3);
  for (let y = 0; y < frame.height; y++) {
    for (let x = 0; x < frame.width; x++) row.set(source(x, y), x * 3);
    loader.add(new Uint8Array(row.buffer));
  }
  loader.buildPyramid();
}

/** A whole plane of a node at a level: `width` x `height` samples. */
export function planeOfNode(node: TileNode, plane: number, level: number, size: Size, studio: Studio): Uint16Array {
  const out = new Uint16Array(size.width * size.height);
  for (const { tx, ty } of tilesIn(studio.size, level, { x: 0, y: 0, ...size })) {
    withTile(node, { level, tx, ty }, studio, (tile) => {
      const samples = planeOf(tile, plane, studio);
      for (let y = 0; y < TILE && ty * TILE + y < size.height; y++) {
        for (let x = 0; x < TILE && tx * TILE + x < size.width; x++) {
          out[(ty * TILE + y) * size.width + tx * TILE + x] =
            typeof samples === 'number' ? samples : samples[y * TILE + x];
        }
      }
    });
  }
  return out;
}
