import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import sharp from 'sharp';
import { allTiles } from '#core/raster/region.ts';
import { levelCount, levelForScale } from '#core/raster/size.ts';
import { frameKey } from '#core/render/frameNode.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { addStroke, setTone } from '#core/scene/edits/masks.ts';
import { StrokeId } from '#core/scene/ids.ts';
import type { Frame } from '#core/scene/scene.ts';
import { Lane } from '../engine/lanes.ts';
import { loadFrameBytes } from '../engine/loadFrameBytes.ts';
import { loadVips } from '../engine/node/loadVips.ts';
import { startEngine } from '../engine/node/startEngine.ts';
import { compareCopies, compareKernels } from './kernels.ts';
import { cpuMs, holds, type Measure, medianMs } from './measure.ts';
import { busyScene, strokeAcross } from './scenes.ts';

const { values } = parseArgs({
  options: {
    frames: { type: 'string', default: 'demo/frames/tarn' },
    runs: { type: 'string', default: '7' },
    quick: { type: 'boolean', default: false },
    json: { type: 'string' },
  },
});
const runs = values.quick ? 3 : Number(values.runs);

/** The zoom at which a picture fits the canvas of a 1280 x 800 window. */
const FIT_WIDTH = 834;

async function main(): Promise<void> {
  const vips = await loadVips();
  const { engine, desk, arena } = await startEngine(new URL('./', import.meta.url));
  const files = readdirSync(values.frames).filter((name) => /\.(jpe?g|tiff?|png)$/.test(name));
  const bytes = files.map((name) => new Uint8Array(readFileSync(join(values.frames, name))));
  const frames: Frame[] = [];
  const since = performance.now();
  for (const [i, name] of files.entries()) {
    frames.push(
      await loadFrameBytes(vips, desk, bytes[i], {
        name,
        expect: undefined,
        onProgress: () => undefined,
        isCancelled: () => false,
      }),
    );
  }
  const openMs = performance.now() - since;
  const frameSlots = desk.table.slab.usedSlots;
  const decodeMs = await medianMs(Math.min(3, runs), async () => {
    for (const file of bytes) await sharp(file).raw({ depth: 'ushort' }).toBuffer();
  });
  const size = { width: frames[0].width, height: frames[0].height };
  const megapixels = (size.width * size.height) / 1e6;
  const { scene, strokes } = busyScene(frames);
  for (const { stroke, points } of strokes) engine.addStrokePoints(stroke.id, points);
  engine.setScene(scene);

  const layers = frames.map((_, i) =>
    sharp(Buffer.alloc(size.width * size.height * 4, i * 40 + 20), { raw: { ...size, channels: 4 } }),
  );
  const rgba = await Promise.all(
    layers.map((layer) => layer.toColourspace('rgb16').png({ compressionLevel: 0 }).toBuffer()),
  );
  sharp.concurrency(cpus().length);
  sharp.cache(false);
  const compositeMs = await cpuMs(() =>
    sharp(rgba[0])
      .composite(rgba.slice(1).map((input) => ({ input })))
      .toColourspace('rgb16')
      .raw({ depth: 'ushort' })
      .toBuffer(),
  );
  const renderMs = await cpuMs(() => engine.render(size, () => undefined));
  const cachedMs = await cpuMs(() => engine.render(size, () => undefined));

  const level = levelForScale(FIT_WIDTH / size.width, levelCount(size));
  const tiles = allTiles(size, level);
  const draw = (spots = tiles) => engine.draw(Lane.View, { kind: 'picture' }, level, spots, () => undefined);
  await draw();
  const layerId = scene.stack[1].id;
  const sliderMs = await medianMs(runs * 3, async (run) => {
    engine.setScene(applyEdit(scene, setTone({ layerId, tone: { narrowing: 0.3 + run / 10 } })));
    await draw();
  });
  engine.setScene(scene);
  const live = strokeAcross('bench-live', size, 0.4, 300 * (size.width / 2400));
  const brushMs: number[] = [];
  for (let run = 0; run < runs; run++) {
    const stroke = { ...live.stroke, id: StrokeId.parse(`bench-live-${run}`) };
    engine.setScene(applyEdit(scene, addStroke({ layerId, stroke })));
    for (let at = 0; at < live.points.length; at += 4) {
      const began = performance.now();
      engine.addStrokePoints(stroke.id, live.points.slice(at, at + 4));
      const reach = stroke.size / 2 + size.width / 60;
      const near = tiles.filter(({ tx, ty }) => isNear(tx, ty, live.points[at], live.points[at + 1], reach, level));
      await draw(near);
      brushMs.push(performance.now() - began);
    }
  }
  brushMs.sort((a, b) => a - b);

  const results: Measure[] = [
    {
      measure: 'full render with tone and painted masks / sharp compositing without masks (CPU)',
      value: renderMs / compositeMs,
      unit: 'ratio',
      bar: 0.6,
    },
    { measure: 'the same with masks cached', value: cachedMs / compositeMs, unit: 'ratio', bar: 0.3 },
    {
      measure: 'opening the frames with pyramids / sharp merely decoding them',
      value: openMs / decodeMs,
      unit: 'ratio',
      bar: 1.5,
    },
    {
      measure: 'memory of the frames / their 16-bit pixels',
      value: (frameSlots * 32896) / (size.width * size.height * 6 * frames.length),
      unit: 'ratio',
      bar: 1.5,
    },
    { measure: 'full render (CPU)', value: renderMs, unit: 'ms' },
    { measure: 'mask slider to full picture at fit, median', value: sliderMs, unit: 'ms', bar: 60 },
    {
      measure: 'brush at fit, pointer event to pixels, median',
      value: brushMs[Math.floor(brushMs.length / 2)],
      unit: 'ms',
      bar: 12,
    },
    {
      measure: 'brush at fit, pointer event to pixels, 95th percentile',
      value: brushMs[Math.floor(brushMs.length * 0.95)],
      unit: 'ms',
      bar: 35,
    },
    { measure: 'opening the frames', value: openMs, unit: 'ms' },
  ];
  results.push(
    ...(await compareCopies(
      desk,
      arena,
      size,
      frames.map(({ file }) => frameKey(file.sha256)),
    )),
  );
  results.push(...(await compareKernels(desk.kernels, arena)));
  console.log(`${frames.length} frames of ${megapixels.toFixed(1)} megapixels, ${cpus().length} cores\n`);
  console.log('| measure | value | must reach | |\n|---|---|---|---|');
  for (const result of results) console.log(lineOf(result));
  const plain = results.map((result) => ({ ...result, bar: result.bar ?? null, holds: holds(result) ?? null }));
  if (values.json) writeFileSync(values.json, `${JSON.stringify(plain, null, 2)}\n`);
  engine.close();
  vips.shutdown();
}

function lineOf(result: Measure): string {
  const { measure, value, unit, bar, atLeast } = result;
  const verdict = { true: 'holds', false: 'misses', undefined: '' }[String(holds(result))];
  const wanted = bar === undefined ? '' : `${atLeast ? '≥' : '≤'} ${bar}`;
  return `| ${measure} | ${value.toFixed(value < 10 ? 2 : 0)} ${unit === 'ratio' ? '' : unit} | ${wanted} | ${verdict} |`;
}

function isNear(tx: number, ty: number, x: number, y: number, reach: number, level: number): boolean {
  const side = 128 * 2 ** level;
  return x + reach > tx * side && x - reach < (tx + 1) * side && y + reach > ty * side && y - reach < (ty + 1) * side;
}

await main();
