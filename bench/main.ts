import { writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { parseArgs } from 'node:util';
import type { Size } from '#core/raster/size.ts';
import { SLOT_BYTES } from '#core/raster/tileSlab.ts';
import { frameKey } from '#core/render/nodes/frameNode.ts';
import { dropFrame } from '#core/render/tiles/loadFrame.ts';
import type { Frame } from '#core/scene/frame.ts';
import { loadKernels } from '../engine/node/loadKernels.ts';
import { type NodeEngine, startEngine } from '../engine/node/startEngine.ts';
import { measureAlign, measureLarge, measureNights } from './align/main.ts';
import { measureChecking } from './checking.ts';
import { measureDelivering } from './delivering.ts';
import { measureDevelopedExport, measureDeveloping } from './developing.ts';
import { measureExport } from './exporting.ts';
import { measureFinishedExport, measureFinishing } from './finishing.ts';
import { layFrames, openFrames, SIZES, tiffFiles } from './frames.ts';
import { measureGrowth } from './growth.ts';
import { measureInteractive } from './interactive.ts';
import { compareCopies, compareKernels } from './kernels.ts';
import { measureLayers } from './layering.ts';
import { measureMachine } from './machine.ts';
import { holds, type Measure, tableOf } from './measure.ts';
import { measureOpening } from './opening.ts';
import { writeSection } from './report.ts';
import { measureCardGrowth, measureStackExport, measureStacking } from './stacking.ts';
import { measureTables } from './tables.ts';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    quick: { type: 'boolean', default: false },
    growth: { type: 'boolean', default: false },
    frames: { type: 'string' },
    json: { type: 'string' },
  },
});

/** Frames in memory for as long as some measures need them. */
async function withFrames(
  node: NodeEngine,
  size: Size,
  count: number,
  use: (frames: Frame[]) => Promise<Measure[]>,
  grainy = false,
) {
  const before = node.loader.table.slab.usedSlots;
  const frames = await layFrames(node.loader, size, count, grainy);
  const bytes = (node.loader.table.slab.usedSlots - before) * SLOT_BYTES;
  const measures = await use(frames);
  for (const { file } of frames) dropFrame(node.loader.table, frameKey(file.sha256), size);
  node.loader.table.dropDerived();
  return { measures, bytes };
}

/** Frames that exports are measured on: of 24 megapixels and as noisy as sensors are, or those of a folder (`npm run demo:big` makes sets). */
async function withExported(node: NodeEngine, use: (frames: Frame[]) => Promise<Measure[]>) {
  if (!values.frames) return withFrames(node, SIZES[24], 5, use, true);
  const frames = await openFrames(node.codec, values.frames);
  return { measures: await use(frames), bytes: 0 };
}

async function measureAll(node: NodeEngine): Promise<Measure[]> {
  const { engine, codec, loader, arena } = node;
  const results: Measure[] = [];
  // The files are written while pictures are laid out and the engine warms up.
  const deflated = tiffFiles(SIZES[24], 'deflate');
  const exporting = await withFrames(node, SIZES[24], 5, (frames) =>
    measureExport(engine, loader, frames, values.quick ? 3 : 7, deflated),
  );
  const developed = await withExported(node, (frames) => measureDevelopedExport(node, frames, values.quick ? 1 : 3));
  results.push(...exporting.measures, ...developed.measures);
  const rounds = values.quick ? 1 : 3;
  results.push(...(await measureOpening(codec, '5 x 24 MP TIFF, deflated', await deflated, rounds, 1.5)));
  // Without compression a general library copies the file and is done: no bar, but worth knowing.
  if (!values.quick)
    results.push(
      ...(await measureOpening(codec, '5 x 24 MP TIFF, uncompressed', await tiffFiles(SIZES[24], 'none'), rounds)),
    );
  const big = await withFrames(node, SIZES[45], 5, async (frames) => [
    ...(await measureInteractive(engine, frames, values.quick ? 3 : 7, !values.quick)),
    ...(await measureDeveloping(engine, frames, values.quick ? 5 : 21)),
    ...(await compareCopies(
      loader,
      arena,
      SIZES[45],
      frames.map(({ file }) => frameKey(file.sha256)),
      values.quick ? 3 : 7,
    )),
    ...(await measureTables(loader, arena, frames, values.quick ? 3 : 9)),
  ]);
  const pixels = SIZES[45].width * SIZES[45].height * 6 * 5;
  results.push(...big.measures, {
    measure: 'memory of 5 x 45 MP loaded / their 16-bit pixels',
    value: big.bytes / pixels,
    unit: 'ratio',
    bar: 1.5,
  });
  const kernels = loadKernels(new URL('./kernels.wasm', import.meta.url));
  results.push(...(await compareKernels(kernels, values.quick ? 5 : 40)));
  return results;
}

async function main(): Promise<void> {
  console.log(`${tableOf(await measureMachine())}\n`);
  const node = await startEngine(new URL('./', import.meta.url));
  try {
    if (positionals[0] === 'align' && positionals[1] === 'nights') {
      const [from, to] = positionals.slice(2).map(Number);
      console.log(await measureNights(node, from ?? 0, to ?? 60));
      return;
    }
    if (positionals[0] === 'align') {
      const table = positionals[1] === 'large' ? await measureLarge(node) : await measureAlign(node, values.quick);
      console.log(table);
      if (!values.quick && positionals[1] !== 'large') writeSection('align', table);
      return;
    }
    if (positionals[0] === 'hand') {
      const { measures } = await withFrames(node, SIZES[45], 5, (frames) =>
        measureInteractive(node.engine, frames, 4, true),
      );
      console.log(tableOf(measures));
      return;
    }
    if (positionals[0] === 'develop') {
      const rounds = values.quick ? 3 : 7;
      const hand = await withFrames(node, SIZES[45], 5, (frames) => measureDeveloping(node.engine, frames, 3 * rounds));
      console.log(tableOf(hand.measures));
      const { measures } = await withExported(node, (frames) => measureDevelopedExport(node, frames, rounds));
      console.log(tableOf(measures));
      return;
    }
    if (positionals[0] === 'stack' && values.growth) {
      await withFrames(node, SIZES[6], 5, async (frames) => {
        console.log(await measureCardGrowth(node, frames));
        return [];
      });
      return;
    }
    if (positionals[0] === 'stack') {
      const rounds = values.quick ? 3 : 7;
      const hand = await withFrames(node, SIZES[45], 5, (frames) => measureStacking(node, frames, 3 * rounds));
      console.log(tableOf(hand.measures));
      const { measures } = await withFrames(node, SIZES[24], 5, (frames) =>
        measureStackExport(node, frames, values.quick ? 1 : 3),
      );
      console.log(tableOf(measures));
      return;
    }
    if (positionals[0] === 'finish') {
      const rounds = values.quick ? 3 : 7;
      if (positionals[1] !== 'export') {
        const hand = await withFrames(node, SIZES[45], 5, (frames) => measureFinishing(node, frames, 3 * rounds));
        console.log(tableOf(hand.measures));
      }
      const { measures } = await withExported(node, (frames) =>
        measureFinishedExport(node, frames, values.quick ? 1 : 3),
      );
      console.log(tableOf(measures));
      return;
    }
    if (positionals[0] === 'checks') {
      for (const megapixels of [45, 24] as const) {
        const { measures } = await withFrames(node, SIZES[megapixels], 5, (frames) =>
          measureChecking(node, frames, values.quick ? 1 : 3),
        );
        console.log(`5 x ${megapixels} MP\n\n${tableOf(measures)}\n`);
      }
      return;
    }
    if (positionals[0] === 'deliver') {
      const rounds = values.quick ? 1 : 3;
      const plain = await withFrames(node, SIZES[45], 5, async (frames) => [
        ...(positionals[1] === 'layers' ? [] : await measureDelivering(node, frames, rounds)),
        ...(await measureLayers(node, frames, rounds, 'clean')),
      ]);
      const grainy = await withFrames(
        node,
        SIZES[45],
        5,
        (frames) => measureLayers(node, frames, rounds, 'grainy'),
        true,
      );
      console.log(tableOf([...plain.measures, ...grainy.measures]));
      return;
    }
    if (positionals[0] === 'developed-export') {
      const { measures } = await withExported(node, (frames) =>
        measureDevelopedExport(node, frames, values.quick ? 3 : 7),
      );
      console.log(tableOf(measures));
      return;
    }
    if (positionals[0] === 'export') {
      const { measures } = await withFrames(node, SIZES[24], 5, (frames) =>
        measureExport(node.engine, node.loader, frames, 7, Promise.resolve()),
      );
      console.log(tableOf(measures));
      return;
    }
    if (positionals[0] === 'opening') {
      const files = await tiffFiles(SIZES[24], 'deflate');
      console.log(tableOf(await measureOpening(node.codec, '5 x 24 MP TIFF, deflated', files, 3, 1.5)));
      return;
    }
    if (values.growth) {
      const table = await measureGrowth(node, (size, count, use) => withFrames(node, size, count, use));
      console.log(table);
      writeSection('growth', table);
      return;
    }
    const results = await measureAll(node);
    const table = `${cpus().length} cores, Node ${process.versions.node}\n\n${tableOf(results)}`;
    console.log(table);
    const plain = results.map(({ measure, value, unit, ...result }) => ({
      measure,
      value,
      unit,
      bar: result.bar ?? null,
      slowdown: result.pace?.slowdown ?? null,
      holds: holds({ measure, value, unit, ...result }) ?? null,
    }));
    if (values.json) writeFileSync(values.json, `${JSON.stringify(plain, null, 2)}\n`);
    if (!values.quick) writeSection('node', table);
  } finally {
    node.close();
  }
}

await main();
