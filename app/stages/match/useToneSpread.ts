import { onBeforeUnmount, type Ref, shallowRef, watch } from 'vue';
import { sketchLevel } from '#core/checks/sketch.ts';
import { decodeSrgb } from '#core/color/srgb.ts';
import { stopsOfLight } from '#core/color/toneCodes.ts';
import { toneWeights } from '#core/color/workingSpace.ts';
import type { Frame } from '#core/scene/frame.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { drawnView } from '../../drawing/drawnView.ts';
import { useEngine } from '../../stores/engine.ts';
import { useSession } from '../../stores/session.ts';

/** Stops from one bar to the next. */
export const BAR = 0.5;

const LIGHT = Float64Array.from({ length: 256 }, (_, code) => decodeSrgb(code / 255));
/** Tries before a picture that is not to be had now is given up. */
const TRIES = 5;
const RETRY_MS = 700;

/** How a frame's tones, as it was taken, spread over stops: shares of its pixels from `low` on, bar by bar. */
export function useToneSpread(frame: Ref<Frame | undefined>, low: number, high: number) {
  const session = useSession();
  const engines = useEngine();
  const spread = shallowRef<readonly number[]>([]);
  let asked = 0;

  async function read(of: Frame, turn: number): Promise<void> {
    const { engine } = await engines.start();
    const size = sceneSize(session.scene);
    for (let go = 0; size && go < TRIES && turn === asked; go++) {
      const drawn = await drawnView(
        engine,
        { show: { what: 'frame', at: of.id, taken: true } },
        size,
        sketchLevel(size),
      );
      if (turn !== asked) return;
      if (drawn) {
        spread.value = spreadOf(drawn.rgba, low, high, toneWeights(session.scene.workingSpace));
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
    }
  }

  watch(
    () => frame.value && `${frame.value.id} ${frame.value.file.sha256}`,
    () => {
      spread.value = [];
      if (frame.value) void read(frame.value, ++asked).catch(() => undefined);
    },
    { immediate: true },
  );
  onBeforeUnmount(() => {
    asked++;
  });
  return spread;
}

/** Shares of pixels by stops.
 * @param rgba - Drawn pixels, four bytes each. */
function spreadOf(
  rgba: Uint8ClampedArray,
  low: number,
  high: number,
  [red, green, blue]: readonly [number, number, number],
): number[] {
  const bars = new Array<number>(Math.ceil((high - low) / BAR)).fill(0);
  const count = rgba.length / 4;
  for (let i = 0; i < rgba.length; i += 4) {
    const light = red * LIGHT[rgba[i]] + green * LIGHT[rgba[i + 1]] + blue * LIGHT[rgba[i + 2]];
    const bar = Math.floor((stopsOfLight(light) - low) / BAR);
    bars[Math.min(bars.length - 1, Math.max(0, bar))] += 1 / count;
  }
  return bars;
}
