import { z } from 'zod';
import { defineEdit } from '../edit.ts';
import { FrameId, LayerId } from '../ids.ts';
import { newMask } from '../mask.ts';
import { groupByTime } from '../moments.ts';
import { byExposure, Frame, type Layer, type Scene, spaceOfFrames } from '../scene.ts';
import { settleGroups } from './groups.ts';

/** The layer that shows a frame; one frame has one layer, so the frame's id serves. */
export const layerIdOf = (frame: FrameId): LayerId => LayerId.parse(`layer-${frame}`);

function newLayer(frame: FrameId): Layer {
  return {
    id: layerIdOf(frame),
    frame,
    mask: newMask(),
    guard: null,
    stencil: null,
    stencilOn: false,
    group: null,
    opacity: 1,
    visible: true,
  };
}

/** Whether anything has been done on a layer that would be lost with it. */
const isWorkedOn = ({ mask, guard, stencil }: Layer): boolean =>
  stencil !== null || guard !== null || mask.parts.some((part) => part.kind !== 'painted' || part.strokes.length > 0);

/** The crop, unless the frames that it was made for are gone. */
function cropWithin({ crop, frames: [first] }: Scene): Scene['crop'] {
  const fits = crop && first && crop.x + crop.width <= first.width && crop.y + crop.height <= first.height;
  return fits ? crop : null;
}

/** Rebuilds the stack, and chooses the working space, after frames, choices or base changed: layers keep their masks, new frames get hidden layers on top,
 * and frames that are left out get none, unless theirs has been worked on. */
export function restack(scene: Scene): Scene {
  const worked = new Set(scene.stack.filter(isWorkedOn).map(({ frame }) => frame));
  const wanted = scene.frames
    .filter(({ id, choice }) => id !== scene.base && (choice !== 'out' || worked.has(id)))
    .map(({ id }) => id);
  const kept = scene.stack.filter(({ frame }) => wanted.includes(frame));
  const have = new Set(kept.map(({ frame }) => frame));
  const baseEv = scene.frames.find(({ id }) => id === scene.base)?.shot.ev ?? 0;
  // Nearest to the base first: each next frame is then blended into a picture that is close to it already.
  const distance = ({ shot }: Frame) => (shot.ev === null ? Infinity : Math.abs(shot.ev - baseEv));
  const added = byExposure(scene.frames)
    .filter(({ id }) => wanted.includes(id) && !have.has(id))
    .sort((a, b) => distance(a) - distance(b) || 0);
  const stack = [...kept, ...added.map(({ id }) => newLayer(id))];
  return settleGroups({ ...scene, workingSpace: spaceOfFrames(scene.frames), crop: cropWithin(scene), stack });
}

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
    const all = inMoments([...scene.frames, ...fresh]);
    return restack({ ...scene, frames: all, base: scene.base ?? middleFrame(all) });
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
    const base = scene.base === frameId ? middleFrame(frames) : scene.base;
    return restack({ ...scene, frames, base });
  },
});

/** Chooses the frame at the bottom of the stack. The former base becomes a hidden layer. */
export const setBase = defineEdit({
  kind: 'scene.setBase',
  label: 'Choose base',
  params: z.strictObject({ frameId: FrameId }),
  apply: (scene, { frameId }) =>
    scene.base === frameId || !scene.frames.some(({ id }) => id === frameId)
      ? scene
      : restack({ ...scene, base: frameId }),
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
