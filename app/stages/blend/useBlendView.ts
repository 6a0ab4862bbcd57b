import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue';
import type { CoverageRequest, Tint, View } from '#engine/protocol.ts';
import { useBench } from '../../stores/bench.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';

/** Half a turn of a blinking layer. */
const BLINK_MS = 700;

/** What the canvas of Blend shows: the look that is chosen, or what is held or pointed at for a moment. */
export function useBlendView() {
  const session = useSession();
  const bench = useBench();
  const tools = useMaskTools();

  const isBlinking = ref(false);
  const isOut = ref(false);
  let timer: ReturnType<typeof setInterval> | undefined;
  function toggleBlink(): void {
    isBlinking.value = !isBlinking.value;
    isOut.value = false;
    clearInterval(timer);
    if (!isBlinking.value) return;
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
  function shown(look: 'grey' | 'overlay' | 'edge', asked: CoverageRequest): View {
    if (look === 'grey') return { kind: 'grey', ...asked };
    if (look === 'edge') return { kind: 'contours', colour: tint(), ...asked };
    return { kind: 'overlay', colour: tint(), strength: bench.state.overlay.strength, ...asked };
  }

  const now = computed<View>(() => {
    const { look, of, stencilShown } = bench.state;
    const { layer } = tools;
    const { base } = session.scene;
    if (bench.before && base) return { kind: 'frame', frameId: base };
    if (!layer) return { kind: 'picture' };
    if (tools.peek) return { kind: 'grey', layerId: layer.id, recipe: tools.peek };
    if (isBlinking.value) return { kind: 'picture', without: isOut.value ? layer.id : undefined };
    if (look === 'layer') return { kind: 'frame', frameId: layer.frame };
    if (look !== 'picture') return tools.mask ? shown(look, { layerId: layer.id, of }) : { kind: 'picture' };
    // The stencil is seen over the picture as long as it holds the brush, when that is asked for.
    const holds = layer.stencil && layer.stencilOn;
    if (holds && stencilShown !== 'not') return shown(stencilShown, { layerId: layer.id, of: 'stencil' });
    return { kind: 'picture' };
  });

  /** The same view as long as it asks for the same, so that nothing is drawn anew in between. */
  const view = shallowRef(now.value);
  watch(now, (next) => {
    if (JSON.stringify(next) !== JSON.stringify(view.value)) view.value = next;
  });

  return { view, isBlinking, toggleBlink };
}
