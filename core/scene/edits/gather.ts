import { z } from 'zod';
import { FrameId } from '../../ids.ts';
import { isRawFormat, Reading, readingText } from '../../reading.ts';
import { defineEdit } from '../edit.ts';
import type { Frame } from '../frame.ts';
import { frameOfLayer, type Item, type Layer } from '../item.ts';
import { byTime, groupByTime } from '../moments.ts';
import { type Scene, spaceOfFrames } from '../scene.ts';
import { leavesOf, mapItems, mapLayers } from '../tree.ts';
import { isWorkedOn, withBase, withLayersFor, withoutLayersOf } from './layersOfFrames.ts';

const MomentName = z.string().trim().min(1).max(80);

/** The scene with some frames changed; the same scene when none is. */
export function mapFrames(scene: Scene, ids: readonly FrameId[], change: (frame: Frame) => Frame): Scene {
  let changed = false;
  const frames = scene.frames.map((frame) => {
    const next = ids.includes(frame.id) ? change(frame) : frame;
    changed ||= next !== frame;
    return next;
  });
  return changed ? { ...scene, frames } : scene;
}

/** Puts frames into a moment, new or there already: splits and joins moments. */
export const setMoment = defineEdit({
  kind: 'frames.setMoment',
  label: 'Regroup frames',
  params: z.strictObject({ frameIds: z.array(FrameId), moment: MomentName }),
  apply: (scene, { frameIds, moment }) =>
    mapFrames(scene, frameIds, (frame) => (frame.moment === moment ? frame : { ...frame, moment })),
});

/** Gives a moment another name; the name of another moment joins the two. */
export const renameMoment = defineEdit({
  kind: 'moment.rename',
  label: 'Rename moment',
  params: z.strictObject({ from: z.string(), to: MomentName }),
  apply: (scene, { from, to }) => {
    const ids = scene.frames.filter(({ moment }) => moment === from).map(({ id }) => id);
    return from === to ? scene : mapFrames(scene, ids, (frame) => ({ ...frame, moment: to }));
  },
});

/** Groups all frames anew by the pauses between them. */
export const groupFrames = defineEdit({
  kind: 'frames.group',
  label: 'Group by time',
  params: z.strictObject({}),
  apply: (scene) => {
    const moments = groupByTime(scene.frames);
    const ids = scene.frames.map(({ id }) => id);
    return mapFrames(scene, ids, (frame) => {
      const moment = moments.get(frame.id) ?? '';
      return moment === frame.moment ? frame : { ...frame, moment };
    });
  },
});

/** Says whether frames are wanted. Those left out stay in the scene, but leave the stack; a layer that has been worked on
 * stays and is only not shown. */
export const setChoice = defineEdit({
  kind: 'frames.setChoice',
  label: 'Choose frames',
  params: z.strictObject({ frameIds: z.array(FrameId), choice: z.enum(['pick', 'maybe', 'out']) }),
  apply: (scene, { frameIds, choice }) => withChoice(scene, frameIds, choice),
});

/** Wants some frames and leaves others out, as when a moment holds several brackets. */
export const keepFrames = defineEdit({
  kind: 'frames.keep',
  label: 'Choose a bracket',
  params: z.strictObject({ keep: z.array(FrameId), leave: z.array(FrameId) }),
  apply: (scene, { keep, leave }) => withChoice(withChoice(scene, leave, 'out'), keep, 'pick'),
});

function withChoice(scene: Scene, frameIds: readonly FrameId[], choice: Frame['choice']): Scene {
  const changed = mapFrames(scene, frameIds, (frame) => (frame.choice === choice ? frame : { ...frame, choice }));
  if (changed === scene) return scene;
  const visible = choice !== 'out';
  const shown = mapLayers(changed, (layer) => {
    const frame = frameOfLayer(layer);
    return frame && frameIds.includes(frame) && layer.visible !== visible ? { ...layer, visible } : layer;
  });
  return visible ? withLayersFor(shown, frameIds) : withoutLayersOf(shown, frameIds, (layer) => !isWorkedOn(layer));
}

/** Gives a frame a short name; empty for the one that its shot data give it. */
export const setLabel = defineEdit({
  kind: 'frame.setLabel',
  label: 'Label frame',
  params: z.strictObject({ frameId: FrameId, label: z.string().trim().max(40) }),
  apply: (scene, { frameId, label }) =>
    mapFrames(scene, [frameId], (frame) => (frame.label === label ? frame : { ...frame, label })),
});

/** Puts the frames in order of time or of name. */
export const orderFrames = defineEdit({
  kind: 'frames.order',
  label: 'Order frames',
  params: z.strictObject({ by: z.enum(['time', 'name']) }),
  apply: (scene, { by }) => {
    const byName = () =>
      [...scene.frames].sort((a, b) => a.file.name.localeCompare(b.file.name, 'en', { numeric: true }));
    const frames = by === 'time' ? byTime(scene.frames) : byName();
    return frames.every((frame, index) => frame === scene.frames[index]) ? scene : { ...scene, frames };
  },
});

/** Frames whose files are read another way together with one of them: all of its kind that are not set apart. */
export function readAlike({ frames }: Scene, frame: Frame, reading: Partial<Reading>): FrameId[] {
  const isConcerned = ({ format, profile }: Frame) =>
    reading.demosaic ? isRawFormat(format) : !isRawFormat(format) && profile === null;
  const others = frame.apart ? [] : frames.filter((each) => !each.apart && isConcerned(each));
  return [...new Set([frame.id, ...others.map(({ id }) => id)])];
}

/** Reads the files of frames another way. */
export const setReading = defineEdit({
  kind: 'frames.setReading',
  label: 'Read another way',
  params: z.strictObject({
    frameIds: z.array(FrameId),
    reading: Reading.pick({ demosaic: true, untagged: true }).partial(),
  }),
  apply: (scene, { frameIds, reading }) => {
    // What a file without a profile is taken to be in decides how much room its colours need.
    const { untagged } = reading;
    const space = untagged === undefined ? {} : ({ space: untagged === 'srgb' ? 'srgb' : 'bt2020' } as const);
    const read = mapFrames(scene, frameIds, (frame) => {
      const next = { ...frame.reading, ...space, ...reading };
      return readingText(next) === readingText(frame.reading) ? frame : { ...frame, reading: next };
    });
    return read === scene ? scene : { ...read, workingSpace: spaceOfFrames(read.frames) };
  },
});

/** Takes over brightnesses that were estimated from the pictures, for frames whose camera wrote none. */
export const setEstimates = defineEdit({
  kind: 'frames.setEstimates',
  label: 'Estimate exposures',
  params: z.strictObject({ evs: z.array(z.strictObject({ frameId: FrameId, ev: z.number() })) }),
  apply: (scene, { evs }) => {
    const found = new Map(evs.map(({ frameId, ev }) => [frameId, ev]));
    return mapFrames(scene, [...found.keys()], (frame) => {
      const isKnown = frame.shot.ev !== null && !frame.shot.estimated;
      const ev = found.get(frame.id) ?? null;
      return isKnown || ev === frame.shot.ev ? frame : { ...frame, shot: { ...frame.shot, ev, estimated: true } };
    });
  },
});

const sortedBy = (items: readonly Item[], place: (item: Item) => number): Item[] =>
  [...items].sort((a, b) => place(a) - place(b));

/** Prepares the stack: a base at the bottom, other frames above it in an order, from the base upwards; frames that are not
 * named keep their order above these. Masks stay with their frames. */
export const prepareStack = defineEdit({
  kind: 'stack.prepare',
  label: 'Prepare the stack',
  params: z.strictObject({ base: FrameId, order: z.array(FrameId) }),
  apply: (scene, { base, order }) => {
    if (!scene.frames.some(({ id }) => id === base)) return scene;
    const based = base === scene.base ? scene : withBase(scene, base);
    const place = (layer: Layer) => {
      const frame = frameOfLayer(layer);
      return frame && order.includes(frame) ? order.indexOf(frame) : order.length;
    };
    const placeOf = (item: Item) =>
      Math.min(
        order.length,
        ...leavesOf([item]).map((leaf) => (leaf.item.item === 'layer' ? place(leaf.item) : order.length)),
      );
    const sorted = mapItems(based.stack, (item) =>
      item.item === 'group' ? { ...item, items: sortedBy(item.items, placeOf) } : item,
    );
    return { ...based, stack: sortedBy(sorted, placeOf) };
  },
});
