import { type Ref, shallowReactive } from 'vue';
import type { FrameNoise } from '#core/checks/frameNoise.ts';
import { ADJUSTMENTS } from '#core/develop/list.ts';
import type { Frame } from '#core/scene/frame.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { measuredNoise } from '../../drawing/measuredNoise.ts';
import { useEngine } from '../../stores/engine.ts';
import { useSession } from '../../stores/session.ts';
import type { Developing, FrameChange } from './useDevelop.ts';

/** Noise of the frame at hand: measured once it is first to be taken out. */
export function useNoise(frame: Ref<Frame | undefined>, developing: Developing) {
  const session = useSession();
  const engines = useEngine();
  const known = shallowReactive(new Map<string, FrameNoise>());
  let asked = 0;

  async function measured(of: Frame): Promise<FrameNoise | undefined> {
    const size = sceneSize(session.scene);
    const found = known.get(of.file.sha256);
    if (found || !size) return found;
    const { engine } = await engines.start();
    const noise = await measuredNoise(engine, { show: { what: 'frame', at: of.id, taken: true } }, size);
    if (noise) known.set(of.file.sha256, noise);
    return noise;
  }

  const withMeasured = (change: object, noise: FrameNoise | undefined) =>
    noise ? { ...change, measured: noise } : change;

  function preview(change: object): void {
    const of = frame.value;
    if (!of) return;
    developing.preview('noise', withMeasured(change, known.get(of.file.sha256)), of);
    void measured(of).catch(() => undefined);
  }

  async function commit(change: object): Promise<void> {
    const of = frame.value;
    if (!of || session.readOnly) return;
    preview(change);
    const alike = of.apart ? [of] : session.scene.frames.filter(({ apart }) => !apart);
    const turn = ++asked;
    const changes: FrameChange[] = [];
    for (const each of alike) {
      const noise = await measured(each).catch(() => undefined);
      const settings = { ...ADJUSTMENTS.noise.rest, ...of.develop.noise, ...own(each), ...withMeasured(change, noise) };
      changes.push({ frameId: each.id, change: { noise: settings } });
    }
    // Another change came while it was measured: that one takes it.
    if (turn === asked) developing.commitEach(changes);
  }

  return { preview, commit };
}

/** What was measured in a frame before. */
const own = ({ develop: { noise } }: Frame) => (noise ? { measured: noise.measured } : {});
