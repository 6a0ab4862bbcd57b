import { isIdentity } from '../align/placement.ts';
import { IDENTITY3 } from '../raster/matrix3.ts';
import type { FrameId, LayerId } from '../scene/ids.ts';
import type { Mask } from '../scene/mask.ts';
import { groupOf, type MaskPlace } from '../scene/places.ts';
import { type Layer, type Scene, sceneSize } from '../scene/scene.ts';
import { frameOfSource, type Source } from '../scene/source.ts';
import { type CompositeLayer, CompositeNode } from './compositeNode.ts';
import { FrameNode } from './frameNode.ts';
import { inSpace } from './lightNode.ts';
import { MaskBuilder, remember } from './maskBuilder.ts';
import { type JoinedPart, MaskNode } from './maskNode.ts';
import type { Chains } from './paintedNode.ts';
import type { TileNode } from './studio.ts';
import { InsideNode, WarpNode } from './warpNode.ts';

/** What can be asked of a scene: each a node whose tiles are pixels or coverage. */
export interface RenderPlan {
  readonly size: { width: number; height: number };
  /** The whole picture. */
  readonly result: TileNode;
  frame(id: FrameId): TileNode;
  /** Where a placed frame is; everywhere for one that covers the scene. */
  inside(id: FrameId): TileNode;
  /** A layer's mask as it is joined and refined, or undefined when there is no such layer. */
  mask(id: LayerId): TileNode | undefined;
  /** A layer's stencil, on or not. */
  stencil(id: LayerId): TileNode | undefined;
  /** The mask at a place, or how a layer is shown by all of them; undefined when there is none. */
  coverage(id: LayerId, of: MaskPlace['of'] | 'shown'): TileNode | undefined;
  /** A mask that the scene need not have, as seen from a layer. */
  recipe(mask: Mask, id: LayerId): TileNode | undefined;
  /** The picture without a layer. */
  without(id: LayerId): TileNode;
  /** The pixels that a source names, as seen from a layer. */
  toneSource(id: LayerId, source: Source): TileNode | undefined;
}

/** What one plan hands to the next, by name of the painted part: keys that need not be worked out again. */
export type PlanMemory = Map<string, Chains>;

/** Compiles a scene; undefined while it has no frames.
 * @param memory - The same for all plans of a thread.
 * @param selected - The layer that is being worked on: what lies below it is kept mixed.
 * @throws {RangeError} when the scene names a frame that it does not have. */
export function compilePlan(scene: Scene, memory: PlanMemory = new Map(), selected?: LayerId): RenderPlan | undefined {
  const size = sceneSize(scene);
  if (!size || scene.base === null) return undefined;
  const builder = new PlanBuilder(scene, scene.base, memory);
  const coverage = (id: LayerId, of: MaskPlace['of'] | 'shown') =>
    builder.byLayer(id, (layer, index) => builder.coverage(of, layer, index));
  return {
    size,
    result: builder.result(selected, true),
    frame: (id) => builder.frame(id),
    inside: (id) => builder.inside(id) ?? EVERYWHERE,
    mask: (id) => coverage(id, 'mask'),
    stencil: (id) => coverage(id, 'stencil'),
    coverage,
    recipe: (mask, id) => builder.byLayer(id, (layer, index) => builder.recipe(mask, layer, index)),
    without: (id) => builder.without(id),
    toneSource: (id, source) => builder.byLayer(id, (layer, index) => builder.source(source, layer, index)),
  };
}

/** Painted parts, and strokes that soften, whose chains are remembered: more than a scene at hand has. */
const MOST_CHAINS = 1024;

/** Full coverage. */
const EVERYWHERE = new MaskNode([], true);

/** Something of the stack that is laid over what is below: a layer, or a group of them. */
interface Item {
  layers: Layer[];
}

class PlanBuilder {
  readonly scene: Scene;
  readonly #base: FrameId;
  readonly #memory: PlanMemory;
  /** Names this plan's chains apart from those of plans within it. */
  readonly #prefix: string;
  readonly #masks: MaskBuilder;
  readonly #frames = new Map<FrameId, TileNode>();
  readonly #made = new Map<string, TileNode>();
  readonly #under = new Map<number, TileNode>();
  readonly #without = new Map<LayerId, TileNode>();

  constructor(scene: Scene, base: FrameId, memory: PlanMemory, prefix = '') {
    this.#memory = memory;
    this.scene = scene;
    this.#base = base;
    this.#prefix = prefix;
    this.#masks = new MaskBuilder(this);
  }

  byLayer(id: LayerId, build: (layer: Layer, index: number) => TileNode | undefined): TileNode | undefined {
    const index = this.scene.stack.findIndex((layer) => layer.id === id);
    return index < 0 ? undefined : build(this.scene.stack[index], index);
  }

  chains(name: string): Chains {
    const full = this.#prefix + name;
    const chains = this.#memory.get(full) ?? new Map();
    // The latest last; those that no plan has asked for in long are forgotten.
    this.#memory.delete(full);
    this.#memory.set(full, chains);
    const [oldest] = this.#memory.keys();
    if (this.#memory.size > MOST_CHAINS) this.#memory.delete(oldest);
    return chains;
  }

  /** A frame in the working space, as it is placed. */
  frame(id: FrameId): TileNode {
    return remember(this.#frames, id, () => {
      const frame = this.scene.frames.find((each) => each.id === id);
      if (!frame) throw new RangeError(`The scene has no frame ${id}`);
      const read = new FrameNode(frame.file.sha256, frame.reading, frame.file.name);
      const own = inSpace(read, frame.reading.space, this.scene.workingSpace, true);
      const matrix = frame.placement?.matrix ?? IDENTITY3;
      return frame.local || !isIdentity(matrix) ? new WarpNode(own, matrix, frame, frame.local) : own;
    });
  }

  /** The whole picture. */
  result(selected?: LayerId, isLast = false): TileNode {
    const place = Math.max(
      0,
      this.scene.stack.findIndex(({ id }) => id === selected),
    );
    const items = itemsOf(this.scene.stack.filter(({ visible }) => visible));
    const below = new Set(this.scene.stack.slice(0, place));
    const settled = items.filter(({ layers }) => layers.every((layer) => below.has(layer))).length;
    return new CompositeNode(this.frame(this.#base), this.#shownItems(this.scene.stack), { settled, isLast });
  }

  /** The picture of the base and the visible ones of the first `count` layers. */
  under(count: number): TileNode {
    return remember(
      this.#under,
      count,
      () => new CompositeNode(this.frame(this.#base), this.#shownItems(this.scene.stack.slice(0, count))),
    );
  }

  /** The finished picture but for a layer. What looks at the finished picture there looks at the one below itself, since
   * otherwise two layers could each depend on the other. */
  without(id: LayerId): TileNode {
    return remember(this.#without, id, () => {
      const scene = { ...this.scene, stack: this.scene.stack.filter((layer) => layer.id !== id) };
      return new InnerBuilder(scene, this.#base, this.#memory, `without ${id}:`).result();
    });
  }

  #shownItems(layers: readonly Layer[]): CompositeLayer[] {
    return itemsOf(layers.filter(({ visible }) => visible)).map((item) => this.#item(item));
  }

  #item({ layers }: Item): CompositeLayer {
    const [first] = layers;
    const group = groupOf(this.scene, first);
    if (!group) return this.#layer(first);
    const index = this.scene.stack.indexOf(first);
    return {
      source: new CompositeNode(
        this.under(index),
        layers.map((layer) => this.#layer(layer)),
      ),
      mask: this.coverage('group', first, index) as TileNode,
      opacity: group.opacity,
    };
  }

  #layer(layer: Layer): CompositeLayer {
    const mask = this.coverage('shown', layer, this.scene.stack.indexOf(layer)) as TileNode;
    return { source: this.frame(layer.frame), mask, opacity: layer.opacity };
  }

  /** Where a placed frame is; undefined for one that covers the scene. */
  inside(id: FrameId): TileNode | undefined {
    const frame = this.scene.frames.find((each) => each.id === id);
    if (!frame?.placement || isIdentity(frame.placement.matrix)) return undefined;
    return new InsideNode(frame.placement.matrix, frame);
  }

  coverage(of: MaskPlace['of'] | 'shown', layer: Layer, index: number): TileNode | undefined {
    if (of === 'shown') return this.#shown(layer, index);
    if (of === 'group') {
      const group = groupOf(this.scene, layer);
      const first = this.scene.stack.findIndex((each) => each.group === group?.id);
      return group && this.#mask(group.mask, `group:${group.id}`, this.scene.stack[first], first);
    }
    const mask = of === 'stencil' ? layer.stencil?.mask : layer[of];
    return mask ? this.#mask(mask, `${of}:${layer.id}`, layer, index) : undefined;
  }

  #mask(mask: Mask, name: string, layer: Layer, index: number): TileNode {
    return remember(this.#made, name, () => this.#masks.mask(mask, { layer, index, name }));
  }

  /** A layer's mask within its guard, where its frame is. */
  #shown(layer: Layer, index: number): TileNode {
    const limits = [this.coverage('guard', layer, index), this.inside(layer.frame)];
    const mask = this.coverage('mask', layer, index) as TileNode;
    const parts = limits.flatMap((node): JoinedPart[] => (node ? [{ join: 'intersect', node }] : []));
    return parts.length === 0 ? mask : new MaskNode([{ join: 'add', node: mask }, ...parts], false);
  }

  recipe(mask: Mask, layer: Layer, index: number): TileNode {
    return this.#masks.mask(mask, { layer, index, name: `asked:${layer.id}` });
  }

  source(source: Source, layer: Layer, index: number): TileNode {
    const named = frameOfSource(source);
    if (named) return this.scene.frames.some(({ id }) => id === named) ? this.frame(named) : this.frame(this.#base);
    if (source === 'base') return this.frame(this.#base);
    if (source === 'layer') return this.frame(layer.frame);
    return source === 'sofar' ? this.under(index) : this.without(layer.id);
  }
}

/** A plan within a plan, where nothing looks at the finished picture. */
class InnerBuilder extends PlanBuilder {
  override source(source: Source, layer: Layer, index: number): TileNode {
    return super.source(source === 'result' ? 'sofar' : source, layer, index);
  }
}

/** Layers as they are laid: those of one group together. */
function itemsOf(layers: readonly Layer[]): Item[] {
  const items: Item[] = [];
  for (const layer of layers) {
    const last = items.at(-1);
    if (last && layer.group !== null && last.layers[0].group === layer.group) last.layers.push(layer);
    else items.push({ layers: [layer] });
  }
  return items;
}
