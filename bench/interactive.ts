import { type ItemId, type LayerId, StrokeId } from '#core/ids.ts';
import type { Source } from '#core/masks/source.ts';
import type { Stroke } from '#core/masks/stroke.ts';
import { newTonePart, type TonePart } from '#core/parts/tone.ts';
import { allTiles, type TileSpot, tilesIn } from '#core/raster/region.ts';
import { levelCount, levelForScale, type Size } from '#core/raster/size.ts';
import type { EditRecord } from '#core/scene/edit.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import { setPart } from '#core/scene/edits/masks.ts';
import { setTone, tonePartOf } from '#core/scene/edits/older.ts';
import { addStroke } from '#core/scene/edits/painting.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Layer } from '#core/scene/item.ts';
import { type Mask, maskOfParts } from '#core/scene/mask.ts';
import type { Scene } from '#core/scene/scene.ts';
import { findLayer, layersOf } from '#core/scene/tree.ts';
import type { Engine } from '../engine/engine.ts';
import { Lane } from '../engine/lanes.ts';
import { CANVAS, fitOf } from './canvas.ts';
import { interleaved, type Measure, quantile, wallMs } from './measure.ts';
import { Pace } from './pace.ts';
import { busyScene, strokeAcross, withEightParts } from './scenes.ts';

const STROKES = 1000;

/** What a hand waits for: brush, slider, pan, zoom, undo.
 * @param withRichMask - And the same with eight parts in the mask. */
export async function measureInteractive(
  engine: Engine,
  frames: readonly Frame[],
  runs: number,
  withRichMask = false,
): Promise<Measure[]> {
  const size = { width: frames[0].width, height: frames[0].height };
  const { scene, strokes } = busyScene(frames);
  for (const { stroke, points } of strokes) engine.addStrokePoints(stroke.id, points);
  const layerId = layersOf(scene)[Math.min(1, scene.stack.length - 1)].id;
  engine.setScene(scene, layerId);
  const fit = fitOf(size);
  const draw = (level: number, spots: readonly TileSpot[]) =>
    engine.draw(Lane.View, { show: { what: 'result' } }, level, spots, () => undefined);
  const whole = allTiles(size, fit);
  await draw(fit, whole);
  const show = (next: Scene) => engine.setScene(next, layerId);

  const plain = await measureHand({ engine, scene, layerId, draw, runs, name: 'bench-live' }, fit, (run) =>
    setTone({ layerId, tone: { narrowing: 0.3 + run / 10 } }),
  );
  const rich = withRichMask
    ? await measureRichMask({ engine, scene, layerId, draw, runs, name: 'bench-rich' }, fit)
    : [];
  show(scene);
  const moves = await measureMoves(size, runs, draw);
  const undo = await measureUndo(engine, scene, layerId, size, fit, draw, runs * 4);
  return [...plain, ...moves, ...undo, ...rich];
}

const around = (size: Size, level: number, x: number, y: number, reach: number): TileSpot[] => {
  const scale = 2 ** -level;
  const box = { x: x - reach, y: y - reach, width: 2 * reach, height: 2 * reach };
  return tilesIn(size, level, {
    x: box.x * scale,
    y: box.y * scale,
    width: box.width * scale,
    height: box.height * scale,
  });
};

type Draw = (level: number, spots: readonly TileSpot[]) => Promise<void>;

/** A scene at hand and how it is drawn. */
export interface Hand {
  engine: Engine;
  scene: Scene;
  layerId: LayerId;
  draw: Draw;
  runs: number;
  /** Of the strokes that are painted, different each time. */
  name: string;
}

/** What a hand waits for at the fitted view: a slider of the mask, and the brush.
 * @param move - A step of the slider.
 * @param what - Of which mask, told after the measure. */
async function measureHand(
  { engine, scene, layerId, draw, runs, name }: Hand,
  fit: number,
  move: (run: number) => EditRecord,
  what = '',
): Promise<Measure[]> {
  const size = { width: scene.frames[0].width, height: scene.frames[0].height };
  const whole = allTiles(size, fit);
  const show = (next: Scene) => engine.setScene(next, layerId);
  show(scene);
  await draw(fit, whole);
  const slider: number[] = [];
  const sliderPace = new Pace(20);
  for (let run = 0; run < runs * 3; run++) {
    await sliderPace.tick();
    slider.push(
      await wallMs(async () => {
        show(applyEdit(scene, move(run)));
        await draw(fit, whole);
      }),
    );
  }
  show(scene);
  await draw(fit, whole);
  const brush = await measureBrush({ engine, scene, layerId, draw, runs, name }, fit, { middle: 12, most: 35 }, what);
  return [
    ...brush,
    {
      measure: `mask slider to full picture at fit, median${what}`,
      value: quantile(slider, 0.5),
      unit: 'ms',
      bar: 60,
      pace: sliderPace,
    },
  ];
}

/** Strokes over the fitted view: how long a point takes to be seen.
 * @param bars - Of the median, and of 95 in a hundred.
 * @param owners - Whose masks are painted in turn, if not the layer's at hand. */
export async function measureBrush(
  { engine, scene, layerId, draw, runs, name }: Hand,
  fit: number,
  bars: { middle: number; most: number },
  what = '',
  owners: readonly ItemId[] = [layerId],
): Promise<Measure[]> {
  const size = { width: scene.frames[0].width, height: scene.frames[0].height };
  const pace = new Pace(4);
  const brush: number[] = [];
  const live = strokeAcross('bench-live', size, 0.4, 300 * (size.width / 2400));
  for (let run = 0; run < runs * owners.length; run++) {
    const id = StrokeId.parse(`${name}-${size.width}-${scene.frames.length}-${run}`);
    const stroke = { ...live.stroke, id };
    const owner = owners[run % owners.length];
    engine.setScene(applyEdit(scene, addStroke({ owner, stroke })), owner);
    for (let at = 0; at < live.points.length; at += 4) {
      const reach = stroke.size / 2 + size.width / 60;
      await pace.tick();
      const near = around(size, fit, live.points[at], live.points[at + 1], reach);
      brush.push(
        await wallMs(async () => {
          engine.addStrokePoints(stroke.id, live.points.slice(at, at + 4));
          await draw(fit, near);
        }),
      );
    }
  }
  const told = (share: string, value: number, bar: number): Measure => ({
    measure: `brush at fit, pointer event to pixels, ${share}${what}`,
    ...{ value, unit: 'ms', bar, pace },
  });
  return [told('median', quantile(brush, 0.5), bars.middle), told('95 %', quantile(brush, 0.95), bars.most)];
}

/** The same with eight parts in the mask, and how soon the tone ladder is there after its source has changed. */
async function measureRichMask(hand: Hand, fit: number): Promise<Measure[]> {
  const { engine, scene, layerId, runs } = hand;
  const rich = withEightParts(scene, layerId);
  const part = tonePartOf(findLayer(rich, layerId) as Layer) as TonePart;
  const measures = await measureHand(
    { ...hand, scene: rich },
    fit,
    (run) => setPart({ owner: layerId, part: part.id, change: { narrowing: 0.3 + run / 10 } }),
    ', eight parts',
  );
  const size = { width: scene.frames[0].width, height: scene.frames[0].height };
  const level = levelForScale(LADDER_SIDE / size.width, levelCount(size));
  const spots = allTiles(size, level);
  const ladder: number[] = [];
  const pace = new Pace(20);
  for (let run = 0; run < runs * 2; run++) {
    await pace.tick();
    engine.setScene(rich, layerId);
    const source = (['layer', 'below', 'result', 'base'] as const)[run % 4];
    ladder.push(
      await wallMs(() =>
        Promise.all(
          rungsOf(source, run).map((recipe) =>
            engine.draw(Lane.Thumbs, { show: { what: 'recipe', recipe, at: layerId } }, level, spots, () => undefined),
          ),
        ),
      ),
    );
  }
  return [
    ...measures,
    {
      measure: "the tone ladder's 15 pictures after its source changed, median",
      value: quantile(ladder, 0.5),
      unit: 'ms',
      bar: 150,
      pace,
    },
  ];
}

/** Longest side of a rung's picture. */
const LADDER_SIDE = 52;

/** The rungs of the ladder; a little narrower each time, so that none is remembered. */
const rungsOf = (source: Source, run: number): Mask[] =>
  (['light', 'middle', 'dark'] as const).flatMap((side) =>
    [0, 1, 2, 4, 7].map((narrowing) =>
      maskOfParts([{ ...newTonePart(source), side, narrowing: narrowing + (run + 1) / 1000 }]),
    ),
  );

/** Panning and zooming to places that nobody has looked at yet: the coarse picture, which is always there, and the fine. */
async function measureMoves(size: Size, runs: number, draw: Draw): Promise<Measure[]> {
  const coarse = fitOf(size);
  await draw(coarse, allTiles(size, coarse));
  const [first, final]: [number[], number[]] = [[], []];
  const pace = new Pace(20);
  for (let run = 0; run < runs * 3; run++) {
    const level = run % 3;
    const step = 2 ** level;
    // Anywhere in the picture, each time elsewhere (a low-discrepancy walk).
    const u = (0.5 + run * 0.7548776662) % 1;
    const v = (0.5 + run * 0.569840291) % 1;
    const { width, height } = CANVAS;
    const x = u * Math.max(0, size.width / step - width);
    const y = v * Math.max(0, size.height / step - height);
    const down = 2 ** (coarse - level);
    const seen = { x: x / down, y: y / down, width: width / down, height: height / down };
    await pace.tick();
    first.push(await wallMs(() => draw(coarse, tilesIn(size, coarse, seen))));
    final.push(await wallMs(() => draw(level, tilesIn(size, level, { x, y, width, height }))));
  }
  return [
    { measure: 'pan and zoom, first (coarse) picture, median', value: quantile(first, 0.5), unit: 'ms', bar: 16, pace },
    { measure: 'pan and zoom, final picture, median', value: quantile(final, 0.5), unit: 'ms', bar: 120, pace },
  ];
}

/** Taking back the last of a thousand strokes on one layer against having painted it. */
async function measureUndo(
  engine: Engine,
  scene: Scene,
  layerId: LayerId,
  size: Size,
  fit: number,
  draw: Draw,
  rounds: number,
): Promise<Measure[]> {
  const made = Array.from({ length: STROKES + rounds }, (_, i) =>
    strokeAcross(`bench-${size.width}-${scene.frames.length}-${i}`, size, 0.2 + (0.6 * i) / STROKES, size.width / 30),
  );
  for (const { stroke, points } of made) engine.addStrokePoints(stroke.id, points);
  const index = scene.stack.findIndex(({ id }) => id === layerId);
  const last = made.slice(STROKES - 1).map(({ stroke }) => stroke);
  const withStrokes = (more: readonly Stroke[]): Scene => {
    const strokes = [...made.slice(0, STROKES - 1).map(({ stroke }) => stroke), ...more];
    const layer = scene.stack[index];
    const parts = layer.mask.parts.map((part) =>
      part.kind === 'painted' ? { ...part, strokes: [...part.strokes, ...strokes] } : part,
    );
    return { ...scene, stack: scene.stack.with(index, { ...layer, mask: { ...layer.mask, parts } }) };
  };
  const without = withStrokes([]);
  const whole = allTiles(size, fit);
  engine.setScene(without, layerId);
  await draw(fit, whole);
  let round = 0;
  const { paint, undo } = await interleaved(rounds, {
    paint: () =>
      wallMs(async () => {
        engine.setScene(withStrokes([last[round++]]), layerId);
        await draw(fit, whole);
      }),
    undo: () =>
      wallMs(async () => {
        engine.setScene(without, layerId);
        await draw(fit, whole);
      }),
  });
  engine.setScene(scene, layerId);
  return [
    { measure: 'undo of the last of 1,000 strokes / painting it', value: undo / paint, unit: 'ratio', bar: 1 },
    { measure: 'undo of the last of 1,000 strokes', value: undo, unit: 'ms' },
  ];
}
