import { describe, expect, it } from 'vitest';
import { edit, resultOf } from '../../tests/renderScene.ts';
import { planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { ItemId } from '../ids.ts';
import { levelCount, levelSize } from '../raster/size.ts';
import { developFrames } from '../scene/edits/developing.ts';
import { addAdjustment, setAdjustment } from '../scene/edits/stack.ts';
import type { Scene } from '../scene/scene.ts';
import { ADJUSTMENTS, ANY_ADJUSTMENT_NAMES, type AnyAdjustment, FINISHING, isOfFrames } from './list.ts';

/** Settings with every row at its least, or at its most. */
function settingsAt(kind: AnyAdjustment, end: 'min' | 'max'): object {
  const { rest, rows, schema } = { ...ADJUSTMENTS, ...FINISHING }[kind];
  const settings = structuredClone(rest) as Record<string, unknown>;
  for (const row of rows) {
    const path = row.path.map(String);
    const inner = path.slice(0, -1).reduce((at, name) => at[name] as Record<string, unknown>, settings);
    inner[path[path.length - 1]] = row[end];
  }
  return schema.parse(settings);
}

function adjusted(scene: Scene, kind: AnyAdjustment, settings: object): Scene {
  const [frame] = scene.frames;
  if (isOfFrames(kind)) return edit(scene, developFrames({ frameIds: [frame.id], change: { [kind]: settings } }));
  const id = ItemId.parse('adjusted');
  return edit(scene, addAdjustment({ id, kind, above: null }), setAdjustment({ id, change: settings as never }));
}

describe('every adjustment at the ends of its rows', () => {
  // No larger than a pixel, than a window, than a tile one way.
  const sizes = [
    [1, 1],
    [2, 3],
    [129, 1],
    [1, 700],
  ] as const;

  it.each(sizes)('is drawn on %i x %i pixels at every level, and written with the same bits', (width, height) => {
    const size = { width, height };
    const made = smallScene(size, [(x, y) => [(x * 97 + y * 131) % 65536, (x * 679 + y * 917) % 65536, 65535 - x]]);
    const planesOf = (scene: Scene, interactive: boolean) => {
      made.table.dropDerived();
      const levels = Array.from({ length: levelCount(size) }, (_, level) =>
        planeOfNode(resultOf(scene), 1, level, levelSize(size, level), { ...made.context, interactive }),
      );
      made.context.transient.end();
      return levels.map((plane) => plane.join());
    };
    for (const kind of ANY_ADJUSTMENT_NAMES)
      for (const end of ['min', 'max'] as const) {
        const scene = adjusted(made.scene, kind, settingsAt(kind, end));
        expect(planesOf(scene, false), `${kind} ${end}`).toEqual(planesOf(scene, true));
      }
  });
});
