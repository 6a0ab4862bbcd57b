import { adjustmentKind } from '../../develop/list.ts';
import { deliveredFrom } from '../../finish/turning.ts';
import type { FrameId, ItemId, LayerId, RecipeId } from '../../ids.ts';
import { finishTable } from '../../masks/greyCurve.ts';
import { asTaken, frameOfSource, isDeveloped, type Source } from '../../masks/source.ts';
import type { ReferenceTarget } from '../../parts/referenceTarget.ts';
import { AT_REST } from '../../refinements/list.ts';
import { frameOfLayer, type Item, type Layer } from '../../scene/item.ts';
import type { Mask } from '../../scene/mask.ts';
import { type MaskContext, MaskGraph } from '../../scene/maskGraph.ts';
import { type MaskPlace, maskOfItem } from '../../scene/places.ts';
import type { Scene } from '../../scene/scene.ts';
import { asOneStack, findItem, isStep, leavesOf, mapItem, ownerOf } from '../../scene/tree.ts';
import { type Trial, tried } from '../../scene/trials.ts';
import { ClippedNode } from '../nodes/clippedNode.ts';
import { ColourRunNode } from '../nodes/colourNode.ts';
import { EverywhereNode } from '../nodes/everywhereNode.ts';
import { intersectionOf, type JoinedPart, MaskNode } from '../nodes/maskNode.ts';
import type { Chains } from '../nodes/paintedNode.ts';
import { TableNode } from '../nodes/tableNode.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';
import { MaskBuilder, remember } from './maskBuilder.ts';
import { MaskNodes, type RingView } from './maskNodes.ts';
import { insidePicture, placedPicture } from './pictureNodes.ts';
import { PlacedFrames } from './placedFrames.ts';
import type { PlanMemory } from './planMemory.ts';
import { retouched } from './retouched.ts';
import { StackBuilder } from './stackBuilder.ts';
import { turnedNode } from './turnedNode.ts';
import { turnedStack } from './turnedStack.ts';
import { windowNodes } from './windowNodes.ts';

/** Masks that the scene does not have and that are remembered while they are asked for. */
const MOST_ASKED = 64;

interface Ring extends RingView {
  parent: PlanBuilder;
}

interface BuilderOptions {
  memory: PlanMemory;
  /** Names this plan's chains apart from those of plans within it. */
  prefix?: string;
  /** Nothing looks at the finished picture. */
  isInner?: boolean;
  ring?: Ring;
}

/** Makes the nodes of a scene. */
export class PlanBuilder {
  /** As one stack, see `asOneStack`. */
  readonly scene: Scene;
  readonly extent: Extent;
  readonly #document: Scene;
  readonly #blended: number;
  readonly #options: BuilderOptions;
  readonly #graph: MaskGraph;
  readonly #masks: MaskNodes;
  readonly #stack: StackBuilder;
  readonly #frames: PlacedFrames;
  readonly #turned = new Map<string, TileNode | undefined>();
  #asked = 0;
  readonly #without = new Map<ItemId, TileNode>();
  readonly #blendWithout = new Map<ItemId, TileNode>();
  /** Whether the settings of what is worked on have just been changed. */
  #isChanging: boolean | undefined;

  /** @param extent - Of the scene. */
  constructor(document: Scene, extent: Extent, options: BuilderOptions) {
    const { scene, blended } = asOneStack(document);
    this.scene = scene;
    this.#document = document;
    this.#blended = blended;
    this.extent = extent;
    this.#frames = new PlacedFrames(scene, extent);
    this.#options = options;
    this.#graph = options.ring ? options.ring.parent.#graph : new MaskGraph(scene, options.isInner ?? false);
    const { ring, memory } = options;
    this.#masks = new MaskNodes({
      graph: this.#graph,
      masks: new MaskBuilder(this),
      size: extent.size,
      memory: this.#isWithin ? undefined : memory,
      ring: ring && { ...ring, elsewhere: (key) => ring.parent.#masks.of(key) },
      inRing: (key, view) => this.#inRing(key, view),
    });
    this.#stack = new StackBuilder({
      scene,
      extent,
      blended,
      isRetouched: document.retouch.some(({ visible }) => visible),
      retouched: (blend) => retouched(blend, document, (id) => this.frame(id)),
      remembered: (selected, make) => this.#rememberedBlend(selected, make),
      delivered: deliveredFrom(document.geometry, extent.size),
      base: () => this.#frames.base,
      colourRun: (run) => new ColourRunNode(run, extent),
      map: (id) => this.#map(id),
      picture: (layer) => this.#pictureOf(layer),
      shown: (id) => this.covers(id),
      intersection: (nodes) => this.#intersection(nodes),
      isLookedAt: (leaves) => this.#graph.pictures.has(leaves),
    });
  }

  /** The blend as the plan before made it, if nothing of it has changed. */
  #rememberedBlend(selected: number, make: () => TileNode): TileNode {
    const { memory } = this.#options;
    return this.#isWithin
      ? make()
      : memory.blend(this.#document, selected, () => !this.#graph.dependsOnAbove(this.#blended), make);
  }

  /** The frame that a layer shows, or a picture of its own. */
  #pictureOf(layer: Layer): TileNode | undefined {
    if ('picture' in layer.content) return placedPicture(layer.content.picture, this.scene.workingSpace, this.extent);
    const frame = frameOfLayer(layer);
    return frame === undefined ? undefined : this.frame(frame);
  }

  contextOf(id: ItemId): MaskContext | undefined {
    return this.#graph.contextOf(id);
  }

  chains(name: string): Chains {
    const { memory, prefix = '' } = this.#options;
    return memory.chains(prefix + name);
  }

  /** A frame as it is placed and developed. */
  frame(id: FrameId): TileNode {
    return this.#frames.frame(id);
  }

  /** The same as it was taken. */
  taken(id: FrameId): TileNode {
    return this.#frames.taken(id);
  }

  /** A frame by itself, see `PlacedFrames`. */
  shownFrame(id: FrameId, isTaken: boolean): TileNode {
    return this.#frames.shownFrame(id, isTaken);
  }

  /** The whole picture.
   * @param selected - The item that is worked on: what lies below it is kept mixed. */
  result(selected?: ItemId, isTransient = false): TileNode {
    const item = selected === undefined ? undefined : findItem(this.scene, selected);
    if (item?.item === 'adjustment') this.#isChanging ??= this.#options.memory.isChanging(item.id, item.settings);
    return this.#stack.result(selected, isTransient, this.#isChanging);
  }

  /** The whole picture or the blend as it is turned and cut, see `turnedStack`; undefined where the picture of the scene is to be turned. */
  turnedStack(what: 'result' | 'blend', selected?: ItemId): TileNode | undefined {
    const name = `${what} ${selected}`;
    if (!this.#turned.has(name)) {
      const masks = {
        scene: this.scene,
        blended: this.#blended,
        covers: (id: ItemId) => this.covers(id),
        map: (id: ItemId) => this.#map(id),
      };
      this.#turned.set(name, turnedStack(what, this.#document, masks, selected));
    }
    return this.#turned.get(name);
  }

  /** The mask of an item whose mask is a map. */
  #map(id: ItemId): TileNode | undefined {
    const context = this.contextOf(id);
    return context && this.coverage('mask', context);
  }

  /** A picture, or a plane, turned and cut: read between its pixels once. */
  turned(node: TileNode, of: { isPicture: boolean; isRounded: boolean }, onto: 'finished' | 'table'): TileNode {
    return turnedNode(node, of, this.#document.geometry, onto);
  }

  /** The picture below the steps that finish it. */
  blend(): TileNode {
    return this.below(leavesOf(this.#document.stack).length);
  }

  /** What an adjustment lays over the picture below it. */
  inner(id: ItemId): TileNode | undefined {
    const context = this.contextOf(id);
    return context?.owner.item === 'adjustment' ? this.#stack.inner(context.owner, context.index) : undefined;
  }

  /** Where the picture of an item and all that lies below it is at an end of the range. */
  clipped(id: ItemId, end: 'black' | 'white'): TileNode | undefined {
    const context = this.contextOf(id);
    return context && new ClippedNode(this.below(context.index + 1), end);
  }

  /** The picture of the base and what shows of the first `count` leaves. */
  below(count: number): TileNode {
    return this.#stack.below(count);
  }

  /** What a layer shows, by itself. */
  content(id: LayerId): TileNode | undefined {
    const layer = findItem(this.scene, id);
    const context = this.contextOf(id);
    return layer?.item === 'layer' && context ? this.#stack.content(layer, context.index) : undefined;
  }

  /** The picture below an item as it would be if the item covered all of it. */
  covering(id: ItemId): TileNode | undefined {
    const context = this.contextOf(id);
    const leaf = context && leavesOf(this.scene.stack)[context.index];
    return leaf?.item.id === id ? this.#stack.covering(leaf.item, context?.index ?? 0) : undefined;
  }

  /** The whole picture, as if an item were otherwise. */
  tried(id: ItemId, as: Trial): TileNode {
    const { memory } = this.#options;
    return new PlanBuilder(tried(this.#document, id, as), this.extent, { memory }).result();
  }

  /** The finished picture but for an item. What looks at the finished picture there looks at the one below itself, since
   * otherwise two layers could each depend on the other. */
  without(id: ItemId): TileNode {
    return this.#withoutIn(this.#document, id);
  }

  /** The same as masks of an item see it: those of the stack see nothing of what finishes the picture. */
  #seenWithout(id: ItemId): TileNode {
    const document = this.#document;
    return this.#withoutIn(isStep(document, id) ? document : { ...document, retouch: [], finish: [] }, id);
  }

  #withoutIn(document: Scene, id: ItemId): TileNode {
    const { ring, memory } = this.#options;
    if (ring) return ring.parent.#withoutIn(document, id);
    const isBlend = document !== this.#document;
    return remember(isBlend ? this.#blendWithout : this.#without, id, () => {
      const scene = mapItem(document, id, () => undefined);
      return new PlanBuilder(scene, this.extent, { memory, prefix: `without ${id}:`, isInner: true }).result();
    });
  }

  /** Where a placed frame is; undefined for one that covers the scene. */
  inside(id: FrameId): TileNode | undefined {
    return this.#frames.inside(id);
  }

  /** How much of an item counts in the picture; whether it is hidden makes no difference. */
  effect(id: ItemId): TileNode | undefined {
    const context = this.contextOf(id);
    const leaf = context && leavesOf(this.scene.stack)[context.index];
    if (!leaf) return undefined;
    const path: Item[] = [...leaf.groups, leaf.item];
    const own = ownerOf(this.scene, id) ?? context.owner;
    const upTo = path.slice(0, path.findIndex((item) => item.id === own.id) + 1);
    const items = own === context.owner ? upTo : [...upTo, context.owner];
    const opacity = items.reduce((product, item) => product * item.opacity, 1);
    const shown = items.flatMap((item): TileNode[] => {
      const within = this.contextOf(item.id);
      const node = within && this.#shown(within);
      return node ? [node] : [];
    });
    const all = shown.length === 1 ? shown[0] : this.#intersection(shown);
    if (opacity === 1) return all;
    return new TableNode(all, `opacity:${opacity}`, () => finishTable({ inverted: false, strength: opacity }));
  }

  /** How much of an item shows by its own mask, guard, window and frame. */
  covers(id: ItemId): TileNode | undefined {
    const context = this.contextOf(id);
    return context && this.#shown(context);
  }

  #intersection(nodes: readonly TileNode[]): TileNode {
    return intersectionOf(nodes, this.extent);
  }

  coverage(of: MaskPlace['of'], context: MaskContext): TileNode | undefined {
    const key = this.#graph.atPlace(of, context);
    return key === undefined ? undefined : this.#masks.of(key);
  }

  /** An item's mask within its guard, where its frame is. */
  #shown(context: MaskContext): TileNode | undefined {
    const isMap = context.owner.item === 'adjustment' && adjustmentKind(context.owner.kind)?.mapFrom !== undefined;
    const mask = isMap ? new EverywhereNode(this.extent) : this.coverage('mask', context);
    if (!mask) return undefined;
    const limits = [this.coverage('guard', context), this.#insideContent(context.owner)];
    const nodes = [...limits.flatMap((node) => node ?? []), ...this.#windows(context)];
    return nodes.length === 0 ? mask : this.#intersection([mask, ...nodes]);
  }

  /** Where what a layer shows is; undefined where it covers the scene, or is no picture. */
  #insideContent(item: Item): TileNode | undefined {
    if (item.item !== 'layer') return undefined;
    if ('picture' in item.content) return insidePicture(item.content.picture, this.extent);
    const frame = frameOfLayer(item);
    return frame && this.inside(frame);
  }

  #windows({ owner, index }: MaskContext): TileNode[] {
    if (owner.item !== 'layer' || !owner.toneWindow) return [];
    const pictures = { layer: () => this.#stack.content(owner, index), below: () => this.below(index) };
    return windowNodes(owner.toneWindow, pictures, this.scene.workingSpace);
  }

  /** Where a layer's tone window lets it show. */
  window(id: LayerId): TileNode | undefined {
    const context = this.contextOf(id);
    if (!context) return undefined;
    const nodes = this.#windows(context);
    return nodes.length === 0 ? new MaskNode([], true, this.extent) : this.#intersection(nodes);
  }

  /** A mask that the scene need not have. */
  recipe(mask: Mask, context: MaskContext): TileNode {
    this.#masks.forget(`asked:${this.#asked - MOST_ASKED}`);
    return this.#masks.of(this.#graph.add(`asked:${++this.#asked}`, mask, context));
  }

  /** What a mask covers where it would not without its inside filled. */
  filled(of: MaskPlace['of'], context: MaskContext): TileNode | undefined {
    const mask = maskOfItem(context.owner, of);
    if (!mask) return undefined;
    const bare = this.recipe({ ...mask, refine: { ...mask.refine, coreFill: AT_REST.coreFill } }, context);
    const parts: JoinedPart[] = [
      { join: 'add', node: this.recipe(mask, context) },
      { join: 'subtract', node: bare },
    ];
    return new MaskNode(parts, false, this.extent);
  }

  source(source: Source, context: MaskContext): TileNode {
    const read = (id: FrameId) => (isDeveloped(source) ? this.frame(id) : this.#frames.taken(id));
    const base = () => this.#frames.baseOf(read(this.scene.base as FrameId));
    const named = frameOfSource(source);
    if (named) return this.scene.frames.some(({ id }) => id === named) ? read(named) : base();
    const plain = asTaken(source);
    if (plain === 'base') return base();
    const { layer, index, adjusted } = context;
    if (plain === 'layer') {
      const frame = layer && frameOfLayer(layer);
      const hasTones = layer && !('colour' in layer.content || 'gradient' in layer.content);
      if (!layer || !hasTones) return base();
      if (frame !== undefined && !isDeveloped(source)) return read(frame);
      return this.#stack.content(layer, index, isDeveloped(source) ? adjusted : 0) ?? base();
    }
    return plain === 'below' || this.#options.isInner || !layer ? this.below(index) : this.#seenWithout(layer.id);
  }

  /** The mask that a reference leads to; undefined for nothing.
   * @param from - Key of the mask that refers. */
  resolveReference(to: ReferenceTarget, context: MaskContext, from: string): TileNode | undefined {
    return this.#masks.follow(this.#graph.resolveReference(to, context), from);
  }

  /** A mask as it was when a stroke was painted through it, or when it was copied; undefined for nothing. */
  frozen(id: RecipeId, context: MaskContext, from: string): TileNode | undefined {
    return this.#masks.follow(this.#graph.recipe(id, context), from);
  }

  /** Whether this is a plan within another. */
  get #isWithin(): boolean {
    const { prefix, isInner, ring } = this.#options;
    return prefix !== undefined || isInner === true || ring !== undefined;
  }

  /** A mask that leads back to itself. */
  #inRing(key: string, view: RingView): TileNode {
    const { memory, prefix = '', isInner } = this.#options;
    const inside = new PlanBuilder(this.#document, this.extent, {
      memory,
      prefix: `${prefix}ring ${key}:`,
      isInner,
      ring: { parent: this, ...view },
    });
    return inside.#masks.root(key);
  }
}
