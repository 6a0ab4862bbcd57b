import type { FINISHING } from '#core/develop/list.ts';
import { deliveredFrom } from '#core/finish/turning.ts';
import type { Adjustment } from '#core/scene/item.ts';
import { type Scene, sceneSize } from '#core/scene/scene.ts';
import { turnedMap } from '../../../bench/pictureMap.ts';
import { type Drawing, distance, type Handle } from './canvasTool.ts';

type Lights = (typeof FINISHING)['lights']['rest']['lights'];
type Edges = (typeof FINISHING)['edges']['rest'];

/** Lights and edges lie on the canvas while no part of a mask is open. */
export function stepHandles(scene: Scene, { kind, settings }: Adjustment, perPixel: number) {
  if (kind === 'lights') return lightHandles((settings as { lights: Lights }).lights, perPixel);
  return kind === 'edges' ? edgeHandles(scene, settings as never) : undefined;
}

function lightHandles(lights: Lights, perPixel: number): { handles: Handle[]; drawing: Drawing } {
  const changed = (index: number, change: object) => ({
    lights: lights.map((light, i) => (i === index ? { ...light, ...change } : light)),
  });
  const handles = lights.flatMap(({ x, y, radius }, i): Handle[] => [
    {
      name: i === 0 ? 'middle' : `middle-${i}`,
      label: `Light ${i + 1}`,
      at: { x, y },
      move: (to) => changed(i, { x: to.x, y: to.y }),
    },
    {
      name: `reach-${i}`,
      label: `Reach of light ${i + 1}`,
      at: { x: x + radius, y },
      move: (to) => changed(i, { radius: Math.min(20_000, Math.max(2 * perPixel, 2, distance(to, { x, y }))) }),
    },
  ]);
  return { handles, drawing: {} };
}

/** The middle of edges lies in the picture as it is cut, or in the scene. */
function edgeHandles(scene: Scene, { middle, follows }: Edges): { handles: Handle[]; drawing: Drawing } | undefined {
  const size = sceneSize(scene);
  if (!size) return undefined;
  const cut = deliveredFrom(scene.geometry, size);
  const map = follows === 'crop' ? turnedMap(cut.fromScene) : undefined;
  const { width, height } = follows === 'crop' ? cut.size : size;
  const at = { x: middle.x * width, y: middle.y * height };
  const within = (share: number) => Math.min(1.5, Math.max(-0.5, share));
  const handle: Handle = {
    name: 'middle',
    label: 'Middle of the vignette',
    at: map ? map.toScene(at) : at,
    move: (to) => {
      const { x, y } = map ? map.fromScene(to) : to;
      return { middle: { x: within(x / width), y: within(y / height) } };
    },
  };
  return { handles: [handle], drawing: {} };
}
