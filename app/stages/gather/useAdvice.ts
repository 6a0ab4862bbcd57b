import { computed } from 'vue';
import {
  adviseBase,
  adviseIdle,
  adviseOrder,
  type BaseAdvice,
  type FrameFacts,
  type IdleAdvice,
  type OrderAdvice,
} from '#core/checks/advice.ts';
import { type Holdings, holdingsOf, MOST_FRAMES } from '#core/checks/holdings.ts';
import type { Sketch } from '#core/checks/sketch.ts';
import type { Frame } from '#core/scene/frame.ts';
import { useFrames } from '../../stores/frames.ts';
import { useSession } from '../../stores/session.ts';
import { useSketches } from '../../stores/sketches.ts';

/** What is proposed for the frames at hand, by place in `frames`. */
export interface Advice {
  frames: readonly Frame[];
  base: BaseAdvice;
  /** The base that the scene has, if it is another. */
  present: BaseAdvice | undefined;
  idle: IdleAdvice['idle'];
  bridges: IdleAdvice['bridges'];
  /** Of the frames of the base's own moment: what other light is for, no tones tell. */
  order: OrderAdvice;
}

/** Advice on the frames that are not left out, once all of them can be looked at. */
export function useAdvice() {
  const session = useSession();
  const sketches = useSketches();
  const reading = useFrames();
  let last: { sketches: readonly Sketch[]; holdings: Holdings } | undefined;

  /** What frames hold, counted once for the same frames. */
  function holdingsFor(found: readonly Sketch[], isos: readonly (number | null)[]): Holdings {
    const isSame = last?.sketches.length === found.length && found.every((sketch, i) => sketch === last?.sketches[i]);
    if (!last || !isSame) last = { sketches: found, holdings: holdingsOf(found, isos) };
    return last.holdings;
  }

  return computed<Advice | undefined>(() => {
    if (reading.reading) return undefined;
    const frames = session.scene.frames.filter(({ choice }) => choice !== 'out').slice(0, MOST_FRAMES);
    const found = frames.flatMap((frame) => sketches.sketchOf(frame) ?? []);
    if (frames.length < 2 || found.length < frames.length) return undefined;
    const facts: FrameFacts[] = frames.map(({ shot, moment }) => ({ ev: shot.ev, moment }));
    const holdings = holdingsFor(
      found,
      frames.map(({ shot }) => shot.iso),
    );
    const bases = adviseBase(holdings, facts);
    const [base] = bases;
    const { idle, bridges } = adviseIdle(holdings, facts, base.frame);
    const useful = frames
      .map((_, index) => index)
      .filter((index) => index !== base.frame && facts[index].moment === facts[base.frame].moment)
      .filter((index) => idle.every(({ frame }) => frame !== index));
    const present = bases.find(({ frame }) => frames[frame].id === session.scene.base);
    return {
      frames,
      base,
      present: present === base ? undefined : present,
      idle,
      bridges,
      order: adviseOrder(holdings, facts, base.frame, useful),
    };
  });
}
