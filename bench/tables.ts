import { newTonePart } from '#core/parts/tone.ts';
import type { Arena } from '#core/raster/arena.ts';
import { AT_REST } from '#core/refinements/list.ts';
import { compilePlan, type RenderPlan } from '#core/render/plan/plan.ts';
import { createRenderContext } from '#core/render/tiles/createRenderContext.ts';
import type { FrameLoader } from '#core/render/tiles/loadFrame.ts';
import { type RenderContext, type TileNode, withTile } from '#core/render/tiles/renderContext.ts';
import { addFrames } from '#core/scene/edits/frames.ts';
import { applyEdit } from '#core/scene/edits/index.ts';
import type { Frame } from '#core/scene/frame.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import { newScene, type Scene } from '#core/scene/scene.ts';
import { interleaved, type Measure, wallMs } from './measure.ts';

const TILES = 24;
/** As many as a thread has copies of, twice as many, and ten times. */
const FEW = 20;
const MORE = 40;
const MANY = 200;

/** Whether a tile's time grows with its tables and no faster. Those that a thread has no copy of are copied each time, and lie in no
 * near cache.
 * @param frames - In memory. */
export async function measureTables(
  { table, kernels }: FrameLoader,
  arena: Arena,
  frames: readonly Frame[],
  rounds: number,
): Promise<Measure[]> {
  const context: RenderContext = {
    ...createRenderContext({ table, kernels, arena }),
    interactive: false,
  };
  const time = (tables: number) => {
    const plan = compilePlan(withTables(frames, tables)) as RenderPlan;
    let row = 0;
    // Another row of tiles each time: masks that are there already need no tables.
    return () => wallMs(() => drawTiles(plan, row++, context));
  };
  const works = { few: time(FEW), more: time(MORE), many: time(MANY) };
  for (const work of Object.values(works)) await work(); // makes the tables
  const { few, more, many } = await interleaved(rounds, works);
  context.transient.end();
  return [
    {
      measure: `a tile with ${MANY} tables / ${MANY / MORE} times one with ${MORE}`,
      value: many / more / (MANY / MORE),
      unit: 'ratio',
      bar: 1.5,
    },
    {
      measure: `a tile with ${MANY} tables / ${MANY / FEW} times one with ${FEW}`,
      value: many / few / (MANY / FEW),
      unit: 'ratio',
    },
    { measure: `a tile with ${MANY} tables`, value: many / TILES, unit: 'ms' },
  ];
}

function drawTiles(plan: RenderPlan, ty: number, context: RenderContext): void {
  const result = plan.node({ what: 'result' }) as TileNode;
  for (let tx = 0; tx < TILES; tx++) {
    withTile(result, { level: 0, tx, ty }, context, () => undefined);
    context.transient.drop();
  }
}

/** One layer whose mask has tone parts with levels: two tables each. */
function withTables(frames: readonly Frame[], tables: number): Scene {
  const scene = applyEdit(newScene('Tables'), addFrames({ frames: [...frames] }));
  const parts = Array.from({ length: tables / 2 }, (_, i) => ({
    ...newTonePart('base', `tone-${i}`),
    narrowing: i / tables,
    refine: { ...AT_REST, levels: { black: i / 1000, white: 0.95, gamma: 1.1 } },
  }));
  return { ...scene, stack: [{ ...scene.stack[0], mask: maskOfParts(parts) }] };
}
