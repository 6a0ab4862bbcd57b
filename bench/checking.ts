import { jobsOf } from '#core/checks/jobs.ts';
import type { Size } from '#core/raster/size.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { addStroke } from '#core/scene/edits/painting.ts';
import type { Frame } from '#core/scene/frame.ts';
import { layersOf } from '#core/scene/tree.ts';
import { Lane } from '../engine/lanes.ts';
import type { NodeEngine } from '../engine/node/startEngine.ts';
import { fitOf } from './canvas.ts';
import { measureBrush } from './interactive.ts';
import type { Measure } from './measure.ts';
import { medianWait } from './medianWait.ts';
import { openBusyScene } from './openBusyScene.ts';
import { busyScene, strokeAcross } from './scenes.ts';

/** Wanted: first findings, all of them, and what a stroke changed, in milliseconds; and a brush beside checks against one without. */
const BARS = { first: 2000, whole: 12_000, stroke: 500, brush: 1.1 } as const;

/** Runs of the loop of fixed work beside each of a few long measurements. */
const TICKS = 12;

/** How long one waits for the checks of a scene of many masks. */
export async function measureChecking(
  { engine, loader }: NodeEngine,
  frames: readonly Frame[],
  rounds: number,
): Promise<Measure[]> {
  const { scene, size } = openBusyScene(engine, frames);
  const all = jobsOf(size).map((_, job) => ({ job }));
  const keys = new Map<number, string>();
  let first = 0;
  const check = async () => {
    const begun = performance.now();
    first = 0;
    await engine.check(all, {}, (checked) => {
      for (const { job, key } of checked) keys.set(job, key);
      first ||= performance.now() - begun;
    });
  };
  const firsts: number[] = [];
  const whole = await medianWait(
    'checks: all of them, first time, median',
    BARS.whole,
    rounds,
    async () => {
      loader.table.dropDerived();
      await check();
      firsts.push(first);
    },
    TICKS,
  );
  const again = await medianWait('checks: nothing has changed, median', undefined, rounds, () =>
    engine.check(
      all.map(({ job }) => ({ job, known: keys.get(job) })),
      {},
      () => undefined,
    ),
  );
  const layerId = layersOf(scene)[0].id;
  const touched = await medianWait(
    'checks: after a stroke, median',
    BARS.stroke,
    rounds,
    async (run) => {
      const made = strokeAcross(
        `checked-${size.width}-${run}`,
        { width: size.width / 12, height: size.height / 12 },
        2 + run,
        300,
      );
      engine.addStrokePoints(made.stroke.id, made.points);
      engine.setScene(applyEdit(scene, addStroke({ owner: layerId, stroke: made.stroke })));
      await engine.check(
        all.map(({ job }) => ({ job, known: keys.get(job) })),
        {},
        () => undefined,
      );
    },
    TICKS,
  );
  firsts.sort((a, b) => a - b);
  return [
    {
      measure: 'checks: first findings, median',
      value: firsts[firsts.length >> 1],
      unit: 'ms',
      bar: BARS.first,
      pace: whole.pace,
    },
    whole,
    again,
    touched,
    ...(await measureBesideBrush({ engine, loader } as NodeEngine, frames, size, rounds)),
  ];
}

/** The brush while checks are under way until it is put down, against the brush alone. */
async function measureBesideBrush(
  { engine }: NodeEngine,
  frames: readonly Frame[],
  size: Size,
  rounds: number,
): Promise<Measure[]> {
  const { scene } = busyScene(frames);
  const level = fitOf(size);
  const all = jobsOf(size).map((_, job) => ({ job }));
  const times: Record<'alone' | 'beside', number[]> = { alone: [], beside: [] };
  for (let run = 0; run < 2 * rounds; run++) {
    const which = run % 2 === 0 ? 'alone' : 'beside';
    const layerId = layersOf(scene)[0].id;
    engine.setScene(scene, layerId);
    // What the application does: checks begin when the hand rests, and are dropped when it begins.
    const checking = which === 'beside' ? engine.check(all, {}, () => undefined) : undefined;
    await new Promise((resolve) => setTimeout(resolve, 300));
    engine.advance(Lane.Checks);
    const draw = (at: number, tiles: Parameters<typeof engine.draw>[3]) =>
      engine.draw(Lane.View, { show: { what: 'result' } }, at, tiles, () => undefined);
    const hand = { engine, scene, layerId, runs: 2, name: `checks-${which}-${run}`, draw };
    const measures = await measureBrush(hand, level, { middle: 12, most: 35 }, '');
    times[which].push(measures[0].value);
    await checking;
  }
  const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1];
  return [
    {
      measure: 'brush, median: beside checks / without',
      value: median(times.beside) / median(times.alone),
      unit: 'ratio',
      bar: BARS.brush,
    },
  ];
}
