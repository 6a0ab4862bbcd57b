import { type Ref, ref } from 'vue';
import { DecodeError } from '#codecs/decodeError.ts';
import type { Frame } from '#core/scene/frame.ts';
import { Lane } from '#engine/lanes.ts';
import { plain } from '../../plain.ts';
import { useEngine } from '../../stores/engine.ts';
import { useNotices } from '../../stores/notices.ts';
import type { Developing } from './useDevelop.ts';

/** Digits that a share of a picture's size is kept with: thousandths of a pixel. */
const DIGITS = 6;

/** Colours that lie apart by less at the corners, in pixels, lie on each other. */
const LEAST_PX = 0.05;

/** Finds how far apart the lens drew the colours of the frame at hand. */
export function useFringes(frame: Ref<Frame | undefined>, developing: Developing) {
  const engines = useEngine();
  const notices = useNotices();
  /** How far the search has come, while it runs. */
  const share = ref<number>();

  async function find(): Promise<void> {
    const of = frame.value;
    if (!of || share.value !== undefined) return;
    share.value = 0;
    try {
      const { aligner, engine } = await engines.start();
      engine.advance(Lane.Align);
      const { file, reading, width, height } = of;
      const found = await aligner.findApart({ frame: plain({ file, reading, width, height }) }, (now) => {
        share.value = now;
      });
      if (frame.value?.id !== of.id) return;
      if (!found) {
        notices.tell(
          'Too little in this frame tells how far its colours lie apart. Try one with more detail towards the corners.',
        );
        return;
      }
      const [red, blue] = [found.red, found.blue].map((scale) => Number(scale.toFixed(DIGITS)));
      const corner = Math.hypot(width, height) / 2;
      if (Math.max(Math.abs(red), Math.abs(blue)) * corner < LEAST_PX) {
        developing.commit('fringes', { red: 0, blue: 0 }, of);
        notices.tell('Red and blue lie where green does: there is nothing to lay on each other.');
        return;
      }
      developing.commit('fringes', { red, blue }, of);
      notices.tell(
        `At the corners red lies ${say(red * corner)} px and blue ${say(blue * corner)} px outside green; they are laid on it.`,
      );
    } catch (error) {
      if (!(error instanceof DecodeError && error.code === 'cancelled')) notices.tellError(error);
    } finally {
      share.value = undefined;
    }
  }

  function stop(): void {
    engines.running?.engine.advance(Lane.Align);
  }

  return { share, find, stop };
}

const say = (pixels: number): string => pixels.toFixed(1).replace('-', '−');
