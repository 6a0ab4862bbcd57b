import { type FrameId, LayerId } from '../../ids.ts';
import { byExposure, type Frame, type Placement } from '../frame.ts';
import { cropFits } from '../geometry.ts';
import { frameOfLayer, type Layer, newLayer } from '../item.ts';
import { type Scene, spaceOfFrames } from '../scene.ts';
import { findItem, layersOf, mapLayers } from '../tree.ts';

/** The first layer that a frame is given: its id is known from the frame's. */
export const layerIdOf = (frame: FrameId): LayerId => LayerId.parse(`layer-${frame}`);

/** Whether anything has been done on a layer that would be lost with it. */
export const isWorkedOn = ({ mask, guard, stencil }: Layer): boolean =>
  stencil !== null || guard !== null || mask.parts.some((part) => part.kind !== 'painted' || part.strokes.length > 0);

/** The scene with other frames: its working space holds their colours, and its crop lies in them. */
export function withFrames(scene: Scene, frames: Frame[]): Scene {
  const [first] = frames;
  const { crop } = scene.geometry;
  const fits = crop && first && cropFits(crop, first, scene.geometry);
  return {
    ...scene,
    frames,
    workingSpace: spaceOfFrames(frames),
    geometry: { ...scene.geometry, crop: fits ? crop : null },
  };
}

/** Gives frames that no layer shows a hidden one each, on top; those that are left out and the base get none. */
export function withLayersFor(scene: Scene, frameIds: readonly FrameId[]): Scene {
  const shown = new Set(layersOf(scene).map(frameOfLayer));
  const baseEv = scene.frames.find(({ id }) => id === scene.base)?.shot.ev ?? 0;
  // Nearest to the base first: each next frame is then blended into a picture that is close to it already.
  const distance = ({ shot }: Frame) => (shot.ev === null ? Infinity : Math.abs(shot.ev - baseEv));
  const added = byExposure(scene.frames)
    .filter(({ id, choice }) => frameIds.includes(id) && id !== scene.base && choice !== 'out' && !shown.has(id))
    .sort((a, b) => distance(a) - distance(b) || 0);
  if (added.length === 0) return scene;
  return { ...scene, stack: [...scene.stack, ...added.map(({ id }) => newLayer(freshLayerId(scene, id), id))] };
}

function freshLayerId(scene: Scene, frame: FrameId): LayerId {
  const first = layerIdOf(frame);
  for (let n = 1; ; n++) {
    const id = n === 1 ? first : LayerId.parse(`${first}-${n}`);
    if (!findItem(scene, id)) return id;
  }
}

/** Takes the layers that show frames away.
 * @param only - Those of them that it holds for. */
export const withoutLayersOf = (
  scene: Scene,
  frameIds: readonly FrameId[],
  only: (layer: Layer) => boolean = () => true,
): Scene =>
  mapLayers(scene, (layer) => {
    const frame = frameOfLayer(layer);
    return frame !== undefined && frameIds.includes(frame) && only(layer) ? undefined : layer;
  });

/** Lays another frame at the bottom. Its layers wait in their places, and those of the former base come back; if it has none, it gets a
 * hidden one. */
export function withBase(scene: Scene, base: FrameId | null): Scene {
  const based = { ...scene, base, frames: asAlignedTo(scene, base) };
  return scene.base === null ? based : withLayersFor(based, [scene.base]);
}

/** What others were aligned to is aligned itself, where it is: scene space stays as it was when the base changes. */
function asAlignedTo({ frames, base: former }: Scene, base: FrameId | null): Frame[] {
  const isAligned = frames.some(({ id, placement }) => id === base && placement !== null);
  return frames.map((frame) =>
    isAligned && frame.id === former && frame.placement === null ? { ...frame, placement: FORMER_BASE } : frame,
  );
}

const FORMER_BASE: Placement = {
  matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1],
  model: 'none',
  verdict: 'good',
  reason: { code: 'former-base' },
  residualPx: null,
  agreement: null,
  stops: null,
};
