import { LogTable } from '../../color/logTable.ts';
import { basesOf, compileSteps, type PointStep } from '../../color/pointSteps.ts';
import { encodeSrgb } from '../../color/srgb.ts';
import type { BaseRadius, Surroundings } from '../../color/surroundings.ts';
import type { WorkingSpace } from '../../color/workingSpace.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishPicture, readLight, writeFloats } from '../tiles/pictureTile.ts';
import { planeOf, type RenderContext, type Spot, type TileNode, withTiles } from '../tiles/renderContext.ts';
import { BaseNode } from './baseNode.ts';
import { DerivedNode } from './derivedNode.ts';
import { StopsNode } from './stopsNode.ts';

const ENCODING = new LogTable((light) => 65535 * encodeSrgb(light));

/** Half the width of the windows that a picture's base is found with, as a share of its longest side. */
const BASE_SHARE = 1 / 100;

/** A picture after steps that look at each pixel by itself, and at tones without their detail around it: one pass, in floats, rounded by
 * whoever needs it. */
export class PointNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #around: readonly { radius: BaseRadius | undefined; node: TileNode }[];
  readonly #run: ReturnType<typeof compileSteps>;

  /** @param name - That tells the steps from all others. */
  constructor(source: TileNode, steps: readonly PointStep[], name: string, space: WorkingSpace) {
    const exact = source.unrounded ?? source;
    const around = surroundingsOf(exact, steps, space);
    super(keyOf('points', [name, space]), [exact, ...around.map(({ node }) => node)]);
    this.#source = exact;
    this.#around = around;
    this.#run = compileSteps(steps, space);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return withTiles([this.#source, ...this.#around.map(({ node }) => node)], spot, context, ([tile, ...planes]) =>
      context.scratch.lend(3, (red, green, blue) => {
        readLight(tile, [red, green, blue], context);
        this.#run(red, green, blue, this.#seen(planes, context));
        for (const plane of [red, green, blue]) for (let i = 0; i < plane.length; i++) plane[i] = ENCODING.at(plane[i]);
        return publishPicture(spot, key, context, { form: 'floats', isTransient: false }, (slots) =>
          writeFloats([red, green, blue], slots, context),
        );
      }),
    );
  }

  #seen(tiles: readonly PinnedTile[], context: RenderContext): Surroundings {
    const bases = new Map<BaseRadius, Uint16Array | number>();
    let tones: Uint16Array | number | undefined;
    for (const [which, { radius }] of this.#around.entries()) {
      const plane = planeOf(tiles[which], 0, context);
      if (radius === undefined) tones = plane;
      else bases.set(radius, plane);
    }
    return { tones, bases };
  }
}

/** Tones of a picture (of no radius), and those without detail, as far as steps look at them. */
function surroundingsOf(
  source: TileNode,
  steps: readonly PointStep[],
  space: WorkingSpace,
): { radius: BaseRadius | undefined; node: TileNode }[] {
  const radii = basesOf(steps);
  if (radii.length === 0) return [];
  const stops = new StopsNode(source, space);
  const { width, height } = source.extent.size;
  return [
    { radius: undefined, node: stops },
    ...radii.map((radius) => ({
      radius,
      node: new BaseNode(stops, radius === 'picture' ? BASE_SHARE * Math.max(width, height) : radius),
    })),
  ];
}
