import { type Layer, relativeEvs, type Scene } from '#core/scene/scene.ts';
import { sayEv } from '../../wording.ts';

/** A frame's short label: its exposure against the middle frame, or its name where that is not known. */
export function frameLabel(scene: Scene, frameId: string): string {
  const index = scene.frames.findIndex(({ id }) => id === frameId);
  const ev = relativeEvs(scene.frames)[index];
  return ev === null || ev === undefined ? (scene.frames[index]?.file.name ?? '') : `${sayEv(ev)} EV`;
}

export const layerLabel = (scene: Scene, layer: Layer): string => frameLabel(scene, layer.frame);
