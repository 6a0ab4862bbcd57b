import { type EncodedRun, encodedRunOf } from '../../color/encodedSteps.ts';
import { basesOf, compileSteps, type PointStep, veilOf } from '../../color/pointSteps.ts';
import type { BaseRadius, Surroundings } from '../../color/surroundings.ts';
import type { WorkingSpace } from '../../color/workingSpace.ts';
import { onFirstUse } from '../../onFirstUse.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { layEncoded, layLight } from '../tiles/changeTile.ts';
import { copyLight, HALF, type Half, isUpperOnly, publishPicture, readLight } from '../tiles/pictureTile.ts';
import {
  type Overlaid,
  type Publish,
  planeOf,
  type RenderContext,
  type Spot,
  type TileNode,
  withTiles,
} from '../tiles/renderContext.ts';
import { BaseNode } from './baseNode.ts';
import { DerivedNode } from './derivedNode.ts';
import { keptNode } from './keptNode.ts';
import { StopsNode } from './stopsNode.ts';
import { VeilNode } from './veilNode.ts';

/** Half the width of the windows that a picture's base is found with, as a share of its longest side. */
const BASE_SHARE = 1 / 100;

/** A picture after steps that look at each pixel by itself, and at tones without their detail around it: one pass, in floats, rounded by
 * whoever needs it. */
export class PointNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #around: readonly Around[];
  /** Compiled when a tile is made: most nodes of a plan find theirs made by the plan before. */
  readonly #run: () => Compiled;

  /** @param name - That tells the steps from all others. */
  constructor(source: TileNode, steps: readonly PointStep[], name: string, space: WorkingSpace) {
    const alone = source.unrounded ?? source;
    const exact = looksAround(steps) ? keptNode(alone) : alone;
    const around = surroundingsOf(exact, steps, space);
    super(keyOf('points', [name, space]), [exact, ...around.map(({ node }) => node)]);
    this.#source = exact;
    this.#around = around;
    this.#run = onFirstUse(() => compiledOnce(steps, name, space));
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    return this.#lay(undefined, spot, context, (write) =>
      publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, write),
    );
  }

  layOver(over: Overlaid, spot: Spot, context: RenderContext, publish: Publish): PinnedTile {
    return this.#lay(over, spot, context, publish);
  }

  #lay(over: Overlaid | undefined, spot: Spot, context: RenderContext, publish: Publish): PinnedTile {
    const wanted = [this.#source, ...this.#around.map(({ node }) => node)];
    return withTiles(wanted, spot, context, ([tile, ...planes]) => {
      const { encoded, run } = this.#run();
      if (encoded)
        return publish((slots) =>
          layEncoded(encoded, tile, (which) => this.#seen(planes, halfPlaneOf(which), context), over, slots, context),
        );
      return context.scratch.lend(3, (...lent) => {
        const [red, green, blue] = isUpperOnly(spot, this.extent) ? lent.map((plane) => plane.subarray(0, HALF)) : lent;
        if (this.#around.length > 0) copyLight(this.#source, spot, tile, [red, green, blue], context);
        else readLight(tile, [red, green, blue], context);
        run([red, green, blue], this.#seen(planes, planeOf, context), {
          kernels: context.kernels,
          within: (table) => context.scratch.within(table),
        });
        return publish((slots) => layLight([red, green, blue], over, slots, context));
      });
    });
  }

  /** @param planeIn - A plane of a tile, or a part of it. */
  #seen(tiles: readonly PinnedTile[], planeIn: typeof planeOf, context: RenderContext): Surroundings {
    const bases = new Map<BaseRadius, Uint16Array | number>();
    let [tones, veil]: (Uint16Array | number | undefined)[] = [];
    for (let which = 0; which < tiles.length; which++) {
      const { of } = this.#around[which];
      const plane = planeIn(tiles[which], 0, context);
      if (of === 'tones') tones = plane;
      else if (of === 'veil') veil = plane;
      else bases.set(of, plane);
    }
    return { tones, veil, bases };
  }
}

/** Half of a plane of a tile, or the value that it has throughout. */
const halfPlaneOf =
  (half: Half): typeof planeOf =>
  (tile, plane, { table }) =>
    tile.form === 'constant' ? tile.value : table.slab.halves(tile.slots[plane])[half];

/** Steps as a pass over encoded values, where those are enough, or else over light. */
type Compiled = { encoded: EncodedRun; run?: undefined } | { encoded?: undefined; run: LightRun };
type LightRun = ReturnType<typeof compileSteps>;

function compile(steps: readonly PointStep[], space: WorkingSpace): Compiled {
  const encoded = encodedRunOf(steps);
  return encoded ? { encoded } : { run: compileSteps(steps, space) };
}

/** Steps that stay compiled: each plan has nodes of its own, and most of their steps are those of the plan before. */
const REMEMBERED = 64;
/** The latest last. */
const compiled = new Map<string, Compiled>();

function compiledOnce(steps: readonly PointStep[], name: string, space: WorkingSpace): Compiled {
  const called = `${space} ${name}`;
  const run = compiled.get(called) ?? compile(steps, space);
  compiled.delete(called);
  compiled.set(called, run);
  const [oldest] = compiled.size > REMEMBERED ? compiled.keys() : [];
  if (oldest !== undefined) compiled.delete(oldest);
  return run;
}

/** A plane that steps look at: tones, a base by its radius, or a veil's thickness. */
interface Around {
  of: BaseRadius | 'tones' | 'veil';
  node: TileNode;
}

const looksAround = (steps: readonly PointStep[]): boolean => basesOf(steps).length > 0 || veilOf(steps) !== undefined;

function surroundingsOf(source: TileNode, steps: readonly PointStep[], space: WorkingSpace): Around[] {
  const [radii, veil] = [basesOf(steps), veilOf(steps)];
  if (radii.length === 0 && !veil) return [];
  const tones = new StopsNode(source, space);
  const { width, height } = source.extent.size;
  const sizeOf = (radius: BaseRadius) => (radius === 'picture' ? BASE_SHARE * Math.max(width, height) : radius);
  return [
    { of: 'tones', node: tones },
    ...radii.map((of): Around => ({ of, node: new BaseNode(tones, sizeOf(of)) })),
    ...(veil ? [{ of: 'veil' as const, node: new VeilNode(source, tones, veil) }] : []),
  ];
}
