import { computed, type Ref } from 'vue';
import { ADJUSTMENTS, type AdjustmentName, ALIKE, type Develop } from '#core/develop/list.ts';
import { developEach, developFrames } from '#core/scene/edits/developing.ts';
import type { Frame } from '#core/scene/frame.ts';
import { plain } from '../../plain.ts';
import { useSession } from '../../stores/session.ts';

type Change = Parameters<typeof developFrames>[0]['change'];
export type FrameChange = Parameters<typeof developEach>[0]['changes'][number];

/** What names a drag: all that it is, so that presses of a key which change the same are one step. */
const dragOf = (change: Change): string => `developing ${Object.keys(change).join()}`;

const isAlike = (name: string): boolean => (ALIKE as readonly string[]).includes(name);

/** Develops the frame at hand. */
export function useDevelop(frame: Ref<Frame | undefined>) {
  const session = useSession();

  /** Settings as they are, or at rest. */
  const settingsOf = computed(() => (name: AdjustmentName): object => ({
    ...ADJUSTMENTS[name].rest,
    ...frame.value?.develop[name],
  }));

  const colours = computed(() => settingsOf.value('colour') as (typeof ADJUSTMENTS)['colour']['rest']);
  const levels = computed(() => settingsOf.value('levels') as (typeof ADJUSTMENTS)['levels']['rest']);
  const curves = computed(() => settingsOf.value('curve') as (typeof ADJUSTMENTS)['curve']['rest']);

  /** Develops frames. What is alike for all that are not set apart goes to all of them, once it goes to one. */
  function dispatch(frames: readonly Frame[], change: Change, of?: string): void {
    const shared = Object.fromEntries(Object.entries(change).filter(([name]) => isAlike(name))) as Change;
    if (Object.keys(shared).length === 0) {
      session.dispatch(developFrames({ frameIds: frames.map(({ id }) => id), change: plain(change) }), of);
      return;
    }
    const chosen = new Set(frames.map(({ id }) => id));
    const reaches = frames.some(({ apart }) => !apart);
    const changes = session.scene.frames.flatMap((frame): FrameChange[] => {
      const own = chosen.has(frame.id) ? change : reaches && !frame.apart ? shared : undefined;
      if (!own) return [];
      // Noise was measured in each frame.
      const { measured } = (chosen.has(frame.id) ? undefined : frame.develop.noise) ?? {};
      const noise = measured && own.noise ? { noise: { ...own.noise, measured } } : {};
      return [{ frameId: frame.id, change: { ...own, ...noise } }];
    });
    session.dispatch(developEach({ changes: plain(changes) }), of);
  }

  /** Shows a frame with other settings, whole ones, until they are taken or given up. */
  function show(of: Frame, change: Change): void {
    if (!session.readOnly) dispatch([of], change, dragOf(change));
  }

  function preview(name: AdjustmentName, change: object, of = frame.value): void {
    if (of) show(of, { [name]: { ...ADJUSTMENTS[name].rest, ...of.develop[name], ...change } } as Change);
  }

  function commit(name: AdjustmentName, change: object, of = frame.value): void {
    preview(name, change, of);
    session.closeDrag();
  }

  /** Shows frames with other settings, each in its own way, until they are taken or given up. */
  function showEach(changes: FrameChange[], drag = 'developing each'): void {
    if (!session.readOnly) session.dispatch(developEach({ changes: plain(changes) }), drag);
  }

  /** Develops frames, each in its own way, as one step with what is being dragged. */
  function commitEach(changes: FrameChange[]): void {
    showEach(changes, dragOf(changes[0].change));
    session.closeDrag();
  }

  /** Takes adjustments of the frame at hand over to others, in one step. */
  function copy(names: readonly AdjustmentName[], to: readonly Frame[]): void {
    const change = Object.fromEntries(names.map((name) => [name, frame.value?.develop[name] ?? null]));
    dispatch(to, change as Change);
  }

  /** Takes settings that were saved for the frame at hand, in one step; adjustments that are not among them stay. */
  function apply(develop: Develop): void {
    if (frame.value) dispatch([frame.value], develop as Change);
  }

  function reset(names: readonly AdjustmentName[]): void {
    if (frame.value) dispatch([frame.value], Object.fromEntries(names.map((name) => [name, null])) as Change);
  }

  return {
    settingsOf,
    levels,
    curves,
    colours,
    show,
    /** Takes what is shown, as one step. */
    end: session.closeDrag,
    preview,
    commit,
    showEach,
    commitEach,
    /** Gives up what is being dragged. */
    cancel: session.cancelDrag,
    copy,
    apply,
    reset,
  };
}

export type Developing = ReturnType<typeof useDevelop>;
