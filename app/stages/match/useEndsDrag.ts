import { type Ref, ref } from 'vue';
import { decodeSrgb } from '#core/color/srgb.ts';
import { stopsOfLight } from '#core/color/toneCodes.ts';
import { toneWeights } from '#core/color/workingSpace.ts';
import { ADJUSTMENTS } from '#core/develop/list.ts';
import type { Size } from '#core/raster/size.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Point } from '../../bench/viewTransform.ts';
import { useEngine } from '../../stores/engine.ts';
import { useSession } from '../../stores/session.ts';
import type { Developing } from './useDevelop.ts';

/** Pixels of the screen for a stop, and stops against white that part darks from brights. */
const PER_STOP = 50;
const MIDDLE = -3.5;
const MOST = 4;

/** A drag: of what, from where on the screen, which end it moves once that is known, and how far up it has come. */
interface Drag {
  of: Frame;
  from: number;
  end?: 'darks' | 'brights';
  up: number;
  state: 'goes on' | 'over' | 'given up';
}

/** Dragging on the picture, up and down: dark places move the dark end, bright ones the bright end. */
export function useEndsDrag(frame: Ref<Frame | undefined>, developing: Developing) {
  const session = useSession();
  const engines = useEngine();
  const isOn = ref(false);
  let drag: Drag | undefined;

  /** @param at - In pixels of the scene.
   * @param y - On the screen. */
  async function begin(at: Point, size: Size, y: number): Promise<void> {
    const of = frame.value;
    if (!of || session.readOnly || at.x < 0 || at.y < 0 || at.x >= size.width || at.y >= size.height) return;
    const own: Drag = { of, from: y, up: 0, state: 'goes on' };
    drag = own;
    const { engine } = await engines.start();
    const [rgb] = (await engine.probe([{ what: 'frame', at: of.id, taken: true }], at.x, at.y)) ?? [];
    if (!rgb) return;
    const [r, g, b] = toneWeights(session.scene.workingSpace);
    const [red, green, blue] = rgb.map((code) => decodeSrgb(code / 65535));
    const tone =
      stopsOfLight(r * red + g * green + b * blue) + ((of.develop.exposure?.stops as number | undefined) ?? 0);
    own.end = tone < MIDDLE ? 'darks' : 'brights';
    if (own.up !== 0 && own.state !== 'given up') show(own);
  }

  function changed({ of, end, up }: Drag) {
    const ends = { ...ADJUSTMENTS.ends.rest, ...of.develop.ends } as (typeof ADJUSTMENTS)['ends']['rest'];
    const was = ends[end ?? 'darks'];
    const stops = Math.min(MOST, Math.max(-MOST, Math.round((was.stops + up / PER_STOP) * 20) / 20));
    return { [end ?? 'darks']: { ...was, stops: Number(stops.toFixed(2)) } };
  }

  function show(own: Drag): void {
    // What is read of the picture may come after the hand has let go.
    if (!own.end) return;
    if (own.state === 'over') developing.commit('ends', changed(own), own.of);
    else developing.preview('ends', changed(own), own.of);
  }

  function move(y: number): void {
    if (!drag) return;
    drag.up = drag.from - y;
    show(drag);
  }

  function end(): void {
    const own = drag;
    drag = undefined;
    if (!own || own.up === 0) return;
    own.state = 'over';
    show(own);
  }

  function cancel(): void {
    if (!drag) return;
    drag.state = 'given up';
    drag = undefined;
    developing.cancel();
  }

  return { isOn, begin, move, end, cancel };
}
