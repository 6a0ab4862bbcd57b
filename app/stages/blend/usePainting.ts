import { computed } from 'vue';
import { isEverywhere, type Recipe, reachOf } from '#core/scene/mask.ts';
import { maskAt } from '#core/scene/places.ts';
import { useBench } from '../../stores/bench.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import type { ProbeReading } from './probe.ts';

/** What the brush paints on and through: for the canvas that it paints on.
 * @param canPaint - Whether the brush has the canvas.
 * @param reading - What the probe reads under the pointer. */
export function usePainting(canPaint: () => boolean, reading: () => ProbeReading | undefined) {
  const tools = useMaskTools();
  const session = useSession();
  const bench = useBench();
  const notices = useNotices();

  /** Of the card at hand, whatever that is; strokes on the stencil itself go without it. */
  const stencil = computed(() => {
    const { stencilled, target } = tools;
    return target?.of !== 'stencil' && stencilled?.stencilOn ? stencilled.stencil : null;
  });
  const paint = computed(() =>
    canPaint() && tools.target && tools.tool === 'brush' ? { ...tools.target, part: tools.painted?.id } : undefined,
  );
  /** The stencil as it is when a stroke begins. */
  const through = (): Recipe | null =>
    stencil.value && { of: stencil.value.id, seenFrom: null, mask: stencil.value.mask };
  /** What it lets through under the pointer, 0..1; undefined without one. */
  const held = computed(() => (stencil.value ? (reading()?.stencil ?? 65535) / 65535 : undefined));
  /** How far beyond a stroke the picture changes, in scene pixels. */
  const spread = computed(() => {
    const painting = tools.target && maskAt(session.scene, tools.target);
    return painting ? reachOf(painting) : 0;
  });

  /** Whether what is painted is turned round before it counts: revealing has to take away then. */
  const turned = computed(() => {
    const painting = tools.target && maskAt(session.scene, tools.target);
    return (painting?.refine.inverted ?? false) !== (tools.painted?.refine.inverted ?? false);
  });

  /** Says why nothing happens where all shows already. */
  function tellIfAllShows(): void {
    const painting = tools.target && maskAt(session.scene, tools.target);
    const { effect, grey } = bench.state.brush;
    if (!painting || effect !== 'reveal' || grey < 1 || tools.isMap || !isEverywhere(painting)) return;
    notices.tell('All of it shows already: hide where it should not, or add a part to its mask.', {
      action: {
        label: 'Hide with the brush',
        run: () => {
          bench.state.brush.effect = 'hide';
        },
      },
    });
  }

  return { paint, through, held, spread, turned, tellIfAllShows };
}
