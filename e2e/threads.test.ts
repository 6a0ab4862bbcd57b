import type { Worker } from 'node:worker_threads';
import alea from 'alea';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { restOf } from '#codecs/deliver/formats/list.ts';
import { pairDistance } from '#core/checks/pairDistance.ts';
import { allTiles } from '#core/raster/region.ts';
import { FIRST_READING } from '#core/reading.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import type { Frame } from '#core/scene/frame.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { Lane } from '#engine/lanes.ts';
import { asTheyAre } from '../engine/deliver/layeredFile.ts';
import { writeToMemory } from '../engine/deliver/writeToMemory.ts';
import { type NodeEngine, startEngine } from '../engine/node/startEngine.ts';
import { randomScene } from '../tests/randomScene.ts';

const BUILT = new URL('../dist/node/', import.meta.url);
const size = { width: 400, height: 260 };
const all = { x: 0, y: 0, ...size };
const KILLS = 80;
const KILLS_A_ROUND = 8;
/** Far fewer in a row than an engine gives a thread up after, however slowly threads start here. */
const KILLS_BEFORE_ALL_ARE_READY = 4;

/** A picture as a file, different for every tone. */
async function fileOf(tone: number): Promise<ArrayBuffer> {
  const pixels = Buffer.alloc(size.width * size.height * 3);
  for (let i = 0; i < pixels.length; i++) pixels[i] = (((i % (size.width * 3)) / 12 + i / 40_000) * tone) & 255;
  const { buffer, byteOffset, byteLength } = await sharp(pixels, { raw: { ...size, channels: 3 } })
    .png()
    .toBuffer();
  return buffer.slice(byteOffset, byteOffset + byteLength) as ArrayBuffer;
}

const live = new Map<Worker, { name: string; isReady: boolean }>();
const start = (threads?: number) =>
  startEngine(BUILT, 192 * 2 ** 20, {
    threads,
    onSpawn: (name, worker) => {
      const state = { name, isReady: name === 'overflow' };
      live.set(worker, state);
      worker.on('message', ({ type }: { type: string }) => {
        state.isReady ||= type === 'ready';
      });
      worker.on('exit', () => live.delete(worker));
    },
  });

const load = async (node: NodeEngine, tone: number): Promise<Frame> =>
  node.codec.load({ file: await fileOf(tone), name: `${tone}.png`, reading: FIRST_READING }, size, () => undefined);

const picture = async ({ engine }: NodeEngine) =>
  Uint16Array.from((await engine.render({ what: 'result' }, size, all, 'srgb', () => undefined)) ?? []);

/** The outcome of some work, which must come: a value, or the code of a named error. */
async function outcomeOf(work: Promise<unknown>): Promise<string> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const hung = new Promise<string>((resolve) => {
    timer = setTimeout(() => resolve('hung'), 60_000);
  });
  const outcome = work.then(
    () => 'done',
    (error: { code?: string; message?: string }) => error.code ?? `without a name: ${error.message}`,
  );
  return Promise.race([outcome, hung]).finally(() => clearTimeout(timer));
}

let node: NodeEngine;
let frames: Frame[];
let scene: Scene;
let expected: Uint16Array;
beforeAll(async () => {
  node = await start();
  frames = [];
  for (const tone of [1, 2, 3]) frames.push(await load(node, tone));
  scene = randomScene(applyEdit(newScene('Threads'), addFrames({ frames })), 'threads', { layers: 2, parts: 3 });
  node.engine.setScene(scene);
  expected = await picture(node);
});
afterAll(() => node.close());

describe('the threads of an engine', () => {
  it('draw the same bits, however many they are', async () => {
    const alone = await start(1);
    for (const tone of [1, 2, 3]) await load(alone, tone);
    alone.engine.setScene(scene);
    expect(await picture(alone)).toEqual(expected);
    alone.close();
  });

  it('measure how far pictures lie apart in a background thread, as it is measured here', async () => {
    const random = alea('apart');
    const sketch = (levelOf: (at: number) => number) => {
      const rgba = new Uint8ClampedArray(200 * 150 * 4);
      for (let i = 0; i < rgba.length; i++) rgba[i] = levelOf(i >> 2) + 20 * random();
      return { width: 200, height: 150, rgba };
    };
    const [own, taken, other] = [40, 60, 90].map((level) => sketch((at) => level + ((at * 7) % 100)));
    const mask = sketch((at) => at % 250);
    const shares = Float32Array.from({ length: 200 * 150 }, (_, i) => mask.rgba[4 * i] / 255);
    const plain = [pairDistance(own, taken, other, shares, 'srgb'), pairDistance(own, own, other, undefined, 'srgb')];
    const copied = <T>(value: T): T => structuredClone(value);
    expect(plain[0]?.along).toBe('seam');
    expect(await node.aligner.distance({ ...copied({ own, taken, other, mask }), space: 'srgb' })).toEqual(plain[0]);
    expect(await node.aligner.distance({ ...copied({ own, other }), space: 'srgb' })).toEqual(plain[1]);
  });

  it(`may die at any moment, ${KILLS} times: who waits is told, another takes over, and the picture is the same`, async () => {
    const random = alea('kills');
    const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
    const { engine, aligner } = node;
    const toPlace = ({ file, reading, width, height, shot }: Frame) => ({ file, reading, width, height, ev: shot.ev });
    const work: Record<string, () => Promise<unknown>> = {
      draw: () => {
        engine.advance(Lane.View);
        return engine.draw(Lane.View, { show: { what: 'result' } }, 0, [...allTiles(size, 0)], () => undefined);
      },
      render: () => picture(node),
      histogram: () => engine.histogram(Lane.Readings, { what: 'result' }, 1),
      load: () => load(node, pick([1, 2, 3, 4])),
      align: () =>
        aligner.align(
          { base: toPlace(frames[0]), frame: toPlace(frames[1]), between: [], wanted: null },
          () => undefined,
        ),
      encode: () =>
        writeToMemory(
          node,
          { of: { what: 'result' }, size, region: { x: 0, y: 0, ...size }, channels: 3 },
          asTheyAre(size, 'srgb', { ...restOf('png'), effort: 1 }),
        ),
    };
    const outcomes = new Map<string, number>();
    let killed = 0;
    let early = 0;
    for (let round = 0; killed < KILLS; round++) {
      const pending = [pick(Object.keys(work)), pick(Object.keys(work))].map((name) => outcomeOf(work[name]()));
      const gone: Promise<number>[] = [];
      for (let kill = 0; kill < KILLS_A_ROUND; kill++) {
        await new Promise((resolve) => setTimeout(resolve, random() * 60));
        // Mostly those at work; some die while they start, which a thread may do a few times in a row.
        if ([...live.values()].every(({ isReady }) => isReady)) early = 0;
        const alsoStarting = random() < 0.2 && early < KILLS_BEFORE_ALL_ARE_READY;
        const victims = [...live].filter(([, { name, isReady }]) => name !== 'overflow' && (isReady || alsoStarting));
        // As sudden for the engine as a crash.
        if (victims.length === 0) continue;
        const [worker, { isReady }] = pick(victims);
        gone.push(worker.terminate());
        killed++;
        if (!isReady) early++;
      }
      for (const outcome of await Promise.all(pending)) outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1);
      await Promise.all(gone);
      if (round % 5 < 4) continue;
      await engine.whenReady();
      expect(await picture(node)).toEqual(expected);
    }
    expect([...outcomes.keys()].filter((each) => !['done', 'thread-failed', 'cancelled'].includes(each))).toEqual([]);
    expect(outcomes.get('thread-failed')).toBeGreaterThan(KILLS / KILLS_A_ROUND / 4);
    // Nothing of the dead is left in memory: what can be dropped is, and only frames stay.
    await engine.whenReady();
    expect(await picture(node)).toEqual(expected);
    const { table } = node.loader;
    table.dropDerived();
    const { moveable, resident } = table.room;
    const spare = 3 * 64;
    expect(table.slab.usedSlots).toBeLessThan(moveable + resident + spare);
  }, 600_000); // A busy machine starts threads slowly; what hangs ends after a minute.

  it('are told when the thread that keeps the overflow is gone, and wait for it no longer', async () => {
    const [keeper] = [...live].find(([, { name }]) => name === 'overflow') ?? [];
    await keeper?.terminate();
    await expect.poll(() => node.loader.table.slab.overflowPlaces).toBe(0);
    expect(await picture(node)).toEqual(expected);
  });
});
