import { computed, onBeforeUnmount, type Ref, ref, watch } from 'vue';
import type { FrameId } from '#core/ids.ts';
import type { Frame } from '#core/scene/frame.ts';
import { framesFromBelow } from '#core/scene/tree.ts';
import type { View } from '#engine/protocol.ts';
import { useSession } from '../../stores/session.ts';

/** How one looks at two neighbours of the stack. */
export type MatchLook = 'beside' | 'divider' | 'blink' | 'blend';

const BLINK_MS = 600;

/** A frame and the one below it in the stack, and what the canvas shows of them. */
export function useMatchView(chosen: Ref<FrameId | undefined>) {
  const session = useSession();
  const look = ref<MatchLook>('beside');
  const divider = ref(0.5);
  const showsOther = ref(false);
  /** While held, the frame is shown as it was taken. */
  const asTaken = ref(false);

  const order = computed(() => framesFromBelow(session.scene));
  const frame = computed(
    () =>
      session.scene.frames.find(({ id }) => id === chosen.value) ??
      session.scene.frames.find(({ id }) => id === (order.value[1] ?? order.value[0])),
  );
  /** Of the base, the one above it. */
  const other = computed(() => {
    const at = order.value.indexOf(frame.value?.id as FrameId);
    const id = order.value[at > 0 ? at - 1 : 1];
    return session.scene.frames.find((each) => each.id === id);
  });

  const own = computed<View>(() => ({
    show: frame.value
      ? { what: 'frame', at: frame.value.id, ...(asTaken.value ? { taken: true } : {}) }
      : { what: 'result' },
  }));
  const neighbour = computed<View>(() => ({
    show: other.value ? { what: 'frame', at: other.value.id } : { what: 'result' },
  }));
  const view = computed<View>(() => {
    if (look.value === 'blend') return { show: { what: 'result' } };
    const isOther = look.value === 'divider' || (look.value === 'blink' && showsOther.value);
    return isOther ? neighbour.value : own.value;
  });

  /** What the canvas shows left and right; blinking, what it shows now. */
  const shownFrames = computed<[Frame | undefined, Frame | undefined]>(() => {
    if (look.value === 'blend') return [undefined, undefined];
    if (look.value === 'blink') return [showsOther.value ? other.value : frame.value, undefined];
    return other.value ? [other.value, frame.value] : [frame.value, undefined];
  });

  let blinking: ReturnType<typeof setInterval> | undefined;
  watch(look, () => {
    clearInterval(blinking);
    showsOther.value = false;
    if (look.value === 'blink')
      blinking = setInterval(() => {
        showsOther.value = !showsOther.value;
      }, BLINK_MS);
  });
  onBeforeUnmount(() => clearInterval(blinking));

  return { look, divider, asTaken, order, frame, other, own, neighbour, view, shownFrames };
}
