import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { encodeWhole } from '#codecs/deliver/encodeWhole.ts';
import { restOf } from '#codecs/deliver/formats/list.ts';
import { keepLibraries } from '#codecs/libraries.ts';
import { allTiles } from '#core/raster/region.ts';
import { PLAIN_READING } from '#core/reading.ts';
import { compilePlan } from '#core/render/plan/plan.ts';
import { writeTile } from '#core/render/plan/writing.ts';
import { createRenderContext } from '#core/render/tiles/createRenderContext.ts';
import type { FrameLoader } from '#core/render/tiles/loadFrame.ts';
import type { TileNode } from '#core/render/tiles/renderContext.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { newScene } from '#core/scene/scene.ts';
import { openPixels } from '../tests/smallScene.ts';
import type { ThreadResources } from './kernelModule.ts';
import { loadFrameBytes } from './loadFrameBytes.ts';
import { nodeLibraries } from './node/libraries.ts';

const size = { width: 333, height: 201 };
const pixels = Uint16Array.from({ length: size.width * size.height * 3 }, (_, i) => (i * 48271) & 0xffff);
const options = {
  name: 'a.png',
  reading: PLAIN_READING,
  expect: undefined,
  onProgress: () => undefined,
  isCancelled: () => false,
};

const libraries = keepLibraries(nodeLibraries);
let png: Uint8Array<ArrayBuffer>;
beforeAll(async () => {
  png = new Uint8Array(
    await sharp(pixels, { raw: { ...size, channels: 3 } })
      .toColourspace('rgb16')
      .png()
      .toBuffer(),
  );
});
afterAll(async () => (await libraries.vips()).shutdown());

async function exportBase(loader: FrameLoader, resources: ThreadResources): Promise<Buffer> {
  const frame = await loadFrameBytes(libraries, loader, png, options);
  const scene = applyEdit(newScene('x'), addFrames({ frames: [frame] }));
  const context = createRenderContext(resources);
  const image = new Uint16Array(size.width * size.height * 3);
  for (const { tx, ty } of allTiles(size, 0))
    writeTile(
      compilePlan(scene)?.node({ what: 'result' }) as TileNode,
      tx,
      ty,
      { region: { x: 0, y: 0, ...size }, pixels: image },
      context,
    );
  return Buffer.from(encodeWhole(await libraries.vips(), image, size, { file: restOf('tiff') }));
}

describe('a frame from file to file', () => {
  it('loses nothing: a general image library reads the very samples that it wrote', async () => {
    const { loader, resources } = openPixels(64 * 2 ** 20);
    const back = await sharp(await exportBase(loader, resources), { ignoreIcc: true })
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer();
    const samples = new Uint16Array(back.buffer, back.byteOffset, pixels.length);
    let differing = 0;
    for (let i = 0; i < pixels.length; i++) if (samples[i] !== pixels[i]) differing++;
    expect(differing).toBe(0);
  });

  it('is read once only, and answers the same frame again', async () => {
    const { loader } = openPixels(64 * 2 ** 20);
    const first = await loadFrameBytes(libraries, loader, png, options);
    const used = loader.table.slab.usedSlots;
    expect(await loadFrameBytes(libraries, loader, png, options)).toEqual(first);
    expect(loader.table.slab.usedSlots).toBe(used);
  });

  it.each([
    ['of another size', { ...options, expect: { width: 334, height: 201 } }, 'size-differs'],
    ['that is stopped', { ...options, isCancelled: () => true }, 'cancelled'],
  ])('%s leaves no pixel behind', async (_what, given, code) => {
    const { loader } = openPixels(64 * 2 ** 20);
    await expect(loadFrameBytes(libraries, loader, png, given)).rejects.toMatchObject({ code });
    expect(loader.table.slab.usedSlots).toBe(0);
  });

  it('that does not fit in memory says so and leaves nothing', async () => {
    const { loader } = openPixels(10 * 32896);
    await expect(loadFrameBytes(libraries, loader, png, options)).rejects.toMatchObject({ code: 'memory-full' });
    expect(loader.table.slab.usedSlots).toBe(0);
  });
});
