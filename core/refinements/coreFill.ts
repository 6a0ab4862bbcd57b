import { z } from 'zod';
import { coreOf } from '../kernels/coreFill.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { AreaNode } from '../render/nodes/areaNode.ts';
import { OrderNode } from '../render/nodes/orderNode.ts';
import { blurMargin, WIDEST_BLUR_AT_TOP } from '../render/nodes/softenNode.ts';
import { publishCoverage, publishSame, publishStored } from '../render/tiles/coverageTile.ts';
import { keyOfArea, wantedIn, withArea } from '../render/tiles/neighbourhood.ts';
import {
  planeOf,
  type RenderContext,
  type Spot,
  type TileNode,
  withTile,
  withWanted,
} from '../render/tiles/renderContext.ts';
import { defineRefinement } from './defineRefinement.ts';

const CoreFill = z.strictObject({
  amount: z.number().min(0).max(1),
  /** Within how far of it a place must be covered to lie inside. */
  reach: z.number().min(1).max(400),
  /** Mean coverage around from which on a place surely belongs to an area; a third of it counts for nothing. */
  from: z.number().min(0.01).max(1),
  /** What was darker than its surroundings does not become brighter than they are, nor the reverse. */
  keepsOrder: z.boolean().default(false),
});
type CoreFill = z.infer<typeof CoreFill>;

/** The inside becomes full. */
export const coreFill = defineRefinement({
  schema: { coreFill: CoreFill },
  rest: { coreFill: { amount: 0, reach: 40, from: 0.25, keepsOrder: true } },
  isAtRest: (settings) => settings.coreFill.amount === 0,
  reach: (settings) => 2 * settings.coreFill.reach,
  sources: ({ coreFill: { keepsOrder } }) => (keepsOrder ? ['below', 'layer'] : []),
  actsOnAlpha: false,
  build: (node, { coreFill: settings }, tools) => {
    const tones = () => ({ below: tools.tones('below'), layer: tools.tones('layer') });
    return new CoreFillNode(node, settings, settings.keepsOrder ? new OrderNode(node, tones(), settings) : undefined);
  },
  rows: [
    { path: ['coreFill', 'amount'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0 },
    {
      path: ['coreFill', 'reach'],
      ...{ min: 1, max: 400, step: 1, unit: 'px', usual: 40, geometric: true, isDetail: true },
    },
    { path: ['coreFill', 'from'], min: 0.01, max: 1, step: 0.01, unit: 'share', usual: 0.25, isDetail: true },
  ],
});

/** Widest blur in pixels of the level it is computed at. What lies inside changes slowly: it is found at a coarse level. */
const WIDEST = 2.5;

/** A mask whose inside is filled while its edge keeps the coverage that it has. */
class CoreFillNode extends AreaNode {
  readonly #amount: number;
  readonly #from: number;
  readonly #order: OrderNode | undefined;

  /** @param order - How far the inside may be covered. */
  constructor(mask: TileNode, { amount, reach, from }: CoreFill, order: OrderNode | undefined) {
    super(keyOf('core fill', [amount, reach, from]), mask, {
      reach: reach / 2,
      widest: WIDEST,
      widestAtTop: WIDEST_BLUR_AT_TOP,
      marginOf: blurMargin,
    });
    this.#amount = amount;
    this.#from = from;
    this.#order = order;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    const key = mixKeys(super.keyOver(spot, context), this.mask.keyAt(spot, context));
    const order = this.#order;
    return order ? keyOfArea(key, order, OrderNode.areaFor(spot, this.extent), context) : key;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const order = this.#order;
    if (!order) return this.#fill(spot, key, context);
    const wanted = [...wantedIn(this.mask, this.areaOf(spot)), ...order.wantedFor(spot), { node: this.mask, spot }];
    return withWanted(wanted, context, () =>
      context.scratch.lend(1, (limit) => {
        order.readLimits(spot, context, limit);
        return this.#fill(spot, key, context, limit);
      }),
    );
  }

  #fill(spot: Spot, key: NodeKey, context: RenderContext, limit?: Float32Array): PinnedTile {
    const { kernels } = context;
    const area = this.areaOf(spot);
    const { side } = area;
    const sigma = this.reachIn(area);
    const fill = (tile: PinnedTile, ...[mean, square, spare]: Float32Array[]) => {
      square.set(mean);
      kernels.joinCoverage('intersect', square, mean);
      kernels.blurPlane(mean, spare, side, side, sigma);
      kernels.blurPlane(square, spare, side, side, sigma);
      kernels.findCore(mean, square, this.#amount, this.#from);
      return context.scratch.lend(1, (core) => {
        this.readBack(mean, area, spot, context, core);
        return this.#join(core, tile, spot, key, context, limit);
      });
    };
    const even = (tile: PinnedTile, value: number) => {
      const core = this.#amount * coreOf(value, value * value, this.#from);
      if (!limit) return publishSame(value + core * (1 - value), spot, key, context);
      return context.scratch.lend(1, (plane) => this.#join(plane.fill(core), tile, spot, key, context, limit));
    };
    return withTile(this.mask, spot, context, (tile) => {
      const filled = (...planes: Float32Array[]) => fill(tile, ...planes);
      return withArea([this.mask], area, context, 2, filled, (value) => even(tile, value));
    });
  }

  /** The mask with its core filled, up to where order is kept. */
  #join(
    core: Float32Array,
    tile: PinnedTile,
    spot: Spot,
    key: NodeKey,
    context: RenderContext,
    limit?: Float32Array,
  ): PinnedTile {
    const { kernels, scratch } = context;
    const isLimited = limit?.some((most) => most < 1);
    const mask = planeOf(tile, 0, context);
    const join = (samples: Uint16Array) => {
      if (limit && isLimited) {
        for (let i = 0; i < core.length; i++) core[i] = samples[i] / 65535 + core[i] * (limit[i] - samples[i] / 65535);
        return publishCoverage(core, spot, key, context);
      }
      return publishStored(spot, key, context, (out) => kernels.joinSamples('add', samples, core, core, out()));
    };
    return typeof mask === 'number' ? scratch.lendSamples((even) => join(even.fill(mask))) : join(mask);
  }
}
