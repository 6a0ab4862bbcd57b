import { z } from 'zod';
import { ADJUSTMENT_NAMES, type AdjustmentName, ALIKE, faultOf, isAtRest } from '../../develop/list.ts';
import { FrameId } from '../../ids.ts';
import { defineEdit } from '../edit.ts';
import type { Frame } from '../frame.ts';
import type { Scene } from '../scene.ts';

const Settings = z.record(z.string(), z.json());

/** Settings by adjustment: those that are there are taken, null is none. */
const Change = z.partialRecord(z.enum(ADJUSTMENT_NAMES), Settings.nullable()).superRefine((change, context) => {
  const given = Object.entries(change).filter(([, settings]) => settings !== null);
  const message = faultOf(Object.fromEntries(given));
  if (message) context.addIssue({ code: 'custom', message });
});
type Change = z.infer<typeof Change>;

/** Develops frames: each takes the settings of the adjustments that are named, and keeps its others. A drag of one setting is one step. */
export const developFrames = defineEdit({
  kind: 'frames.develop',
  label: 'Develop',
  params: z.strictObject({ frameIds: z.array(FrameId), change: Change }),
  mergeKey: ({ frameIds, change }) => JSON.stringify([frameIds, Object.keys(change)]),
  apply: (scene, { frameIds, change }) => {
    const chosen = new Set(frameIds);
    const frames = scene.frames.map((frame) => (chosen.has(frame.id) ? developed(frame, change) : frame));
    return frames.some((frame, index) => frame !== scene.frames[index]) ? { ...scene, frames } : scene;
  },
});

/** Develops frames, each in its own way, as one step. */
export const developEach = defineEdit({
  kind: 'frames.developEach',
  label: 'Develop',
  params: z.strictObject({ changes: z.array(z.strictObject({ frameId: FrameId, change: Change })) }),
  mergeKey: () => 'each',
  apply: (scene, { changes }) => {
    const byFrame = new Map(changes.map(({ frameId, change }) => [frameId, change]));
    const frames = scene.frames.map((frame) => {
      const change = byFrame.get(frame.id);
      return change ? developed(frame, change) : frame;
    });
    return frames.some((frame, index) => frame !== scene.frames[index]) ? { ...scene, frames } : scene;
  },
});

/** A frame with other settings, in the order of adjustments; what is at rest leaves nothing behind. */
function developed(frame: Frame, change: Change): Frame {
  const settingsOf = (name: AdjustmentName) => (name in change ? change[name] : frame.develop[name]);
  const kept = ADJUSTMENT_NAMES.flatMap((name): [string, z.infer<typeof Settings>][] => {
    const settings = settingsOf(name);
    return settings && !isAtRest(name, settings) ? [[name, settings]] : [];
  });
  const develop = Object.fromEntries(kept);
  return JSON.stringify(develop) === JSON.stringify(frame.develop) ? frame : { ...frame, develop };
}

/** What a frame that is not set apart has of another: its lens, fringes, and strengths of noise; noise itself was measured in each. */
export function alikeWith(frame: Frame, like: Frame): Frame {
  const change: Record<string, z.infer<typeof Settings> | null> = {};
  for (const name of ALIKE) change[name] = like.develop[name] ?? null;
  const { measured } = frame.develop.noise ?? {};
  if (change.noise && measured) change.noise = { ...change.noise, measured };
  return developed(frame, change as Change);
}

/** The frame that all which are not set apart are like: the base, or the first of them. */
export const modelOf = ({ base, frames }: Scene): Frame | undefined => {
  const alike = frames.filter(({ apart }) => !apart);
  return alike.find(({ id }) => id === base) ?? alike[0];
};

/** Sets a frame apart: its lens, noise and fringes are its own then. Set back, it is as all others are again. */
export const setApart = defineEdit({
  kind: 'frame.apart',
  label: 'Set apart',
  params: z.strictObject({ frameId: FrameId, apart: z.boolean() }),
  apply: (scene, { frameId, apart }) => {
    const model = modelOf(scene);
    const frames = scene.frames.map((frame) => {
      if (frame.id !== frameId || frame.apart === apart) return frame;
      return { ...(apart || !model ? frame : alikeWith(frame, model)), apart };
    });
    return frames.some((frame, index) => frame !== scene.frames[index]) ? { ...scene, frames } : scene;
  },
});
