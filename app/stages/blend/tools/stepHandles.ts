import type { FINISHING } from '#core/develop/list.ts';
import { deliveredFrom } from '#core/finish/turning.ts';
import type { Size } from '#core/raster/size.ts';
import type { Adjustment } from '#core/scene/item.ts';
import { type Scene, sceneSize } from '#core/scene/scene.ts';
import { SCENE_ITSELF, turnedMap } from '../../../bench/pictureMap.ts';
import type { Point } from '../../../bench/viewTransform.ts';
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

/** Farthest that the middle of edges lies outside, in sides of the picture. */
const within = (share: number) => Math.min(1.5, Math.max(-0.5, share));

/** Where the middle of edges lies in the scene, and the change that puts it elsewhere: it is kept in shares of the picture as it is cut, or of all
 * that was taken. */
function middleOf(scene: Scene, follows: Edges['follows'], size: Size) {
  const cut = deliveredFrom(scene.geometry, size);
  const map = follows === 'crop' ? turnedMap(cut.fromScene) : SCENE_ITSELF;
  const { width, height } = follows === 'crop' ? cut.size : size;
  return {
    inScene: ({ x, y }: Point) => map.toScene({ x: x * width, y: y * height }),
    shares: (at: Point) => {
      const { x, y } = map.fromScene(at);
      return { x: within(x / width), y: within(y / height) };
    },
  };
}

function edgeHandles(scene: Scene, { middle, follows }: Edges): { handles: Handle[]; drawing: Drawing } | undefined {
  const size = sceneSize(scene);
  if (!size) return undefined;
  const { inScene, shares } = middleOf(scene, follows, size);
  const handle: Handle = {
    name: 'middle',
    label: 'Middle of the vignette',
    at: inScene(middle),
    move: (to) => ({ middle: shares(to) }),
  };
  return { handles: [handle], drawing: {} };
}

/** Edges that follow the crop, or stay: their middle remains at the place of the picture where it was put. */
export function followed(scene: Scene, { middle, follows }: Edges, next: Edges['follows']): Partial<Edges> {
  const size = sceneSize(scene);
  // Nobody moved it: it is the middle of either.
  const isCentred = middle.x === 0.5 && middle.y === 0.5;
  if (!size || isCentred) return { follows: next };
  return { follows: next, middle: middleOf(scene, next, size).shares(middleOf(scene, follows, size).inScene(middle)) };
}
