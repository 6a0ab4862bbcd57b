import { defineStore } from 'pinia';
import { shallowRef, watch } from 'vue';
import { type Sketch, sketchLevel } from '#core/checks/sketch.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Engine } from '#engine/engine.ts';
import { drawnView } from '../drawing/drawnView.ts';
import { useEngine } from './engine.ts';
import { pixelsName, useFrames } from './frames.ts';
import { useSession } from './session.ts';

/** Before a sketch that was not to be had is asked for again. */
const PATIENCE_MS = 250;

/** Small pictures of the frames, from which they are judged. */
export const useSketches = defineStore('sketches', () => {
  const session = useSession();
  const frames = useFrames();
  const engines = useEngine();
  const made = shallowRef<ReadonlyMap<string, Sketch>>(new Map());
  let busy = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const sketchOf = (frame: Frame): Sketch | undefined => made.value.get(pixelsName(frame));

  /** Makes the sketches that are missing, one after the other. */
  async function collect(): Promise<void> {
    if (busy) return;
    busy = true;
    const { engine } = await engines.start();
    const names = new Set(session.scene.frames.map(pixelsName));
    made.value = new Map([...made.value].filter(([name]) => names.has(name)));
    const wanted = session.scene.frames.filter((frame) => frames.isLoaded(frame) && !sketchOf(frame));
    for (const frame of wanted) {
      const sketch = await drawSketch(engine, frame);
      if (sketch) made.value = new Map(made.value).set(pixelsName(frame), sketch);
    }
    busy = false;
    const missing = session.scene.frames.some((frame) => frames.isLoaded(frame) && !sketchOf(frame));
    clearTimeout(timer);
    if (missing) timer = setTimeout(() => void collect(), PATIENCE_MS);
  }
  watch(() => [session.scene.frames, frames.arrivals], collect, { immediate: true });

  return { made, sketchOf };
});

/** A frame drawn small, as it was taken; undefined when it was not to be had. */
function drawSketch(engine: Engine, frame: Frame): Promise<Sketch | undefined> {
  return drawnView(engine, { show: { what: 'frame', at: frame.id, taken: true } }, frame, sketchLevel(frame));
}
