import { computed, onBeforeUnmount, type Ref, ref, shallowRef, watch } from 'vue';
import { type PairDistance, pairDistance } from '#core/checks/pairDistance.ts';
import { sketchLevel } from '#core/checks/sketch.ts';
import { bringCloser } from '#core/develop/bringCloser.ts';
import type { FrameId } from '#core/ids.ts';
import { developEach } from '#core/scene/edits/developing.ts';
import type { Frame } from '#core/scene/frame.ts';
import { frameOfLayer } from '#core/scene/item.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { layersOf } from '#core/scene/tree.ts';
import { canvasSpaceOf } from '../../drawing/canvasSpace.ts';
import { drawnView } from '../../drawing/drawnView.ts';
import { plain } from '../../plain.ts';
import { useEngine } from '../../stores/engine.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import type { Developing } from './useDevelop.ts';

/** A full match looks flat: so much of a distance is closed unless another share is asked for (common practice, no source). */
const USUAL_SHARE = 0.6;

/** Measures how far the frame at hand lies from the one below it, and brings it closer. */
export function usePairMatch(frame: Ref<Frame | undefined>, other: Ref<Frame | undefined>, developing: Developing) {
  const session = useSession();
  const notices = useNotices();
  const engines = useEngine();
  const distance = shallowRef<PairDistance>();
  const state = ref<'idle' | 'measuring' | 'nothing' | 'unread'>('idle');
  const share = ref(USUAL_SHARE);
  /** The frame as it was before it is shown closer. */
  const before = shallowRef<Frame>();
  const isShown = computed(() => before.value !== undefined);
  /** How far all frames are matched, while they are. */
  const progress = ref<{ done: number; of: number }>();
  let asked = 0;

  /** @returns Null while pictures are not to be had: frames are being read. */
  async function measured(own: Frame, from: Frame): Promise<PairDistance | undefined | null> {
    const { engine } = await engines.start();
    const size = sceneSize(session.scene);
    if (!size) return null;
    const level = sketchLevel(size);
    const layer = layersOf(session.scene).find((each) => frameOfLayer(each) === own.id);
    const draw = (show: Parameters<typeof drawnView>[1]['show']) => drawnView(engine, { show }, size, level);
    const now = await draw({ what: 'frame', at: own.id });
    const taken = await draw({ what: 'frame', at: own.id, taken: true });
    const below = await draw({ what: 'frame', at: from.id });
    const mask = layer && ((await draw({ what: 'effect', at: layer.id })) ?? null);
    if (!now || !taken || !below || mask === null) return null;
    const shown = mask && Float32Array.from({ length: mask.width * mask.height }, (_, i) => mask.rgba[4 * i] / 255);
    return pairDistance(now, taken, below, shown, canvasSpaceOf(session.scene.workingSpace));
  }

  async function measure(): Promise<void> {
    const [own, from] = [frame.value, other.value];
    if (!own || !from) return;
    const turn = ++asked;
    state.value = 'measuring';
    const found = await measured(own, from).catch(() => null);
    if (turn !== asked) return;
    distance.value = found ?? undefined;
    state.value = found ? 'idle' : found === null ? 'unread' : 'nothing';
  }

  /** Shows the frame closer, by the share that is set; it is not taken yet. */
  function show(): void {
    const own = before.value ?? frame.value;
    if (!own || !distance.value || session.readOnly) return;
    before.value = own;
    developing.show(own, { ...bringCloser(own.develop, distance.value, share.value, session.scene.workingSpace) });
  }

  /** Brings every frame closer to the one below it, from the base outwards, as one step.
   * @param order - The base first. */
  async function matchAll(order: readonly FrameId[]): Promise<void> {
    if (session.readOnly || progress.value) return;
    giveUp();
    const drag = crypto.randomUUID();
    const changes: Parameters<typeof developEach>[0]['changes'] = [];
    const frameOf = (id: FrameId) => session.scene.frames.find((each) => each.id === id);
    let skipped = 0;
    const { scene } = session;
    progress.value = { done: 0, of: order.length - 1 };
    try {
      for (const [index, id] of order.entries()) {
        const [own, below] = [frameOf(id), frameOf(order[index - 1])];
        if (index === 0 || !own || !below) continue;
        const found = await measured(own, below);
        if (!progress.value) return;
        progress.value = { done: index, of: order.length - 1 };
        if (!found) skipped++;
        else {
          const change = bringCloser(own.develop, found, share.value, scene.workingSpace);
          changes.push({ frameId: id, change });
          session.dispatch(developEach({ changes: plain(changes) }), drag);
        }
      }
      session.closeDrag();
      const came = `${changes.length} frame${changes.length === 1 ? '' : 's'} brought closer by ${Math.round(share.value * 100)} %`;
      notices.tell(skipped > 0 ? `${came}; ${skipped} had no tones to match.` : `${came}.`);
    } catch (error) {
      session.cancelDrag();
      notices.tellError(error);
    } finally {
      progress.value = undefined;
    }
  }

  /** Stops matching all: nothing is changed. */
  function stopAll(): void {
    if (!progress.value) return;
    progress.value = undefined;
    session.cancelDrag();
  }

  function take(): void {
    before.value = undefined;
    developing.end();
    void measure();
  }

  function giveUp(): void {
    if (!before.value) return;
    before.value = undefined;
    developing.cancel();
  }

  watch([() => frame.value?.id, () => other.value?.id], () => {
    giveUp();
    asked++;
    distance.value = undefined;
    state.value = 'idle';
  });
  // Undo takes back what is shown as well.
  watch(frame, (now) => {
    if (before.value && now?.develop === before.value.develop) before.value = undefined;
  });
  onBeforeUnmount(() => {
    giveUp();
    stopAll();
  });

  return { distance, state, share, isShown, progress, measure, matchAll, stopAll, show, take, giveUp };
}

export type PairMatch = ReturnType<typeof usePairMatch>;
