import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { randomDevelop } from '../../tests/randomDevelop.ts';
import { randomStack } from '../../tests/randomStack.ts';
import { edit, nodeOf, setUp, size } from '../../tests/renderScene.ts';
import { planeOfNode } from '../../tests/smallScene.ts';
import { ItemId, SpotId } from '../ids.ts';
import { plainPart } from '../parts/partBase.ts';
import { allTiles } from '../raster/region.ts';
import { setItem } from '../scene/edits/items.ts';
import { addSpots } from '../scene/edits/retouching.ts';
import { addAdjustment } from '../scene/edits/stack.ts';
import { setGeometry } from '../scene/edits/turning.ts';
import type { Frame } from '../scene/frame.ts';
import type { Geometry } from '../scene/geometry.ts';
import type { RetouchSpot } from '../scene/retouch.ts';
import type { Scene } from '../scene/scene.ts';
import { leavesOf } from '../scene/tree.ts';
import { isPicture, type RenderRequest } from './plan/request.ts';
import { writeTile } from './plan/writing.ts';
import type { TileNode } from './tiles/renderContext.ts';

const { made } = setUp();
/** But for a vignette, which follows the crop. */
const STEPS = ['levels', 'ends', 'localContrast', 'softGlow', 'highPass', 'lights', 'dodgeBurn', 'colour'] as const;

/** A picture's samples, interleaved, or a plane's. */
function samplesOf(node: TileNode, picture: boolean): { samples: Uint16Array; width: number; channels: number } {
  const { width, height } = node.extent.size;
  if (!picture) return { samples: planeOfNode(node, 0, 0, { width, height }, made.context), width, channels: 1 };
  const image = { region: { x: 0, y: 0, width, height }, pixels: new Uint16Array(width * height * 3) };
  for (const { tx, ty } of allTiles({ width, height }, 0)) writeTile(node, tx, ty, image, made.context);
  return { samples: image.pixels, width, channels: 3 };
}

/** A stack of all kinds, or none, on frames that are developed or not, with spots or without, some or no steps above it, some of them hidden. */
function randomFinished(seed: string): { scene: Scene; steps: ItemId[] } {
  const random = alea(seed);
  let scene = randomStack(made.scene, seed);
  if (random() < 0.3) scene = { ...scene, stack: [] };
  const develop = (i: number) =>
    Object.fromEntries(Object.entries(randomDevelop(`${seed} ${i}`)).filter(() => random() < 0.4));
  if (random() < 0.6)
    scene = {
      ...scene,
      frames: scene.frames.map((frame, i) => ({ ...frame, develop: develop(i) as Frame['develop'] })),
    };
  const spots = Array.from({ length: Math.floor(3 * random()) }, (_, i): RetouchSpot => {
    const at = { x: 300 * random(), y: 210 * random() };
    const path = random() < 0.5 ? [at] : [at, { x: at.x + 20, y: at.y + 12 }];
    return {
      ...{ id: SpotId.parse(`spot-${i}`), path, radius: 5 + 10 * random(), soft: random(), by: { x: 30, y: -14 } },
      ...{ how: random() < 0.5 ? 'heal' : 'clone', flip: 'none', frame: null, stops: 0, opacity: 1 },
      visible: random() < 0.8,
    };
  });
  if (spots.length > 0) scene = edit(scene, addSpots({ spots }));
  const steps: ItemId[] = [];
  for (let count = Math.floor(3 * random()); count > 0; count--) {
    const kind = STEPS[Math.floor(random() * STEPS.length)];
    const id = ItemId.parse(`step-${steps.length}`);
    const end = { x: 300 * random(), y: 210 * random() };
    const part = {
      ...{ kind: 'gradient' as const, ...plainPart('gradient'), start: { x: 0, y: 0 }, end },
      ...{ profile: 'smooth' as const, middle: 0.5 },
    };
    scene = edit(scene, addAdjustment({ id, kind, above: steps.at(-1) ?? { blend: true }, part }));
    if (random() < 0.3) scene = edit(scene, setItem({ id, change: { visible: false } }));
    steps.push(id);
  }
  return { scene, steps };
}

/** All that can be asked of a scene and its steps. */
function requestsOf(scene: Scene, steps: readonly ItemId[]): RenderRequest[] {
  const leaf = leavesOf(scene.stack).at(-1)?.item.id;
  return [
    ...(['result', 'blend', 'relief'] as const).map((what) => ({ what })),
    ...[...steps, ...(leaf ? [leaf] : [])].flatMap((at): RenderRequest[] => [
      { what: 'without', at },
      { what: 'covering', at },
      { what: 'clipped', end: 'white', at },
      { what: 'tried', at, as: 'half' },
      { what: 'mask', at },
      { what: 'effect', at },
    ]),
  ];
}

describe('whatever is looked at of a scene', () => {
  it('lies, cut and turned by quarters, as the same bits', () => {
    for (let seed = 0; seed < 12; seed++) {
      const { scene, steps } = randomFinished(`turned ${seed}`);
      const random = alea(`crop ${seed}`);
      const quarters = Math.floor(4 * random());
      const crop = { x: 10 + Math.floor(40 * random()), y: 8 + Math.floor(40 * random()), width: 130, height: 110 };
      const turned = edit(scene, setGeometry({ change: { quarters, crop } }));
      for (const request of requestsOf(scene, steps)) {
        const picture = isPicture(request);
        const flat = samplesOf(nodeOf(scene, request), picture);
        const cut = samplesOf(nodeOf(turned, { ...request, turned: 'finished' }), picture);
        const { channels } = flat;
        const wrong = cut.samples.findIndex((value, i) => {
          const pixel = Math.floor(i / channels);
          const at = { x: (pixel % cut.width) + crop.x, y: Math.floor(pixel / cut.width) + crop.y };
          const from = unturned(at, quarters);
          return value !== flat.samples[(from.y * flat.width + from.x) * channels + (i % channels)];
        });
        expect({ seed, request, wrong }).toEqual({ seed, request, wrong: -1 });
      }
    }
  });

  it('is there while it is turned by any angle, and on the table', () => {
    const change: Partial<Geometry> = { straighten: 3, perspective: { vertical: 0.1, horizontal: 0 }, stretch: 0.05 };
    for (let seed = 12; seed < 18; seed++) {
      const { scene, steps } = randomFinished(`turned ${seed}`);
      const turned = edit(scene, setGeometry({ change }));
      for (const request of requestsOf(scene, steps))
        for (const onto of ['finished', 'table'] as const) {
          const node = nodeOf(turned, { ...request, turned: onto });
          expect(samplesOf(node, isPicture(request)).samples.length).toBeGreaterThan(10_000);
        }
    }
  });
});

/** The place of the scene that lies at a place of a canvas that is turned by quarters, clockwise. */
function unturned({ x, y }: { x: number; y: number }, quarters: number): { x: number; y: number } {
  const [right, bottom] = [size.width - 1, size.height - 1];
  return [
    { x, y },
    { x: y, y: bottom - x },
    { x: right - x, y: bottom - y },
    { x: right - y, y: x },
  ][quarters];
}
