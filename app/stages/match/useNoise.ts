import { type Ref, shallowReactive } from 'vue';
import { type FrameNoise, measureNoise } from '#core/checks/frameNoise.ts';
import { ADJUSTMENTS } from '#core/develop/list.ts';
import { tileGrid } from '#core/raster/size.ts';
import type { Frame } from '#core/scene/frame.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { type DrawnView, drawnTile } from '../../drawing/drawnView.ts';
import { useEngine } from '../../stores/engine.ts';
import { useSession } from '../../stores/session.ts';
import type { Developing, FrameChange } from './useDevelop.ts';

/** Places where tiles are looked at, as shares of the picture each way. */
const PLACES = [0.15, 0.5, 0.85];

/** Noise of the frame at hand: measured once it is first to be taken out. */
export function useNoise(frame: Ref<Frame | undefined>, developing: Developing) {
  const session = useSession();
  const engines = useEngine();
  const known = shallowReactive(new Map<string, FrameNoise>());

  async function measured(of: Frame): Promise<FrameNoise | undefined> {
    const size = sceneSize(session.scene);
    const found = known.get(of.file.sha256);
    if (found || !size) return found;
    const { engine } = await engines.start();
    const { columns, rows } = tileGrid(size, 0);
    const spots = new Map<string, [number, number]>();
    for (const y of PLACES)
      for (const x of PLACES) {
        const spot: [number, number] = [Math.floor(x * columns), Math.floor(y * rows)];
        spots.set(String(spot), spot);
      }
    const pieces: DrawnView[] = [];
    for (const [tx, ty] of spots.values()) {
      const tile = await drawnTile(engine, { show: { what: 'frame', at: of.id, taken: true } }, tx, ty);
      if (tile) pieces.push(tile);
    }
    const noise = measureNoise(pieces);
    if (noise) known.set(of.file.sha256, noise);
    return noise;
  }

  const withMeasured = (change: object, noise: FrameNoise | undefined) =>
    noise
      ? {
          ...change,
          measured: { brightness: Number(noise.brightness.toFixed(5)), colour: Number(noise.colour.toFixed(5)) },
        }
      : change;

  function preview(change: object): void {
    const of = frame.value;
    if (!of) return;
    developing.preview('noise', withMeasured(change, known.get(of.file.sha256)), of);
    void measured(of).catch(() => undefined);
  }

  async function commit(change: object): Promise<void> {
    const of = frame.value;
    if (!of || session.readOnly) return;
    const alike = of.apart ? [of] : session.scene.frames.filter(({ apart }) => !apart);
    const changes: FrameChange[] = [];
    for (const each of alike) {
      const noise = await measured(each).catch(() => undefined);
      const settings = { ...ADJUSTMENTS.noise.rest, ...of.develop.noise, ...own(each), ...withMeasured(change, noise) };
      changes.push({ frameId: each.id, change: { noise: settings } });
    }
    developing.commitEach(changes);
  }

  return { preview, commit };
}

/** What was measured in a frame before. */
const own = ({ develop: { noise } }: Frame) => (noise ? { measured: noise.measured } : {});
