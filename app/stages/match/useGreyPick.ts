import { type Ref, ref } from 'vue';
import { trustIn } from '#core/checks/limits.ts';
import { decodeSrgb } from '#core/color/srgb.ts';
import { whiteOfGrey } from '#core/color/whitePoint.ts';
import type { Size } from '#core/raster/size.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Point } from '../../bench/viewTransform.ts';
import { useEngine } from '../../stores/engine.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import type { Developing } from './useDevelop.ts';

/** Pixels around a click that are averaged: so far apart, so many each way. */
const APART = 2;
const REACH = 2;
/** How many of them have to hold a colour. */
const LEAST = 13;

/** Sets the white balance so that a spot of the picture becomes grey. */
export function useGreyPick(frame: Ref<Frame | undefined>, developing: Developing) {
  const session = useSession();
  const engines = useEngine();
  const notices = useNotices();
  const isPicking = ref(false);

  /** Light of a few pixels of the frame as it was taken; undefined where it is clipped, or too dark to have a colour. */
  async function lightAt(at: Point, size: Size, of: Frame): Promise<[number, number, number] | undefined> {
    const { engine } = await engines.start();
    const sum: [number, number, number] = [0, 0, 0];
    let usable = 0;
    for (let dy = -REACH; dy <= REACH; dy++)
      for (let dx = -REACH; dx <= REACH; dx++) {
        const x = Math.min(size.width - 1, Math.max(0, at.x + dx * APART));
        const y = Math.min(size.height - 1, Math.max(0, at.y + dy * APART));
        const [rgb] = (await engine.probe([{ what: 'frame', at: of.id, taken: true }], x, y)) ?? [];
        if (!rgb || trustIn(Math.max(...rgb)) < 1) continue;
        usable++;
        for (const channel of [0, 1, 2]) sum[channel] += decodeSrgb(rgb[channel] / 65535);
      }
    return usable >= LEAST && Math.min(...sum) > 0 ? sum : undefined;
  }

  /** @param at - In pixels of the scene; beyond it nothing is picked. */
  async function pick(at: Point, size: Size): Promise<void> {
    const of = frame.value;
    if (!of || at.x < 0 || at.y < 0 || at.x >= size.width || at.y >= size.height) return;
    isPicking.value = false;
    try {
      const light = await lightAt(at, size, of);
      if (!light) {
        notices.tell('That spot is clipped or too dark to have a colour. Click a grey of middle brightness.', {
          tone: 'error',
        });
        return;
      }
      const { kelvin, tint } = whiteOfGrey(light, session.scene.workingSpace);
      developing.commit('whiteBalance', { kelvin: Math.round(kelvin), tint: Number(tint.toFixed(1)) }, of);
    } catch (error) {
      notices.tellError(error);
    }
  }

  return { isPicking, pick };
}
