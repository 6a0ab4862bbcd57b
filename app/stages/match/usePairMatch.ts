import { computed, onBeforeUnmount, type Ref, ref, shallowRef, watch } from 'vue';
import type { PairDistance } from '#core/checks/pairDistance.ts';
import { bringCloser } from '#core/develop/bringCloser.ts';
import { proposeEnds } from '#core/develop/proposeEnds.ts';
import type { FrameId } from '#core/ids.ts';
import { developEach } from '#core/scene/edits/developing.ts';
import type { Frame } from '#core/scene/frame.ts';
import { plain } from '../../plain.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSeams } from '../../stores/seams.ts';
import { useSession } from '../../stores/session.ts';
import type { Developing, FrameChange } from './useDevelop.ts';

/** A full match looks flat: so much of a distance is closed unless another share is asked for (common practice, no source). */
const USUAL_SHARE = 0.6;
/** A match is measured again so many times at most, and is close enough at so many stops: half of one per cent of light. */
const ROUNDS = 3;
const CLOSE = 0.007;

/** Measured again so long after a frame was last developed, in milliseconds. */
const REST_MS = 400;

/** Measures how far the frame at hand lies from the one below it, and brings it closer. */
export function usePairMatch(frame: Ref<Frame | undefined>, other: Ref<Frame | undefined>, developing: Developing) {
  const session = useSession();
  const notices = useNotices();
  const { measured } = useSeams();
  const distance = shallowRef<PairDistance>();
  const state = ref<'idle' | 'measuring' | 'nothing' | 'unread'>('idle');
  const share = ref(USUAL_SHARE);
  /** The frames as they were before they are shown closer. */
  const before = shallowRef<Frame>();
  const beforeOther = shallowRef<Frame>();
  const isShown = computed(() => before.value !== undefined);
  /** How far all frames are matched, while they are. */
  const progress = ref<{ done: number; of: number }>();
  /** Frames have been developed since: it is measured again. */
  const isStale = ref(false);
  let asked = 0;
  let waiting: ReturnType<typeof setTimeout> | undefined;

  async function measure(): Promise<void> {
    const [own, from] = [frame.value, other.value];
    if (!own || !from) return;
    const turn = ++asked;
    clearTimeout(waiting);
    state.value = 'measuring';
    const found = await measured(own, from).catch(() => null);
    if (turn !== asked) return;
    distance.value = found ?? undefined;
    isStale.value = false;
    state.value = found ? 'idle' : found === null ? 'unread' : 'nothing';
  }

  /** What would bring the two closer, by the share that is set: light and white of the frame at hand, and ends of the darker one. */
  const proposal = computed(() => {
    const [own, from, found] = [before.value ?? frame.value, beforeOther.value ?? other.value, distance.value];
    if (!own || !from || !found) return undefined;
    const darker = found.stops < 0 ? own : from;
    return { own, from, darker, ...proposed(own, darker, found) };
  });

  /** @param darker - Whose ends may be moved. */
  function proposed(own: Frame, darker: Frame | undefined, found: PairDistance) {
    const { exposure, whiteBalance } = bringCloser(own.develop, found, share.value, session.scene.workingSpace);
    const raised = exposure.stops - ((own.develop.exposure as { stops: number } | undefined)?.stops ?? 0);
    const { ends, besides = 0 } = (darker && proposeEnds(darker.develop, found, raised, share.value)) ?? {};
    const stops = Number((exposure.stops + besides).toFixed(2));
    return { exposure: { stops }, whiteBalance, ends, raised: raised + besides };
  }

  /** Shows the two closer; it is not taken yet. */
  function show(): void {
    const now = proposal.value;
    if (!now || session.readOnly) return;
    [before.value, beforeOther.value] = [now.own, now.from];
    developing.showEach(changesOf(now, now.exposure));
  }

  function changesOf(
    { own, from, whiteBalance, ends, darker }: NonNullable<typeof proposal.value>,
    exposure: { stops: number },
  ): FrameChange[] {
    const changes: FrameChange[] = [
      { frameId: own.id, change: { exposure, whiteBalance, ...(ends && darker.id === own.id ? { ends } : {}) } },
    ];
    if (darker.id === from.id)
      changes.push({
        frameId: from.id,
        change: { ends: (ends ?? from.develop.ends ?? null) as FrameChange['change']['ends'] },
      });
    return changes;
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
          // Only what lies on top is changed: what is below was matched before.
          const { exposure, whiteBalance, ends } = proposed(own, found.stops < 0 ? own : undefined, found);
          changes.push({ frameId: id, change: { exposure, whiteBalance, ...(ends ? { ends } : {}) } });
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
      if (isStale.value) void measure();
    }
  }

  /** Stops matching all: nothing is changed. */
  function stopAll(): void {
    if (!progress.value) return;
    progress.value = undefined;
    session.cancelDrag();
  }

  /** Takes what is shown, once exposure has made up for what else moved along the seam: ends, and places that both hold now. */
  async function take(): Promise<void> {
    const [now, own] = [proposal.value, before.value];
    const wanted = (1 - share.value) * (distance.value?.stops ?? 0);
    for (let round = 0; round < ROUNDS && now; round++) {
      const [shown, below] = [frame.value, other.value];
      if (!shown || !below) break;
      const found = await measured(shown, below).catch(() => undefined);
      if (before.value !== own || !before.value) return;
      const away = (found?.stops ?? wanted) - wanted;
      if (Math.abs(away) < CLOSE) break;
      const stops = ((shown.develop.exposure as { stops: number } | undefined)?.stops ?? 0) - away;
      developing.showEach(changesOf(now, { stops: Number(Math.min(8, Math.max(-8, stops)).toFixed(2)) }));
    }
    [before.value, beforeOther.value] = [undefined, undefined];
    developing.end();
    void measure();
  }

  function giveUp(): void {
    if (!before.value) return;
    [before.value, beforeOther.value] = [undefined, undefined];
    developing.cancel();
  }

  watch([() => frame.value?.id, () => other.value?.id], () => {
    giveUp();
    asked++;
    clearTimeout(waiting);
    isStale.value = false;
    distance.value = undefined;
    state.value = 'idle';
  });
  // Undo takes back what is shown as well.
  watch(frame, (now) => {
    if (before.value && now?.develop === before.value.develop)
      [before.value, beforeOther.value] = [undefined, undefined];
  });
  watch([() => frame.value?.develop, () => other.value?.develop], () => {
    if (state.value === 'idle' && !distance.value) return;
    clearTimeout(waiting);
    isStale.value = !isShown.value;
    // While all are matched every change is followed by another.
    if (isStale.value && !progress.value) waiting = setTimeout(() => void measure(), REST_MS);
  });
  onBeforeUnmount(() => {
    clearTimeout(waiting);
    giveUp();
    stopAll();
  });

  return {
    distance,
    state,
    isStale,
    share,
    proposal,
    isShown,
    progress,
    measure,
    matchAll,
    stopAll,
    show,
    take,
    giveUp,
  };
}

export type PairMatch = ReturnType<typeof usePairMatch>;
