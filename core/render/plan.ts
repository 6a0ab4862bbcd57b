import { isIdentity } from '../align/placement.ts';
import { toneWeights } from '../color/workingSpace.ts';
import type { FrameId, LayerId } from '../scene/ids.ts';
import type { Mask, Part, Stencil, TonePart } from '../scene/mask.ts';
import { type Layer, type Scene, sceneSize } from '../scene/scene.ts';
import { type CompositeLayer, CompositeNode } from './compositeNode.ts';
import { FrameNode } from './frameNode.ts';
import { GradientNode } from './gradientNode.ts';
import { inSpace } from './lightNode.ts';
import { LuminanceNode } from './luminanceNode.ts';
import { MaskNode } from './maskNode.ts';
import { type Chains, PaintedNode } from './paintedNode.ts';
import { SoftenNode } from './softenNode.ts';
import type { TileNode } from './studio.ts';
import { ToneNode } from './toneNode.ts';
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
  /** The pixels that a layer's tone part reads. */
  toneSource(id: LayerId, source: TonePart['source']): TileNode | undefined;
}

/** What one plan hands to the next, by layer: keys that need not be worked out again. */
export type PlanMemory = Map<LayerId, Chains>;

/** Compiles a scene; undefined while it has no frames.
 * @param memory - The same for all plans of a thread.
 * @param selected - The layer that is being worked on: what lies below it is kept mixed.
 * @throws {RangeError} when the scene names a frame that it does not have. */
export function compilePlan(scene: Scene, memory: PlanMemory = new Map(), selected?: LayerId): RenderPlan | undefined {
  const size = sceneSize(scene);
  if (!size || scene.base === null) return undefined;
  const builder = new PlanBuilder(scene, scene.base, memory);
  return {
    size,
    result: builder.result(selected),
    frame: (id) => builder.frame(id),
    inside: (id) => builder.inside(id) ?? EVERYWHERE,
    mask: (id) => builder.byLayer(id, (layer, index) => builder.mask(layer.mask, layer, index)),
    stencil: (id) =>
      builder.byLayer(id, (layer, index) => layer.stencil && builder.stencil(layer.stencil, layer, index)),
    toneSource: (id, source) => builder.byLayer(id, (layer, index) => builder.source(source, layer, index)),
  };
}

/** Full coverage. */
const EVERYWHERE = new MaskNode([], true);

class PlanBuilder {
  readonly #scene: Scene;
  readonly #base: FrameId;
  readonly #memory: PlanMemory;
  readonly #frames = new Map<FrameId, TileNode>();
  readonly #masks = new Map<LayerId, TileNode>();
  readonly #under = new Map<number, TileNode>();
  readonly #tones = new Map<string, TileNode>();
  readonly #luminances = new Map<TileNode, TileNode>();

  constructor(scene: Scene, base: FrameId, memory: PlanMemory) {
    this.#memory = memory;
    this.#scene = scene;
    this.#base = base;
  }

  byLayer(id: LayerId, build: (layer: Layer, index: number) => TileNode | null): TileNode | undefined {
    const index = this.#scene.stack.findIndex((layer) => layer.id === id);
    return index < 0 ? undefined : (build(this.#scene.stack[index], index) ?? undefined);
  }

  /** A frame in the working space, as it is placed. */
  frame(id: FrameId): TileNode {
    return remember(this.#frames, id, () => {
      const frame = this.#scene.frames.find((each) => each.id === id);
      if (!frame) throw new RangeError(`The scene has no frame ${id}`);
      const read = new FrameNode(frame.file.sha256, frame.reading, frame.file.name);
      const own = inSpace(read, frame.reading.space, this.#scene.workingSpace, true);
      return frame.placement && !isIdentity(frame.placement.matrix)
        ? new WarpNode(own, frame.placement.matrix, frame)
        : own;
    });
  }

  /** The whole picture. */
  result(selected: LayerId | undefined): TileNode {
    const { stack } = this.#scene;
    const below = stack.slice(
      0,
      Math.max(
        0,
        stack.findIndex(({ id }) => id === selected),
      ),
    );
    const settled = below.filter(({ visible }) => visible).length;
    return new CompositeNode(this.frame(this.#base), this.#visible(stack.length), { settled, isLast: true });
  }

  /** The picture of the base and the visible ones of the first `count` layers. */
  under(count: number): TileNode {
    return remember(this.#under, count, () => new CompositeNode(this.frame(this.#base), this.#visible(count)));
  }

  #visible(count: number): CompositeLayer[] {
    return this.#scene.stack
      .slice(0, count)
      .flatMap((layer, index) =>
        layer.visible
          ? [{ source: this.frame(layer.frame), mask: this.#shown(layer, index), opacity: layer.opacity }]
          : [],
      );
  }

  /** A layer's mask, where its frame is. */
  #shown(layer: Layer, index: number): TileNode {
    const mask = this.mask(layer.mask, layer, index);
    const inside = this.inside(layer.frame);
    if (!inside) return mask;
    return new MaskNode(
      [
        { join: 'add', node: mask },
        { join: 'intersect', node: inside },
      ],
      false,
    );
  }

  /** Where a placed frame is; undefined for one that covers the scene. */
  inside(id: FrameId): TileNode | undefined {
    const frame = this.#scene.frames.find((each) => each.id === id);
    if (!frame?.placement || isIdentity(frame.placement.matrix)) return undefined;
    return new InsideNode(frame.placement.matrix, frame);
  }

  mask(mask: Mask, layer: Layer, index: number): TileNode {
    return remember(this.#masks, layer.id, () => {
      const parts = mask.parts
        .filter(({ enabled }) => enabled)
        .map((part) => ({ join: part.join, node: this.#part(part, layer, index) }));
      const joined = new MaskNode(parts, mask.inverted);
      return mask.softness > 0 ? new SoftenNode(joined, mask.softness) : joined;
    });
  }

  stencil(stencil: Stencil, layer: Layer, index: number): TileNode {
    return this.#tone(stencil.tone, layer, index);
  }

  source(source: TonePart['source'], layer: Layer, index: number): TileNode {
    if (source === 'base') return this.frame(this.#base);
    return source === 'layer' ? this.frame(layer.frame) : this.under(index);
  }

  #part(part: Part, layer: Layer, index: number): TileNode {
    if (part.kind === 'tone') return this.#tone(part, layer, index);
    if (part.kind === 'gradient') return new GradientNode(part);
    const strokes = part.strokes.map((stroke) => {
      const stencil = stroke.stencil ? this.stencil(stroke.stencil, layer, index) : undefined;
      return { stroke, stencil };
    });
    return new PaintedNode(
      strokes,
      remember(this.#memory, layer.id, () => new Map()),
    );
  }

  #tone(part: TonePart, layer: Layer, index: number): TileNode {
    return remember(
      this.#tones,
      `${index}:${JSON.stringify(part)}`,
      () => new ToneNode(part, this.#luminance(part.source, layer, index)),
    );
  }

  #luminance(source: TonePart['source'], layer: Layer, index: number): TileNode {
    const node = this.source(source, layer, index);
    return remember(this.#luminances, node, () => new LuminanceNode(node, toneWeights(this.#scene.workingSpace)));
  }
}

function remember<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const known = map.get(key);
  if (known !== undefined) return known;
  const made = make();
  map.set(key, made);
  return made;
}
