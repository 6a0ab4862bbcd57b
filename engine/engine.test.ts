import { describe, expect, it } from 'vitest';
import { StrokeId } from '#core/ids.ts';
import { keyText } from '#core/raster/tileKey.ts';
import { compilePlan } from '#core/render/plan/plan.ts';
import { sampleAt } from '#core/render/plan/readings.ts';
import type { TileNode } from '#core/render/tiles/renderContext.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { layerIdOf } from '#core/scene/edits/layersOfFrames.ts';
import { setToneUse } from '#core/scene/edits/older.ts';
import { addStroke } from '#core/scene/edits/painting.ts';
import { type PixelSource, type SmallScene, smallScene, testKernels } from '../tests/smallScene.ts';
import { Engine } from './engine.ts';
import { hasSimd } from './kernelModule.ts';
import { Lane } from './lanes.ts';
import type { DrawnTile, FromRenderer, InnerPort, Port, ToRenderer } from './protocol.ts';
import { serveRenderer } from './renderer.ts';
import { threadCount } from './threadCount.ts';

const size = { width: 300, height: 210 };
const source =
  (gain: number): PixelSource =>
  (x, y) => [Math.min(65535, gain * (x * 100 + y * 20)), gain * 1000, gain * 3000];

/** A pair of ports that talk to each other within this thread, a message at a time. */
function pairedPorts(): { outer: Port<FromRenderer, ToRenderer>; inner: InnerPort<ToRenderer, FromRenderer> } {
  const takers: { outer?: (message: FromRenderer) => void; inner?: (message: ToRenderer) => void } = {};
  return {
    outer: {
      post: (message) => void setTimeout(() => takers.inner?.(message)),
      onMessage: (take) => {
        takers.outer = take;
      },
      onFailure: () => undefined,
      close: async () => undefined,
    },
    inner: {
      post: (message) => void setTimeout(() => takers.outer?.(message)),
      onMessage: (take) => {
        takers.inner = take;
      },
    },
  };
}

async function start(threads = 2): Promise<{ engine: Engine; made: SmallScene }> {
  const made = smallScene(size, [source(0.5), source(1), source(2)]);
  const spawn = () => {
    const { outer, inner } = pairedPorts();
    serveRenderer(inner);
    return outer;
  };
  const { memory, table } = made;
  const engine = await Engine.start({ spawn, threads, memory, kernels: testKernels, table });
  engine.setScene(made.scene);
  return { engine, made };
}

const spots = [0, 1, 2].flatMap((tx) => [0, 1].map((ty) => ({ tx, ty })));

async function drawAll(engine: Engine, known: Map<string, string> = new Map()): Promise<DrawnTile[]> {
  const drawn: DrawnTile[] = [];
  const wanted = spots.map((spot) => ({ ...spot, known: known.get(`${spot.tx},${spot.ty}`) }));
  await engine.draw(Lane.View, { show: { what: 'result' } }, 0, wanted, (tiles) => drawn.push(...tiles));
  return drawn;
}

describe('the engine', () => {
  it('draws every tile once, over all threads, with the key of its pixels', async () => {
    const { engine, made } = await start();
    const drawn = await drawAll(engine);
    expect(drawn.map(({ tx, ty }) => `${tx},${ty}`).sort()).toEqual(spots.map(({ tx, ty }) => `${tx},${ty}`).sort());
    const result = compilePlan(made.scene)?.node({ what: 'result' }) as TileNode;
    for (const { tx, ty, key } of drawn) expect(key).toBe(keyText(result.keyAt({ level: 0, tx, ty }, made.context)));
  });

  it('does not draw again what the asker has', async () => {
    const { engine } = await start();
    const known = new Map((await drawAll(engine)).map(({ tx, ty, key }) => [`${tx},${ty}`, key]));
    expect((await drawAll(engine, known)).every(({ rgba }) => rgba === undefined)).toBe(true);
  });

  it('draws only the tiles that a stroke touches', async () => {
    const { engine, made } = await start();
    const known = new Map((await drawAll(engine)).map(({ tx, ty, key }) => [`${tx},${ty}`, key]));
    const id = StrokeId.parse('s');
    engine.addStrokePoints(id, Float32Array.of(30, 30, 1, 0));
    expect(engine.knowsStroke(id)).toBe(true);
    const stroke = {
      id,
      target: 1,
      size: 40,
      hardness: 0,
      strength: 1,
      flow: 1,
      pressure: 'none' as const,
      stencil: null,
    };
    engine.setScene(applyEdit(made.scene, addStroke({ owner: layerIdOf(made.frameIds[0]), stroke })));
    const again = (await drawAll(engine, known)).filter(({ rgba }) => rgba);
    expect(again.map(({ tx, ty }) => [tx, ty])).toEqual([[0, 0]]);
  });

  it('draws into the memory of tiles that were looked at, whatever was drawn there', async () => {
    const { engine, made } = await start(1);
    const first = new Map((await drawAll(engine)).map(({ tx, ty, rgba }) => [`${tx},${ty}`, rgba?.slice()]));
    const other = { ...made.scene, base: made.frameIds[2] };
    engine.setScene(other);
    const between = (await drawAll(engine)).map(({ rgba }) => rgba?.buffer);
    engine.setScene(made.scene);
    const again = await drawAll(engine);
    expect(again.length).toBe(spots.length);
    for (const { tx, ty, rgba } of again) {
      expect(between).toContain(rgba?.buffer);
      expect(rgba?.every((byte, i) => byte === first.get(`${tx},${ty}`)?.[i])).toBe(true);
    }
    expect(new Set(again.map(({ rgba }) => rgba?.buffer)).size).toBe(spots.length);
  });

  it('drops requests whose lane has gone on', async () => {
    const { engine } = await start(1);
    const pending = drawAll(engine);
    engine.advance(Lane.View);
    expect(await pending).toEqual([]);
    engine.advance(Lane.Readings);
    expect((await drawAll(engine)).length).toBe(spots.length);
  });

  it('renders the whole picture, with progress, and stops when told', async () => {
    const { engine } = await start();
    const shares: number[] = [];
    const image = await engine.render({ what: 'result' }, size, { x: 0, y: 0, ...size }, 'srgb', (share) =>
      shares.push(share),
    );
    expect(shares.at(-1)).toBe(1);
    for (const [x, y] of [
      [0, 0],
      [299, 209],
      [128, 127],
    ]) {
      expect(image?.[(y * size.width + x) * 3]).toBe(Math.floor(source(1)(x, y)[0]));
    }
    const stopped = engine.render({ what: 'result' }, size, { x: 0, y: 0, ...size }, 'srgb', () => undefined);
    engine.advance(Lane.Export);
    expect(await stopped).toBeUndefined();
  });

  it('probes frames, mask, stencil and result', async () => {
    const { engine, made } = await start();
    const layerId = layerIdOf(made.frameIds[0]);
    const scene = applyEdit(made.scene, setToneUse({ layerId, use: 'stencil' }));
    engine.setScene(scene);
    const frames = made.frameIds.map((at) => ({ what: 'frame', at }) as const);
    const masks = (['mask', 'stencil'] as const).map((what) => ({ what, at: layerId }));
    const nothing = { what: 'mask', at: layerIdOf('none' as never) } as const;
    const samples = await engine.probe([{ what: 'result' }, ...frames, ...masks, nothing], 200.7, 100.2);
    const [result, dark, middle, bright, mask, stencil, none] = samples ?? [];
    expect([dark, middle, bright].map((rgb) => rgb?.[0])).toEqual(
      [0.5, 1, 2].map((gain) => Math.floor(source(gain)(200, 100)[0])),
    );
    const node = compilePlan(scene)?.node({ what: 'stencil', at: layerId }) as TileNode;
    expect([mask, stencil, none]).toEqual([[0], sampleAt(node, 200, 100, made.context), null]);
    expect(result).toEqual(middle);
  });

  it('measures a histogram, and answers nothing for what is not there', async () => {
    const { engine } = await start();
    expect((await engine.histogram(Lane.Readings, { what: 'result' }, 1))?.pixels).toBe(150 * 105);
    const gone = { what: 'mask', at: layerIdOf('none' as never) } as const;
    expect(await engine.histogram(Lane.Readings, gone, 0)).toBeUndefined();
  });

  it('finds SIMD where there is some', () => {
    expect(hasSimd()).toBe(true);
  });

  it('tells the code of what failed', async () => {
    const { engine, made } = await start();
    engine.setScene({
      ...made.scene,
      frames: made.scene.frames.map((frame) => ({ ...frame, file: { ...frame.file, sha256: '0'.repeat(64) } })),
    });
    await expect(drawAll(engine)).rejects.toMatchObject({ code: 'frame-missing' });
  });

  it('says why a scene cannot be compiled, and shows nothing of the one before', async () => {
    const { engine, made } = await start();
    await drawAll(engine);
    engine.setScene({ ...made.scene, base: 'nowhere' as never });
    await expect(drawAll(engine)).rejects.toThrow(/no frame nowhere/);
    expect(await engine.probe([{ what: 'result' }], 1, 1).catch((error) => error.message)).toMatch(/no frame/);
    engine.setScene(made.scene);
    expect((await drawAll(engine)).length).toBe(spots.length);
  });

  it.each([
    [1, 2],
    [2, 2],
    [4, 3],
    [16, 15],
  ])('of %i cores uses %i threads', (cores, threads) => {
    expect(threadCount(cores)).toBe(threads);
  });
});
