import { computed, shallowRef, watch } from 'vue';
import { rangesAround } from '#core/masks/picking.ts';
import type { Size } from '#core/raster/size.ts';
import { type Mask, maskOfParts, plainPart, type Recipe } from '#core/scene/mask.ts';
import { AT_REST } from '#core/scene/refinements.ts';
import type { DrawnView } from '../../bench/drawnView.ts';
import { useBench } from '../../stores/bench.ts';
import { useFrames } from '../../stores/frames.ts';
import type { ScenePoint } from '../../stores/maskTools.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import { usePicking } from './usePicking.ts';

/** Lets everything through. */
const OPEN: Mask = { ...maskOfParts([]), refine: { ...AT_REST, inverted: true } };

/** What a stroke is painted through: the layer's stencil as it is now, and the colour that it begins on. */
export function useThrough(size: () => Size) {
  const session = useSession();
  const bench = useBench();
  const tools = useMaskTools();
  const frames = useFrames();
  const { drawnSketch, colourAt } = usePicking(size);

  /** The base, small, to read colours from as soon as a stroke begins. */
  const sketch = shallowRef<DrawnView>();
  const wanted = computed(() => bench.state.brush.keepTo > 0 && session.scene.base);
  watch(
    [wanted, () => frames.arrivals],
    async ([frameId]) => {
      sketch.value = frameId ? await drawnSketch({ kind: 'frame', frameId }) : undefined;
    },
    { immediate: true },
  );

  function within({ x, y }: ScenePoint): Mask | undefined {
    const tolerance = bench.state.brush.keepTo;
    const drawn = sketch.value;
    if (tolerance === 0 || !drawn) return undefined;
    const [column, row] = [Math.floor(x / drawn.step), Math.floor(y / drawn.step)];
    if (column < 0 || row < 0 || column >= drawn.width || row >= drawn.height) return undefined;
    const ranges = rangesAround(colourAt(drawn, row * drawn.width + column), tolerance);
    return maskOfParts([{ kind: 'colour', ...plainPart('colour'), source: 'base', ...ranges }]);
  }

  return (at: ScenePoint): Recipe | null => {
    const { layer, place } = tools;
    const stencil = place?.of !== 'stencil' && layer?.stencilOn ? layer.stencil : null;
    const kept = within(at);
    if (!stencil && !kept) return null;
    return { of: stencil?.id ?? null, seenFrom: null, mask: stencil?.mask ?? OPEN, ...(kept ? { within: kept } : {}) };
  };
}
