import { computed } from 'vue';
import {
  adviseBase,
  adviseIdle,
  adviseOrder,
  type BaseAdvice,
  type FrameFacts,
  holdingsOf,
  MOST_FRAMES,
  type OrderAdvice,
} from '#core/checks/advice.ts';
import type { Frame } from '#core/scene/scene.ts';
import { useSession } from '../../stores/session.ts';
import { useSketches } from '../../stores/sketches.ts';

/** What is proposed for the frames at hand, by place in `frames`. */
export interface Advice {
  frames: readonly Frame[];
  base: BaseAdvice;
  /** The base that the scene has, if it is another. */
  present: BaseAdvice | undefined;
  idle: { frame: number; adds: number }[];
  order: OrderAdvice;
}

/** Advice on the frames that are not left out, once all of them can be looked at. */
export function useAdvice() {
  const session = useSession();
  const sketches = useSketches();
  return computed<Advice | undefined>(() => {
    const frames = session.scene.frames.filter(({ choice }) => choice !== 'out').slice(0, MOST_FRAMES);
    const found = frames.flatMap((frame) => sketches.sketchOf(frame) ?? []);
    if (frames.length < 2 || found.length < frames.length) return undefined;
    const facts: FrameFacts[] = frames.map(({ shot, moment }) => ({ ev: shot.ev, moment }));
    const holdings = holdingsOf(found);
    const bases = adviseBase(holdings, facts);
    const [base] = bases;
    const idle = adviseIdle(holdings, facts, base.frame);
    const useful = frames
      .map((_, index) => index)
      .filter((index) => index !== base.frame && idle.every(({ frame }) => frame !== index));
    const present = bases.find(({ frame }) => frames[frame].id === session.scene.base);
    return {
      frames,
      base,
      present: present === base ? undefined : present,
      idle,
      order: adviseOrder(holdings, facts, base.frame, useful),
    };
  });
}
