import { onMounted, shallowRef, watch } from 'vue';
import type { Histogram } from '#core/render/plan/readings.ts';
import type { RenderRequest } from '#core/render/plan/request.ts';
import type { Lane } from '#engine/lanes.ts';
import { viewRest } from '../../bench/viewRest.ts';
import { useEngine } from '../../stores/engine.ts';
import { useFrames } from '../../stores/frames.ts';
import { useSession } from '../../stores/session.ts';

/** It waits for a pause in the editing, and until the picture rests, so that it never holds that up: but for so long at most. */
const PAUSE_MS = 120;
const MOST_WAIT_MS = 1000;

/** The histogram of what a request names, following the scene. */
export function useHistogram(lane: Lane, of: () => RenderRequest, level: () => number) {
  const engines = useEngine();
  const session = useSession();
  const frames = useFrames();
  const histogram = shallowRef<Histogram>();
  let timer: ReturnType<typeof setTimeout> | undefined;

  async function measure(): Promise<void> {
    if (frames.reading) return;
    const { engine } = await engines.start();
    await viewRest(MOST_WAIT_MS);
    engine.advance(lane);
    try {
      histogram.value = (await engine.histogram(lane, of(), level())) ?? histogram.value;
    } catch {
      histogram.value = undefined; // a frame is missing; the canvas tells of it
    }
  }

  function later(): void {
    clearTimeout(timer);
    timer = setTimeout(() => void measure(), PAUSE_MS);
  }
  onMounted(later);
  watch(() => [session.scene, JSON.stringify(of()), frames.reading, frames.arrivals], later);
  return histogram;
}
