import { existsSync } from 'node:fs';
import { FrameId } from '#core/ids.ts';
import { tilesIn } from '#core/raster/region.ts';
import { type Size, TILE } from '#core/raster/size.ts';
import type { TileTable } from '#core/raster/tileTable.ts';
import { frameKey } from '#core/render/nodes/frameNode.ts';
import { createRenderContext } from '#core/render/tiles/createRenderContext.ts';
import { createFrameLoader, type FrameLoader, IncomingFrame } from '#core/render/tiles/loadFrame.ts';
import { planeOf, type RenderContext, type TileNode, withTile } from '#core/render/tiles/renderContext.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { type Frame, newFrame } from '#core/scene/frame.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { openResources, type ThreadResources } from '../engine/kernelModule.ts';
import { createPixelMemory } from '../engine/memory.ts';
import { loadKernels } from '../engine/node/loadKernels.ts';

/** What a made frame holds: 16-bit RGB of each pixel. */
export type PixelSource = (x: number, y: number) => readonly [number, number, number];

/** Pixels, memory and a scene of made frames, for tests. */
export interface SmallScene {
  context: RenderContext;
  table: TileTable;
  memory: WebAssembly.Memory;
  loader: FrameLoader;
  scene: Scene;
  frameIds: FrameId[];
}

/** Threads that tests may pretend to have on one memory. */
const THREADS = 4;

/** The kernels that the build made: beside a bundle, or where they are built. */
const kernelsAt = ['./kernels.wasm', '../core/assembly/build/kernels.wasm'].map((at) => new URL(at, import.meta.url));
export const testKernels = loadKernels(kernelsAt.find((at) => existsSync(at)) ?? kernelsAt[1]);

/** Fresh pixel memory with a resources on its last arena. */
export function openPixels(budgetBytes = 512 * 2 ** 20): {
  memory: WebAssembly.Memory;
  resources: ThreadResources;
  loader: FrameLoader;
} {
  const { memory } = createPixelMemory(budgetBytes, THREADS);
  const resources = openResources({ memory, kernels: testKernels, arena: THREADS - 1 });
  const loading = openResources({ memory, kernels: testKernels, arena: THREADS - 2 });
  return { memory, resources, loader: createFrameLoader(loading.table, loading.kernels, loading.arena) };
}

/** A scene of made frames whose pixels are in memory, darkest first; the middle one is the base. */
export function smallScene(size: Size, sources: readonly PixelSource[], budgetBytes = 512 * 2 ** 20): SmallScene {
  const { memory, loader, resources } = openPixels(budgetBytes);
  const context = createRenderContext(resources);
  const { table } = resources;
  const frames = sources.map((source, index) => {
    const frame = madeFrame(index, size);
    loadPixels(loader, frame, source);
    return frame;
  });
  const scene = applyEdit(newScene('Test'), addFrames({ frames }));
  return { context, table, memory, loader, scene, frameIds: frames.map(({ id }) => id) };
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

export function loadPixels(loader: FrameLoader, frame: Frame, source: PixelSource): void {
  const incoming = new IncomingFrame(loader, frameKey(frame.file.sha256, frame.reading), frame, 16);
  const row = new Uint16Array(frame.width * 3);
  for (let y = 0; y < frame.height; y++) {
    for (let x = 0; x < frame.width; x++) row.set(source(x, y), x * 3);
    incoming.add(new Uint8Array(row.buffer));
  }
  incoming.buildPyramid();
}

/** A whole plane of a node at a level: `width` x `height` samples. */
export function planeOfNode(
  node: TileNode,
  plane: number,
  level: number,
  size: Size,
  context: RenderContext,
): Uint16Array {
  const out = new Uint16Array(size.width * size.height);
  for (const { tx, ty } of tilesIn(node.extent.size, level, { x: 0, y: 0, ...size })) {
    withTile(node, { level, tx, ty }, context, (tile) => {
      const samples = planeOf(tile, plane, context);
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
