import { computed, ref } from 'vue';
import type { FrameNoise } from '#core/checks/frameNoise.ts';
import { ADJUSTMENTS } from '#core/develop/list.ts';
import type { Size } from '#core/raster/size.ts';
import type { Adjustment } from '#core/scene/item.ts';
import { ownerOf } from '#core/scene/tree.ts';
import { measuredNoise } from '../../../drawing/measuredNoise.ts';
import { useEngine } from '../../../stores/engine.ts';
import { useSession } from '../../../stores/session.ts';

export type NoiseBelow = ReturnType<typeof useNoiseBelow>;

/** Less than this is no noise but what saving with loss has left of it, which tells nothing. */
const LEAST = 0.0005;

const UNKNOWN = JSON.stringify(ADJUSTMENTS.noise.rest.measured);

/** How much noise there is in what an adjustment changes, as it is without it. */
export function useNoiseBelow(adjustment: () => Adjustment, size: () => Size) {
  const session = useSession();
  const engines = useEngine();
  const isBusy = ref(false);
  /** Where nothing could be told: it is not asked again with each change. */
  const untold = new Set<string>();

  /** What was measured, as it is kept in the adjustment; undefined before. */
  const known = computed<FrameNoise | undefined>(() => {
    const { measured } = adjustment().settings as { measured?: FrameNoise };
    return measured && JSON.stringify(measured) !== UNKNOWN ? measured : undefined;
  });

  /** Measures it; undefined when nothing of it tells, or there is hardly any. */
  async function measure(): Promise<FrameNoise | undefined> {
    const { id } = adjustment();
    isBusy.value = true;
    try {
      const { engine } = await engines.start();
      const source = ownerOf(session.scene, id)?.item === 'layer' ? 'developed:layer' : 'below';
      const noise = await measuredNoise(engine, { show: { what: 'source', source, at: id } }, size());
      if (noise && Math.max(noise.brightness, noise.colour) >= LEAST) return noise;
      untold.add(id);
      return undefined;
    } finally {
      isBusy.value = false;
    }
  }

  /** Measures it if nobody has. */
  const measureFirst = async () =>
    known.value || untold.has(adjustment().id) ? undefined : await measure().catch(() => undefined);

  return { known, isBusy, measure, measureFirst };
}
