import { GroupId, ItemId, LayerId } from '#core/ids.ts';
import type { ModeName } from '#core/modes/list.ts';
import { plainPart } from '#core/parts/partBase.ts';
import { allTiles, type TileSpot } from '#core/raster/region.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { groupWithBelow, setItem } from '#core/scene/edits/items.ts';
import { addPart } from '#core/scene/edits/masks.ts';
import {
  addAdjustment,
  addLayer,
  duplicateItem,
  removeItem,
  setAdjustment,
  setIsolated,
} from '#core/scene/edits/stack.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Content } from '#core/scene/item.ts';
import type { Scene } from '#core/scene/scene.ts';
import { activeLeaves } from '#core/scene/tree.ts';
import { Lane } from '../engine/lanes.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { fitOf } from './canvas.ts';
import { exportTimes } from './exportTimes.ts';
import { measureBrush } from './interactive.ts';
import { cpuMs, type Measure, quantile } from './measure.ts';
import { medianWait } from './medianWait.ts';
import { busyScene } from './scenes.ts';

const ADJUSTMENTS = [
  ['ends', { darks: { stops: 0.8, reach: -3 }, brights: { stops: -0.5, reach: -2.5 } }],
  ['localContrast', { fine: { amount: 0.3, radius: 12 }, broad: { amount: 0.2, radius: 120 } }],
  ['haze', { amount: 0.2, veil: { red: 0.8, green: 0.8, blue: 0.85 } }],
  ['contrast', { slope: 1.1, middle: -2.5, of: 'base' }],
] as const;
const LAID: readonly [content: Content | 'run', mode: ModeName, opacity: number][] = [
  [{ below: true }, 'soft-light', 0.3],
  [{ colour: [0.7, 0.4, 0.2] }, 'color', 0.4],
  [{ below: true }, 'screen', 0.2],
  ['run', 'multiply', 0.3],
  [{ below: true }, 'luminosity', 0.5],
  [{ colour: [0.2, 0.3, 0.6] }, 'overlay', 0.2],
  ['run', 'hard-light', 0.2],
  [{ below: true }, 'normal', 0.5],
];

/** As many cards as are asked for, up to forty: six frames, four adjustments that look around themselves, the picture so far and colours in modes,
 * all of them masked, and two groups. */
export function manyCards(
  frames: readonly Frame[],
  count: number,
): { scene: Scene; strokes: ReturnType<typeof busyScene>['strokes'] } {
  const { scene: busy, strokes } = busyScene(frames);
  const { width, height } = frames[0];
  const [first, second] = activeLeaves(busy).map(({ item }) => item);
  let scene = [first, second].reduce(
    (now, { id }, i) => applyEdit(now, duplicateItem({ of: id, id: ItemId.parse(`again-${i}`), withMask: true })),
    busy,
  );
  const top = () => activeLeaves(scene).at(-1)?.item.id ?? null;
  const gradient = {
    ...{ kind: 'gradient' as const, ...plainPart('gradient', 'fall'), join: 'intersect' as const },
    ...{ start: { x: 0, y: height / 4 }, end: { x: 0, y: height }, profile: 'smooth' as const, middle: 0.5 },
  };
  const masked = (id: ItemId) => {
    scene = applyEdit(scene, addPart({ owner: id, part: gradient }));
  };
  // The second twenty are as the first are, above them.
  const twice = <T>(list: readonly T[]): T[] => (count > 20 ? [...list, ...list] : [...list]);
  for (const [i, [kind, change]] of twice(ADJUSTMENTS).entries()) {
    const id = ItemId.parse(`adjust-${i}`);
    scene = applyEdit(scene, addAdjustment({ id, kind, above: top() }));
    scene = applyEdit(scene, setAdjustment({ id, change: structuredClone(change) as never }));
    masked(id);
  }
  const run = { start: { x: 0, y: 0 }, end: { x: width, y: 0 }, from: [0.2, 0.2, 0.3], to: [0.9, 0.8, 0.7] } as const;
  for (const [i, [content, mode, opacity]] of twice(LAID).entries()) {
    const id = LayerId.parse(`laid-${i}`);
    const laid = content === 'run' ? { gradient: structuredClone(run) as never } : content;
    scene = applyEdit(scene, addLayer({ id, content: laid, above: top() }));
    masked(id);
    scene = applyEdit(scene, setItem({ id, change: { mode, opacity } }));
  }
  for (const [i, id] of ['laid-1', 'laid-6'].entries()) {
    const group = GroupId.parse(`group-${i}`);
    scene = applyEdit(scene, groupWithBelow({ layerId: ItemId.parse(id), id: group }));
    if (i === 1) scene = applyEdit(scene, setIsolated({ id: group, isolated: true }));
  }
  const more = activeLeaves(scene).length;
  for (let i = more; count > 20 && i < count; i++) {
    const { item } = activeLeaves(scene)[i % more];
    scene = applyEdit(scene, duplicateItem({ of: item.id, id: ItemId.parse(`more-${i}`), withMask: true }));
  }
  for (const { item } of activeLeaves(scene).slice(count)) scene = applyEdit(scene, removeItem({ id: item.id }));
  return { scene, strokes };
}

/** What a hand waits for with eighteen cards and two groups: sliders of the topmost and of the lowest card, a card shown and hidden. */
export async function measureStacking(
  { engine }: NodeEngine,
  frames: readonly Frame[],
  runs: number,
): Promise<Measure[]> {
  const { width, height } = frames[0];
  const size = { width, height };
  const { scene, strokes } = manyCards(frames, 20);
  for (const { stroke, points } of strokes) engine.addStrokePoints(stroke.id, points);
  const fit = fitOf(size);
  const whole = allTiles(size, fit);
  const draw = () => engine.draw(Lane.View, { show: { what: 'result' } }, fit, whole, () => undefined);
  const ids = activeLeaves(scene).map(({ item }) => item.id);
  const measures: Measure[] = [];
  const slide = async (measure: string, bar: number, id: ItemId, next: (run: number) => Scene) => {
    engine.setScene(scene, id);
    await draw();
    const step = async (run: number) => {
      engine.setScene(next(run), id);
      await draw();
    };
    measures.push(await medianWait(measure, bar, runs, step));
  };
  const opacity = (id: ItemId) => (run: number) =>
    applyEdit(scene, setItem({ id, change: { opacity: 0.3 + (run % 50) / 100 } }));
  const what = `of ${ids.length} cards and two groups, to the fitted picture, median`;
  await slide(`slider of the topmost ${what}`, 60, ids[ids.length - 1], opacity(ids[ids.length - 1]));
  await slide(`slider of the lowest ${what}`, 150, ids[0], opacity(ids[0]));
  const middle = ids[Math.floor(ids.length / 2)];
  await slide(`showing or hiding one ${what}`, 60, middle, (run) =>
    applyEdit(scene, setItem({ id: middle, change: { visible: run % 2 === 0 } })),
  );
  const painted = { 'the topmost of all cards': [ids[ids.length - 1]], 'the lowest of all cards': [ids[0]] };
  for (const [where, owners] of Object.entries({ ...painted, 'every card in turn': ids })) {
    const [id] = owners;
    const hand = {
      engine,
      scene,
      layerId: LayerId.parse(id),
      runs: owners.length > 1 ? 1 : runs,
      name: `stacked-${where}`,
    };
    engine.setScene(scene, id);
    await draw();
    const near = (level: number, spots: readonly TileSpot[]) =>
      engine.draw(Lane.View, { show: { what: 'result' } }, level, spots, () => undefined);
    const bars = { middle: 16, most: 45 };
    measures.push(...(await measureBrush({ ...hand, draw: near }, fit, bars, `, on ${where}`, owners)));
  }
  return measures;
}

/** A full export of all cards against one of five plain layers. */
export async function measureStackExport(
  node: NodeEngine,
  frames: readonly Frame[],
  rounds: number,
): Promise<Measure[]> {
  const plain = busyScene(frames);
  const many = manyCards(frames, 20);
  for (const { strokes } of [plain, many])
    for (const { stroke, points } of strokes)
      if (!node.engine.knowsStroke(stroke.id)) node.engine.addStrokePoints(stroke.id, points);
  const scenes = { plain: plain.scene, many: many.scene };
  const { computing, exporting } = await exportTimes(node, scenes, rounds);
  return [
    {
      measure: 'full export to a 16-bit TIFF of all cards and two groups / of plain layers (CPU)',
      value: exporting.many / exporting.plain,
      unit: 'ratio',
      bar: 3,
    },
    {
      measure: 'the picture alone, not written: of all cards / of plain layers (CPU)',
      value: computing.many / computing.plain,
      unit: 'ratio',
    },
    { measure: 'the picture alone of plain layers (CPU)', value: computing.plain, unit: 'ms' },
  ];
}

/** How a full export grows with the number of cards, as a Markdown table. */
export async function measureCardGrowth({ engine, loader }: NodeEngine, frames: readonly Frame[]): Promise<string> {
  const size = { width: frames[0].width, height: frames[0].height };
  const counts = [5, 10, 20, 40];
  const times: number[] = [];
  for (const count of counts) {
    const { scene, strokes } = manyCards(frames, count);
    for (const { stroke, points } of strokes)
      if (!engine.knowsStroke(stroke.id)) engine.addStrokePoints(stroke.id, points);
    const rounds: number[] = [];
    for (let round = 0; round < 3; round++) {
      loader.table.dropDerived();
      engine.setScene(scene);
      rounds.push(
        await cpuMs(async () => {
          const image = await engine.render({ what: 'result' }, size, { x: 0, y: 0, ...size }, 'srgb', () => undefined);
          if (image) engine.giveBack(image);
        }),
      );
    }
    times.push(quantile(rounds, 0.5));
  }
  return [
    '| cards | full export, CPU ms | for each card |',
    '|---|---|---|',
    ...counts.map((count, i) => `| ${count} | ${times[i].toFixed(0)} | ${(times[i] / count).toFixed(0)} |`),
  ].join('\n');
}
