import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import { adjustmentKind } from '#core/develop/list.ts';
import type { ItemId } from '#core/ids.ts';
import type { PlaneRequest, RenderRequest } from '#core/render/plan/request.ts';
import { frameOfLayer } from '#core/scene/item.ts';
import { groupAround } from '#core/scene/tree.ts';
import type { Tint, View } from '#engine/protocol.ts';
import { useBench } from '../../stores/bench.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';

/** Half a turn of a blinking layer. */
const BLINK_MS = 700;

/** What a canvas shows: the look that is chosen, or what is held or pointed at for a moment.
 * @param whole - The picture that is worked on, and how it lies. */
export function useBlendView(whole: () => RenderRequest) {
  const session = useSession();
  const bench = useBench();
  const tools = useMaskTools();

  const result = computed<View>(() => ({ show: whole() }));
  /** All that is shown lies as the picture does. */
  function lying<T extends RenderRequest>(request: T): T {
    const { turned } = whole();
    return turned ? { ...request, turned } : request;
  }
  const asItLies = ({ show, over }: View): View => ({
    show: lying(show),
    ...(over && { over: { ...over, plane: lying(over.plane) } }),
  });

  /** What is taken away and comes back in turn. */
  const blinking = ref<'layer' | 'before'>();
  const isOut = ref(false);
  let timer: ReturnType<typeof setInterval> | undefined;
  function toggleBlink(what: 'layer' | 'before'): void {
    blinking.value = blinking.value === what ? undefined : what;
    isOut.value = false;
    clearInterval(timer);
    if (!blinking.value) return;
    timer = setInterval(() => {
      isOut.value = !isOut.value;
    }, BLINK_MS);
  }
  onBeforeUnmount(() => clearInterval(timer));

  const tint = (): Tint => {
    const [red, green, blue] = bench.state.overlay.colour;
    return [red, green, blue];
  };

  /** Coverage over the picture, or by itself. */
  function coverage(look: 'grey' | 'overlay' | 'edge', plane: PlaneRequest): View {
    if (look === 'grey') return { show: plane };
    const colour = tint();
    if (look === 'edge') return { ...result.value, over: { plane, colour, as: 'contours' } };
    return { ...result.value, over: { plane, colour, as: 'tint', strength: bench.state.overlay.strength } };
  }

  /** What the picture is compared with. */
  const before = computed<View>(() => asItLies(comparedWith()));
  function comparedWith(): View {
    const { item } = tools;
    const { beforeIs } = bench.state;
    const group = item && (item.item === 'group' ? item : groupAround(session.scene, item.id));
    if (beforeIs === 'step' && bench.since) return { show: { what: 'other' } };
    if (beforeIs === 'layer' && item) return { show: { what: 'without', at: item.id } };
    if (beforeIs === 'group' && (group ?? item))
      return { show: { what: 'without', at: (group ?? item)?.id as ItemId } };
    // Pictures that are turned as they are finished begin with the blend, those of the blend with its base.
    if (whole().turned) return { show: { what: 'blend' } };
    const { base } = session.scene;
    return base ? { show: { what: 'frame', at: base } } : result.value;
  }

  const now = computed<View>(() => asItLies(looked()));
  function looked(): View {
    const { look, stencilShown } = bench.state;
    const { item, layer, place, stencilled } = tools;
    if (bench.showsOther) return { show: { what: 'other' } };
    if (bench.before || (blinking.value === 'before' && isOut.value)) return before.value;
    if (!item) return result.value;
    if (bench.tried) return { show: { what: 'tried', at: item.id, as: bench.tried } };
    // Both pictures are seen while their spots are told.
    if (tools.tool === 'pairs') return { show: { what: 'tried', at: item.id, as: 'half' } };
    if (tools.peeksInner) return { show: { what: 'inner', at: item.id } };
    if (tools.peeksClipped) return { show: { what: 'clipped', end: tools.peeksClipped, at: item.id } };
    if (tools.peeksWindow && layer) return { show: { what: 'window', at: layer.id } };
    if (tools.showsFilled && place && look === 'picture')
      return coverage('overlay', { what: 'filled', of: place.of, at: place.owner });
    if (tools.peek) return { show: { what: 'recipe', recipe: tools.peek, at: place?.owner ?? item.id } };
    if (blinking.value === 'layer') return isOut.value ? { show: { what: 'without', at: item.id } } : result.value;
    const frame = layer && frameOfLayer(layer);
    if (look === 'layer' && item.item === 'adjustment' && adjustmentKind(item.kind)?.inner)
      return { show: { what: 'inner', at: item.id } };
    if (look === 'layer')
      return {
        show: !layer
          ? { what: 'tried', at: item.id, as: 'alone' }
          : frame && layer.adjustments.length === 0
            ? { what: 'frame', at: frame }
            : { what: 'content', at: layer.id },
      };
    if (look !== 'picture') {
      if (!tools.mask || !place) return result.value;
      // A stencil has no part in the picture: there is nothing of it that counts.
      const isSingle = bench.state.shows === 'mask' || place.of === 'stencil' || tools.isMap;
      return coverage(look, { what: isSingle ? place.of : 'effect', at: place.owner });
    }
    // The stencil is seen over the picture as long as it holds the brush, when that is asked for.
    const holds = stencilled?.stencil && stencilled.stencilOn;
    return holds && stencilShown !== 'not' ? coverage(stencilShown, { what: 'stencil', at: item.id }) : result.value;
  }

  /** The same view as long as it asks for the same, so that nothing is drawn anew in between. */
  const view = shallowRef(now.value);
  watch(now, (next) => {
    if (JSON.stringify(next) !== JSON.stringify(view.value)) view.value = next;
  });

  return { view, before, blinking, toggleBlink };
}
