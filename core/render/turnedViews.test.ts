import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { randomFinished } from '../../tests/randomFinished.ts';
import { edit, nodeOf, setUp, size } from '../../tests/renderScene.ts';
import { planeOfNode } from '../../tests/smallScene.ts';
import type { ItemId } from '../ids.ts';
import { allTiles } from '../raster/region.ts';
import { setGeometry } from '../scene/edits/turning.ts';
import type { Geometry } from '../scene/geometry.ts';
import type { Scene } from '../scene/scene.ts';
import { leavesOf } from '../scene/tree.ts';
import { isPicture, type RenderRequest } from './plan/request.ts';
import { writeTile } from './plan/writing.ts';
import type { TileNode } from './tiles/renderContext.ts';

const { made } = setUp();
/** A picture's samples, interleaved, or a plane's. */
function samplesOf(node: TileNode, picture: boolean): { samples: Uint16Array; width: number; channels: number } {
  const { width, height } = node.extent.size;
  if (!picture) return { samples: planeOfNode(node, 0, 0, { width, height }, made.context), width, channels: 1 };
  const image = { region: { x: 0, y: 0, width, height }, pixels: new Uint16Array(width * height * 3) };
  for (const { tx, ty } of allTiles({ width, height }, 0)) writeTile(node, tx, ty, image, made.context);
  return { samples: image.pixels, width, channels: 3 };
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
      const { scene, steps } = randomFinished(made.scene, `turned ${seed}`);
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
      const { scene, steps } = randomFinished(made.scene, `turned ${seed}`);
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
