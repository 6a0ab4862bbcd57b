import { defineStore } from 'pinia';
import { onScopeDispose, ref, watch } from 'vue';
import type { PairDistance } from '#core/checks/pairDistance.ts';
import { sketchLevel } from '#core/checks/sketch.ts';
import type { LayerId } from '#core/ids.ts';
import type { Frame } from '#core/scene/frame.ts';
import { frameOfLayer } from '#core/scene/item.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { framesFromBelow, layersOf } from '#core/scene/tree.ts';
import { canvasSpaceOf } from '../drawing/canvasSpace.ts';
import { drawnView } from '../drawing/drawnView.ts';
import { useEngine } from './engine.ts';
import { useSession } from './session.ts';

/** So long after the last change all seams are measured anew. */
const REST_MS = 2500;
/** Frames that are still being read are waited for so many times. */
const MOST_TRIES = 20;

/** How far frames lie apart where they meet. */
export const useSeams = defineStore('seams', () => {
  const session = useSession();
  const engines = useEngine();
  /** Stops between two neighbours at the seam where they lie farthest apart; undefined while none is known. */
  const farthest = ref<number>();

  /** Of a layer and what lies below it.
   * @returns Null while pictures are not to be had. */
  async function measuredLayer(id: LayerId): Promise<PairDistance | undefined | null> {
    const { engine, aligner } = await engines.start();
    const size = sceneSize(session.scene);
    if (!size) return null;
    const level = sketchLevel(size);
    const space = canvasSpaceOf(session.scene.workingSpace);
    const draw = (show: Parameters<typeof drawnView>[1]['show']) => drawnView(engine, { show }, size, level);
    const own = await draw({ what: 'content', at: id });
    const other = await draw({ what: 'source', source: 'below', at: id });
    const mask = await draw({ what: 'effect', at: id });
    return own && other && mask ? aligner.distance({ own, other, mask, space }) : null;
  }

  /** Of a frame and the one that it lies on.
   * @returns Null while pictures are not to be had: frames are being read. */
  async function measured(frame: Frame, from: Frame): Promise<PairDistance | undefined | null> {
    const { engine, aligner } = await engines.start();
    const size = sceneSize(session.scene);
    if (!size) return null;
    const level = sketchLevel(size);
    const space = canvasSpaceOf(session.scene.workingSpace);
    const layer = layersOf(session.scene).find((each) => frameOfLayer(each) === frame.id);
    const draw = (show: Parameters<typeof drawnView>[1]['show']) => drawnView(engine, { show }, size, level);
    const own = await draw({ what: 'frame', at: frame.id });
    const taken = await draw({ what: 'frame', at: frame.id, taken: true });
    const other = await draw({ what: 'frame', at: from.id });
    const mask = layer && ((await draw({ what: 'effect', at: layer.id })) ?? null);
    return own && taken && other && mask !== null ? aligner.distance({ own, taken, other, mask, space }) : null;
  }

  let turn = 0;
  let waiting: ReturnType<typeof setTimeout> | undefined;

  /** Measures all neighbours once nothing has changed for a while. */
  function measureSoon(tries = MOST_TRIES): void {
    turn++;
    clearTimeout(waiting);
    if (session.scene.frames.length > 1) waiting = setTimeout(() => void measureAll(tries), REST_MS);
    else farthest.value = undefined;
  }

  async function measureAll(tries: number): Promise<void> {
    const own = ++turn;
    const { frames } = session.scene;
    const order = framesFromBelow(session.scene).flatMap((id) => frames.find((each) => each.id === id) ?? []);
    const laid = order.filter(({ choice }) => choice !== 'out');
    let [most, unread]: [number | undefined, boolean] = [undefined, false];
    for (const [index, frame] of laid.entries()) {
      if (index === 0) continue;
      const found = await measured(frame, laid[index - 1]).catch(() => null);
      if (own !== turn) return;
      if (found) most = Math.max(most ?? 0, Math.abs(found.stops));
      unread ||= found === null;
    }
    farthest.value = most;
    if (unread && tries > 0) measureSoon(tries - 1);
  }

  watch(
    () => session.sceneId,
    () => {
      farthest.value = undefined;
    },
  );
  watch([() => session.sceneId, () => session.scene.frames, () => session.scene.stack], () => measureSoon(), {
    immediate: true,
  });
  onScopeDispose(() => clearTimeout(waiting));

  return { farthest, measured, measuredLayer };
});
