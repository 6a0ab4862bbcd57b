import { ref } from 'vue';
import { DecodeError } from '#codecs/decodeError.ts';
import { mapPoint } from '#core/align/placement.ts';
import type { DustFrame } from '#core/finish/findDust.ts';
import { IDENTITY3 } from '#core/raster/matrix3.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { Lane } from '#engine/lanes.ts';
import { drawnView } from '../../drawing/drawnView.ts';
import { useEngine } from '../../stores/engine.ts';
import { useFinish } from '../../stores/finish.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { useSpots } from './useSpots.ts';

/** Frames are looked through at most this wide or high: dust is small, and it takes seconds. */
const LARGEST_SIDE = 2100;

/** Dust that is looked for in all frames, and visited place by place. */
export function useDust() {
  const session = useSession();
  const engines = useEngine();
  const finish = useFinish();
  const notices = useNotices();
  const { cover } = useSpots();
  /** How far it has come, 0..1, while it looks. */
  const progress = ref<number>();
  let isStopped = false;

  /** Looks through all frames. Resolves once there is a place to visit, or it was told that there is none. */
  async function find(): Promise<void> {
    const size = sceneSize(session.scene);
    if (!size) return;
    progress.value = 0;
    isStopped = false;
    try {
      const { engine, aligner } = await engines.start();
      const level = Math.max(0, Math.ceil(Math.log2(Math.max(size.width, size.height) / LARGEST_SIDE)));
      const wanted = session.scene.frames.filter(({ choice }) => choice !== 'out');
      const taken: DustFrame[] = [];
      for (const { id, placement } of wanted) {
        const sketch = await drawnView(engine, { show: { what: 'frame', at: id, taken: true } }, size, level);
        if (isStopped) return;
        if (sketch) taken.push({ sketch, placement: [...(placement?.matrix ?? IDENTITY3)] });
        progress.value = taken.length / wanted.length / 2;
      }
      const found = await aligner.findDust({ frames: taken, step: 2 ** level }, (share) => {
        progress.value = 0.5 + share / 2;
      });
      if (isStopped) return;
      const base = session.scene.frames.find(({ id }) => id === session.scene.base)?.placement?.matrix ?? IDENTITY3;
      const open = found
        .map((each) => ({ ...each, ...mapPoint(base, each) }))
        .filter(
          (each) =>
            !session.scene.retouch.some(({ path: [at], radius }) => Math.hypot(at.x - each.x, at.y - each.y) < radius),
        );
      finish.dust = open.length > 0 ? { found: open, at: 0 } : undefined;
      if (open.length === 0)
        notices.tell('Nothing was found that stands at one place of all frames. “See spots” shows what is left.');
    } catch (error) {
      if (!(error instanceof DecodeError && error.code === 'cancelled')) notices.tellError(error);
    } finally {
      progress.value = undefined;
    }
  }
  function stop(): void {
    isStopped = true;
    engines.running?.engine.advance(Lane.Dust);
  }

  function next(): void {
    const { dust } = finish;
    finish.dust = dust && dust.at + 1 < dust.found.length ? { ...dust, at: dust.at + 1 } : undefined;
  }
  /** Covers the place that is visited, out of the blend: other frames have the same dust. */
  async function accept(): Promise<void> {
    const { speck } = finish;
    if (speck)
      await cover([{ x: speck.x, y: speck.y }], {
        radius: speck.radius,
        how: finish.how === 'clone' ? 'clone' : 'heal',
      });
    next();
  }

  return { progress, find, stop, next, accept };
}
