import { computed, type Ref, ref, shallowRef, watch } from 'vue';
import type { RenderRequest } from '#core/render/plan/request.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { View } from '#engine/protocol.ts';
import { useSession } from '../../stores/session.ts';

/** How one looks at a frame on the base. */
export type AlignLook = 'lies' | 'difference' | 'edges' | 'halves' | 'blink' | 'divider';

/** What the canvas shows of a frame on the base. */
export function useAlignView(frame: Ref<Frame | undefined>) {
  const session = useSession();
  const look = ref<AlignLook>('difference');
  const share = ref(0.5);
  const divider = ref(0.5);
  const speed = ref('500');
  /** Whether blinking shows the base at the moment. */
  const showsUnder = ref(false);

  /** Stops by which the frame is brighter than the base: as found, or as the camera says. */
  const stops = computed(() => {
    const base = session.scene.frames.find(({ id }) => id === session.scene.base);
    const own = frame.value?.placement?.stops ?? (frame.value && session.evidence.get(frame.value.id)?.found.stops);
    if (own !== null && own !== undefined) return own;
    const [a, b] = [base?.shot.ev ?? null, frame.value?.shot.ev ?? null];
    return a === null || b === null ? 0 : b - a;
  });

  /** Frames are seen as they are developed: what was added to their exposure counts as well. */
  const shownStops = computed(() => {
    const base = session.scene.frames.find(({ id }) => id === session.scene.base);
    const added = [frame.value, base].map((each) => Number(each?.develop.exposure?.stops ?? 0));
    return Number(stops.value) + added[0] - added[1];
  });

  const wanted = computed<RenderRequest>(() => {
    const against = session.scene.base;
    if (!frame.value || !against) return { what: 'result' };
    const matched = { at: frame.value.id, stops: Number(shownStops.value.toFixed(2)) };
    switch (look.value) {
      case 'difference':
      case 'edges':
        return { what: 'compared', how: look.value, against, ...matched };
      case 'halves':
        return { what: 'halves', against, share: share.value, ...matched };
      case 'blink':
        return showsUnder.value ? { what: 'frame', at: against } : { what: 'frame', ...matched };
      default:
        return { what: 'frame', ...matched };
    }
  });
  /** The same view as long as it asks for the same, so that nothing is drawn anew in between. */
  const view = shallowRef<View>({ show: wanted.value });
  watch(wanted, (next) => {
    if (JSON.stringify(next) !== JSON.stringify(view.value.show)) view.value = { show: next };
  });
  const under = computed<View>(() => ({
    show: session.scene.base ? { what: 'frame', at: session.scene.base } : { what: 'result' },
  }));
  return { look, share, divider, speed, view, under, showsUnder, stops };
}
