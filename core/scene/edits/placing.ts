import { z } from 'zod';
import { FrameId } from '../../ids.ts';
import { defineEdit } from '../edit.ts';
import { type Frame, LocalFit, Placement } from '../frame.ts';
import { Crop } from '../geometry.ts';
import { mapFrames } from './gather.ts';

const isSame = (a: Placement | null, b: Placement | null) => JSON.stringify(a) === JSON.stringify(b);

/** A local fit belongs to the placement that it was found on. */
const withPlacement = (frame: Frame, placement: Placement | null): Frame =>
  isSame(frame.placement, placement) ? frame : { ...frame, placement, local: null };

const Found = z.strictObject({ frameId: FrameId, placement: Placement });

/** Takes over what the search found; steps of one search, each with all before it, are one. A placement that failed leaves the frame
 * where it is; locked frames stay. */
export const takePlacements = defineEdit({
  kind: 'frames.takePlacements',
  label: 'Align frames',
  params: z.strictObject({ found: z.array(Found) }),
  mergeKey: () => '',
  apply: (scene, { found }) => {
    const byId = new Map(found.map((each) => [each.frameId, each]));
    return mapFrames(scene, [...byId.keys()], (frame) => {
      const { placement } = byId.get(frame.id) ?? {};
      return frame.locked || !placement || placement.verdict === 'failed' ? frame : withPlacement(frame, placement);
    });
  },
});

/** Places frames by hand; steps of one drag on the same frames are one. */
export const placeFrames = defineEdit({
  kind: 'frames.place',
  label: 'Place by hand',
  params: z.strictObject({ frameIds: z.array(FrameId), placement: Placement.nullable() }),
  mergeKey: ({ frameIds }) => frameIds.join(),
  apply: (scene, { frameIds, placement }) => mapFrames(scene, frameIds, (frame) => withPlacement(frame, placement)),
});

/** Goes back to what the search found last. */
export const restoreFound = defineEdit({
  kind: 'frames.restoreFound',
  label: 'Back to what was found',
  params: z.strictObject({ found: z.array(Found) }),
  apply: (scene, { found }) => {
    const byId = new Map(found.map(({ frameId, placement }) => [frameId, placement]));
    return mapFrames(scene, [...byId.keys()], (frame) => {
      const placement = byId.get(frame.id);
      return !placement || placement.verdict === 'failed' ? frame : withPlacement(frame, placement);
    });
  },
});

/** Moves a placed frame further from place to place, or no more. */
export const setLocalFit = defineEdit({
  kind: 'frames.setLocalFit',
  label: 'Local fit',
  params: z.strictObject({ frameId: FrameId, local: LocalFit.nullable() }),
  apply: (scene, { frameId, local }) =>
    mapFrames(scene, [frameId], (frame) => (frame.local === local ? frame : { ...frame, local })),
});

/** Locks placements, or unlocks them. */
export const setLocked = defineEdit({
  kind: 'frames.setLocked',
  label: 'Lock placement',
  params: z.strictObject({ frameIds: z.array(FrameId), locked: z.boolean() }),
  apply: (scene, { frameIds, locked }) =>
    mapFrames(scene, frameIds, (frame) => (frame.locked === locked ? frame : { ...frame, locked })),
});

/** Chooses the part of the scene that is delivered; null for all of it. */
export const setCrop = defineEdit({
  kind: 'scene.setCrop',
  label: 'Crop',
  params: z.strictObject({ crop: Crop.nullable() }),
  apply: (scene, { crop }) =>
    JSON.stringify(scene.geometry.crop) === JSON.stringify(crop)
      ? scene
      : { ...scene, geometry: { ...scene.geometry, crop } },
});
