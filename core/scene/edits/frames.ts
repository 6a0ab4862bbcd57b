import { z } from 'zod';
import { FrameId } from '../../ids.ts';
import { defineEdit } from '../edit.ts';
import { byExposure, Frame } from '../frame.ts';
import { groupByTime } from '../moments.ts';
import { Scene } from '../scene.ts';
import { alikeWith, modelOf } from './developing.ts';
import { withBase, withFrames, withLayersFor, withoutLayersOf } from './layersOfFrames.ts';

/** The frame of middle exposure: the natural first proposal for a base. */
function middleFrame(frames: readonly Frame[]): FrameId | null {
  const sorted = byExposure(frames);
  return sorted[Math.floor((sorted.length - 1) / 2)]?.id ?? null;
}

/** Frames that are in no moment yet are put into one by their time: that of a frame taken shortly before or after, or a new one. */
function inMoments(frames: readonly Frame[]): Frame[] {
  const groups = groupByTime(frames);
  const named = new Map<string | undefined, string>();
  for (const { id, moment } of frames) if (moment) named.set(groups.get(id), moment);
  return frames.map((frame) => {
    if (frame.moment) return frame;
    const group = groups.get(frame.id) ?? '';
    return { ...frame, moment: named.get(group) ?? group };
  });
}

/** Takes frames into the scene; those it has already are left out. The first frames also propose the base. Frames that
 * come one after the other, each time with all before them, merge into one step. */
export const addFrames = defineEdit({
  kind: 'frames.add',
  label: 'Add frames',
  params: z.strictObject({ frames: z.array(Frame) }),
  mergeKey: () => '',
  apply: (scene, { frames }) => {
    const have = new Set(scene.frames.map(({ id }) => id));
    const fresh = frames.filter(({ id }) => !have.has(id));
    if (fresh.length === 0) return scene;
    const model = modelOf(scene);
    const alike = model ? fresh.map((frame) => (frame.apart ? frame : alikeWith(frame, model))) : fresh;
    const all = inMoments([...scene.frames, ...alike]);
    const base = scene.base ?? middleFrame(all);
    return withLayersFor(
      { ...withFrames(scene, all), base },
      fresh.map(({ id }) => id),
    );
  },
});

/** Takes a frame, and the layer that shows it, out of the scene. */
export const removeFrame = defineEdit({
  kind: 'frame.remove',
  label: 'Remove frame',
  params: z.strictObject({ frameId: FrameId }),
  apply: (scene, { frameId }) => {
    const frames = scene.frames.filter(({ id }) => id !== frameId);
    if (frames.length === scene.frames.length) return scene;
    const bare = withoutLayersOf(withFrames(scene, frames), [frameId]);
    // What was covered with it shows again.
    const left = { ...bare, retouch: bare.retouch.filter(({ frame }) => frame !== frameId) };
    const base = scene.base === frameId ? middleFrame(frames) : scene.base;
    return base === scene.base ? left : withBase(left, base);
  },
});

/** Chooses the frame at the bottom of the stack. The former base becomes a hidden layer. */
export const setBase = defineEdit({
  kind: 'scene.setBase',
  label: 'Choose base',
  params: z.strictObject({ frameId: FrameId }),
  apply: (scene, { frameId }) =>
    scene.base === frameId || !scene.frames.some(({ id }) => id === frameId) ? scene : withBase(scene, frameId),
});

/** Puts the frames in order from dark to bright. */
export const orderByExposure = defineEdit({
  kind: 'frames.orderByExposure',
  label: 'Order by exposure',
  params: z.strictObject({}),
  apply: (scene) => {
    const frames = byExposure(scene.frames);
    return frames.every((frame, index) => frame === scene.frames[index]) ? scene : { ...scene, frames };
  },
});

/** Gives the scene another name. */
export const renameScene = defineEdit({
  kind: 'scene.rename',
  label: 'Rename scene',
  params: z.strictObject({ name: z.string().trim().min(1).max(200) }),
  apply: (scene, { name }) => (name === scene.name ? scene : { ...scene, name }),
});

/** Goes back to the scene as it was when a step was named: a step of its own, which can be undone. */
export const returnTo = defineEdit({
  kind: 'scene.returnTo',
  label: 'Back to a kept step',
  params: z.strictObject({ scene: Scene }),
  apply: (_, { scene }) => scene,
});
