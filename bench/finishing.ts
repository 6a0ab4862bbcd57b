import { deliveredFrom, tableFrom } from '#core/finish/turning.ts';
import { ItemId, LayerId, SpotId } from '#core/ids.ts';
import { plainPart } from '#core/parts/partBase.ts';
import { allTiles, type TileSpot } from '#core/raster/region.ts';
import { coarsestFrom, levelCount, type Size } from '#core/raster/size.ts';
import type { RenderRequest } from '#core/render/plan/request.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { addPart } from '#core/scene/edits/masks.ts';
import { addSpots } from '#core/scene/edits/retouching.ts';
import { addAdjustment, setAdjustment } from '#core/scene/edits/stack.ts';
import { setGeometry } from '#core/scene/edits/turning.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { RetouchSpot } from '#core/scene/retouch.ts';
import type { Scene } from '#core/scene/scene.ts';
import { Lane } from '../engine/lanes.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { fitOf } from './canvas.ts';
import { exportTimes } from './exportTimes.ts';
import { measureBrush } from './interactive.ts';
import type { Measure } from './measure.ts';
import { medianWait, waitsInTurn } from './medianWait.ts';
import { busyScene } from './scenes.ts';

/** Pictures until threads have compiled in earnest what they run, and use memory again. */
const UNTIL_COMPILED = 60;

/** How often the sliders that are measured with and without spots are taken in turn, and for how many steps each time. */
const [BLOCKS, BLOCK] = [6, 7];

const WITHOUT = [0, 'of eight steps'] as const;
const ABOVE_SPOTS = [200, 'of eight steps above 200 spots'] as const;

/** Where a slider stands at a run, 0..1: never twice at one place, whose tiles would be there already. */
const GOLDEN = 0.618034;
const standing = (run: number) => (run * GOLDEN) % 1;

/** Eight steps, from the blend upwards: what is moved of each, and between what. */
const STEPS = [
  ['levels', 'power', (t: number) => ({ all: { black: 0.01, white: 0.97, power: 0.9 + 0.2 * t } })],
  ['ends', 'darks', (t: number) => ({ darks: { stops: 0.4 + 0.4 * t, reach: -3 } })],
  ['colour', 'saturation', (t: number) => ({ saturation: 0.1 + 0.2 * t })],
  ['localContrast', 'broad', (t: number) => ({ broad: { amount: 0.1 + 0.3 * t, radius: 300 } })],
  ['softGlow', 'strength', (t: number) => ({ strength: 0.2 + 0.3 * t, radius: 200 })],
  ['highPass', 'strength', (t: number) => ({ strength: 0.2 + 0.3 * t, radius: 4 })],
  ['edges', 'stops', (t: number) => ({ stops: -0.4 - 0.4 * t })],
  ['dodgeBurn', 'stops', (t: number) => ({ stops: 1.5 + t })],
] as const;

/** Eight masked steps above a scene.
 * @param size - Of its picture, in pixels. */
export function withSteps(bare: Scene, { height }: Pick<Size, 'height'>): Scene {
  const gradient = {
    ...{ kind: 'gradient' as const, ...plainPart('gradient', 'fall'), join: 'intersect' as const },
    ...{ start: { x: 0, y: height / 4 }, end: { x: 0, y: height }, profile: 'smooth' as const, middle: 0.5 },
  };
  let scene = bare;
  for (const [kind, , at] of STEPS) {
    const id = ItemId.parse(kind);
    const above = scene.finish.at(-1)?.id ?? ({ blend: true } as const);
    scene = applyEdit(scene, addAdjustment({ id, kind, above }));
    scene = applyEdit(scene, setAdjustment({ id, change: at(0) as never }));
    scene = applyEdit(
      scene,
      addPart({
        owner: id,
        of: kind === 'dodgeBurn' ? 'guard' : 'mask',
        part: kind === 'dodgeBurn' ? { ...gradient, join: 'add' } : gradient,
      }),
    );
  }
  return scene;
}

/** The busy scene with eight masked steps above it, and spots, if they are asked for. */
function finishedScene(frames: readonly Frame[], spots = 0) {
  const { scene: busy, strokes } = busyScene(frames);
  const { width, height } = frames[0];
  const scene = withSteps(busy, frames[0]);
  const many = Array.from({ length: spots }, (_, i): RetouchSpot => {
    const at = { x: ((i * 7919) % 1000) * 0.001 * width, y: ((i * 104_729) % 1000) * 0.001 * height };
    return {
      ...{
        id: SpotId.parse(`spot-${i}`),
        path: i % 5 === 0 ? [at, { x: at.x + 120, y: at.y + 40 }] : [at],
        radius: 12 + (i % 30),
      },
      ...{
        soft: 0.3,
        how: i % 3 === 0 ? 'clone' : 'heal',
        by: { x: 90, y: 60 },
        flip: 'none',
        frame: null,
        stops: 0,
        opacity: 1,
        visible: true,
      },
    };
  });
  return { scene: spots > 0 ? applyEdit(scene, addSpots({ spots: many })) : scene, strokes };
}

/** What a hand waits for with eight steps above the blend: a slider of each, the brush of dodge and burn, turning; then with 200 spots below. */
export async function measureFinishing(
  { engine }: NodeEngine,
  frames: readonly Frame[],
  runs: number,
): Promise<Measure[]> {
  const { width, height } = frames[0];
  const size = { width, height };
  const measures: Measure[] = [];
  const drawOf = (show: RenderRequest, whole: typeof size, level = fitOf(whole)) => {
    const tiles = allTiles(whole, level);
    return () => engine.draw(Lane.View, { show }, level, tiles, () => undefined);
  };
  const waitOf = (
    scene: Scene,
    selected: ItemId | undefined,
    next: (run: number) => Scene,
    draw: (scene: Scene) => Promise<void>,
  ) => {
    const show = (each: Scene) => {
      engine.setScene(each, selected);
      return draw(each);
    };
    return { begin: () => show(scene), step: (run: number) => show(next(run)) };
  };
  const wait = async (measure: string, bar: number | undefined, ...what: Parameters<typeof waitOf>) => {
    const { begin, step } = waitOf(...what);
    await begin();
    measures.push(await medianWait(measure, bar, runs, step));
  };
  const whole = drawOf({ what: 'result' }, size);
  const opened = (spots: number) => {
    const { scene, strokes } = finishedScene(frames, spots);
    for (const { stroke, points } of strokes)
      if (!engine.knowsStroke(stroke.id)) engine.addStrokePoints(stroke.id, points);
    return scene;
  };
  const slideIn =
    (scene: Scene) =>
    ([kind, , at]: (typeof STEPS)[number]) =>
    (run: number) =>
      applyEdit(scene, setAdjustment({ id: ItemId.parse(kind), change: at(standing(run)) as never }));
  const begin = async (step: (typeof STEPS)[number]) => {
    const [kind, moved] = step;
    const [id, scene] = [ItemId.parse(kind), opened(0)];
    const slide = slideIn(scene)(step);
    const measure = `slider: ${kind}, ${moved}, of eight steps, the first ${runs} pictures of a process, median`;
    await wait(measure, undefined, scene, id, slide, whole);
    for (let run = 0; run < UNTIL_COMPILED; run++) {
      // Between the steps that are timed, so that none of their tiles is there.
      engine.setScene(slide(run + 0.5), id);
      await whole();
    }
  };
  await begin(STEPS[0]);
  const bothEnds = [STEPS[0], STEPS[7]] as const;
  for (const each of bothEnds) {
    const [kind, moved] = each;
    const things = [WITHOUT, ABOVE_SPOTS].map(([spots, what]) => {
      const scene = opened(spots);
      const slide = slideIn(scene)(each);
      // At other places above spots than without: tiles that no spot touches are the same.
      const moving = waitOf(scene, ItemId.parse(kind), (run) => slide(run + spots), whole);
      return { measure: `slider: ${kind}, ${moved}, ${what}, median`, bar: 60, ...moving };
    });
    measures.push(...(await waitsInTurn(things, BLOCKS, BLOCK)));
  }
  for (const [spots, what] of [WITHOUT, ABOVE_SPOTS]) {
    const scene = opened(spots);
    const slide = slideIn(scene);
    for (const each of spots === 0 ? STEPS.slice(1, 7) : []) {
      const [kind, moved] = each;
      const isWide = kind === 'softGlow' || kind === 'localContrast';
      const bar = isWide ? 120 : 60;
      await wait(`slider: ${kind}, ${moved}, ${what}, median`, bar, scene, ItemId.parse(kind), slide(each), whole);
    }
    const id = ItemId.parse('dodgeBurn');
    if (spots === 0) {
      const [kind, moved] = STEPS[0];
      // What the canvas shows while the hand moves, see `CanvasDriver`.
      const hasty = drawOf({ what: 'result' }, size, fitOf(size) + 1);
      await wait(
        `slider: ${kind}, ${moved}, ${what}, while it moves: a level coarser, median`,
        60,
        scene,
        ItemId.parse(kind),
        slide(STEPS[0]),
        hasty,
      );
    }
    engine.setScene(scene, id);
    await whole();
    const near = (level: number, tiles: readonly TileSpot[]) =>
      engine.draw(Lane.View, { show: { what: 'result' } }, level, tiles, () => undefined);
    const hand = { engine, scene, layerId: LayerId.parse(id), runs, name: `finish-${spots}`, draw: near };
    measures.push(...(await measureBrush(hand, fitOf(size), { middle: 12, most: 35 }, `, dodging, ${what}`)));
  }
  const { scene } = finishedScene(frames);
  const turnedBy = (run: number) => applyEdit(scene, setGeometry({ change: { straighten: 2 + (run % 40) / 10 } }));
  const table = tableFrom(scene.geometry, size).size;
  const drawTable = (level: number) => drawOf({ what: 'result', turned: 'table' }, table, level);
  const coarse = Math.min(coarsestFrom(fitOf(table), levelCount(table)), fitOf(table) + 1);
  await wait(
    'straightening, dragged: the coarse picture, median',
    33,
    turnedBy(0),
    undefined,
    turnedBy,
    drawTable(coarse),
  );
  await wait(
    'straightening, dragged: the fitted picture, median',
    120,
    turnedBy(0),
    undefined,
    turnedBy,
    drawTable(fitOf(table)),
  );
  const delivered = (of: Scene) => {
    const { size: cut } = deliveredFrom(of.geometry, size);
    return drawOf({ what: 'result', turned: 'finished' }, cut)();
  };
  await wait(
    'a slider of the topmost step, on the turned picture, median',
    undefined,
    turnedBy(0),
    ItemId.parse('dodgeBurn'),
    (run) =>
      applyEdit(turnedBy(0), setAdjustment({ id: ItemId.parse('dodgeBurn'), change: { stops: 1 + standing(run) } })),
    delivered,
  );
  return measures;
}

/** A full export with steps, spots, turned and cut, against one of the blend alone. */
export async function measureFinishedExport(
  node: NodeEngine,
  frames: readonly Frame[],
  rounds: number,
): Promise<Measure[]> {
  const plain = busyScene(frames);
  const done = finishedScene(frames, 200);
  for (const { stroke, points } of plain.strokes)
    if (!node.engine.knowsStroke(stroke.id)) node.engine.addStrokePoints(stroke.id, points);
  const finished = applyEdit(done.scene, setGeometry({ change: { straighten: 1.5 } }));
  const { computing, exporting } = await exportTimes(node, { plain: plain.scene, finished }, rounds);
  return [
    {
      measure: 'full export to a 16-bit TIFF, finished, turned and cut / of the blend alone (CPU)',
      value: exporting.finished / exporting.plain,
      unit: 'ratio',
      bar: 2.5,
    },
    { measure: 'the same of the blend alone (CPU)', value: exporting.plain, unit: 'ms' },
    {
      measure: 'the picture alone, not written: finished / the blend (CPU)',
      value: computing.finished / computing.plain,
      unit: 'ratio',
    },
    { measure: 'the picture of the blend alone (CPU)', value: computing.plain, unit: 'ms' },
  ];
}
