import { z } from 'zod';
import { SpotId } from '../../ids.ts';
import { defineEdit } from '../edit.ts';
import { isOnPicture, RetouchSpot } from '../retouch.ts';
import { type Scene, sceneSize } from '../scene.ts';

/** Whether a spot lies on the picture, and what it is covered with can be had. */
function isSound(scene: Scene, spot: RetouchSpot): boolean {
  const size = sceneSize(scene);
  const hasFrame = spot.frame === null || scene.frames.some(({ id }) => id === spot.frame);
  return size !== undefined && hasFrame && isOnPicture(spot, size);
}

/** Covers places of the blend, after those that are covered already; what lies outside the picture, or is there already, is left out. */
export const addSpots = defineEdit({
  kind: 'retouch.add',
  label: 'Cover a spot',
  params: z.strictObject({ spots: z.array(RetouchSpot).max(2000) }),
  apply: (scene, { spots }) => {
    const known = new Set(scene.retouch.map(({ id }) => id));
    const added = spots.filter((spot) => !known.has(spot.id) && isSound(scene, spot));
    return added.length === 0 ? scene : { ...scene, retouch: [...scene.retouch, ...added] };
  },
});

/** Changes how a place is covered. Steps of one drag are one. */
export const setSpot = defineEdit({
  kind: 'retouch.set',
  label: 'Change a spot',
  params: z.strictObject({ id: SpotId, change: RetouchSpot.omit({ id: true }).partial() }),
  mergeKey: ({ id, change }) => `${id}:${Object.keys(change).sort().join()}`,
  apply: (scene, { id, change }) => {
    const spot = scene.retouch.find((each) => each.id === id);
    const next = spot && { ...spot, ...change };
    if (!next || !isSound(scene, next) || JSON.stringify(next) === JSON.stringify(spot)) return scene;
    return { ...scene, retouch: scene.retouch.map((each) => (each === spot ? next : each)) };
  },
});

/** Lets places show as they are. */
export const removeSpots = defineEdit({
  kind: 'retouch.remove',
  label: 'Remove a spot',
  params: z.strictObject({ ids: z.array(SpotId) }),
  apply: (scene, { ids }) => {
    const retouch = scene.retouch.filter(({ id }) => !ids.includes(id));
    return retouch.length === scene.retouch.length ? scene : { ...scene, retouch };
  },
});
