import type { Delivered } from '../../develop/defineAdjustment.ts';
import { adjustmentKind, isAtRest } from '../../develop/list.ts';
import type { ItemId } from '../../ids.ts';
import { isWholeRange } from '../../masks/range.ts';
import type { ModeName } from '../../modes/list.ts';
import type { Adjustment, Group, Item, Layer } from '../../scene/item.ts';
import type { Scene } from '../../scene/scene.ts';
import { isWaiting, leavesOf, ownAdjustments } from '../../scene/tree.ts';
import { ColourNode, type ColourRun } from '../nodes/colourNode.ts';
import { type CompositeLayer, CompositeNode } from '../nodes/compositeNode.ts';
import { EverywhereNode } from '../nodes/everywhereNode.ts';
import type { Turning } from '../nodes/frameMap.ts';
import { SoFarNode } from '../nodes/soFarNode.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';
import { type AdjustedWhere, adjustedNode, innerNode, ownLayer } from './developedNode.ts';
import { remember } from './maskBuilder.ts';
import { ClosedPile, OpenPile, type Pile } from './piles.ts';

/** What the stack lies on and is made of. */
export interface StackSources {
  readonly scene: Scene;
  readonly extent: Extent;
  /** The picture below the stack. */
  base(): TileNode;
  /** The frame that a layer shows, or a picture of its own. */
  picture(layer: Layer): TileNode | undefined;
  /** How many leaves are blended; others finish the picture. */
  readonly blended: number;
  readonly isRetouched: boolean;
  /** The blend without what is retouched in it. */
  retouched(blend: TileNode): TileNode;
  /** What is blended and retouched, made unless the plan before made the same.
   * @param selected - How many leaves lie below the one that is worked on; -1 where none of the blend is. */
  remembered(selected: number, make: () => TileNode): TileNode;
  /** How the picture will be turned and cut. */
  readonly delivered: Delivered | undefined;
  /** How the scene is turned in it, if it is. */
  readonly turned?: Turning;
  /** What a layer of two colours shows. */
  colourRun(run: ColourRun): TileNode;
  /** The mask of an item whose mask is a map. */
  map(id: ItemId): TileNode | undefined;
  /** An item's mask as far as it counts; undefined when it shows nothing. */
  shown(id: ItemId): TileNode | undefined;
  /** Both masks in one. */
  intersection(nodes: readonly TileNode[]): TileNode;
  /** Whether masks look at the picture of the first so many leaves. */
  isLookedAt(leaves: number): boolean;
}

/** Makes pictures of the stack. */
export class StackBuilder {
  readonly #of: StackSources;
  readonly #below = new Map<number, TileNode>();
  /** Items of the stack by how many leaves lie below them. */
  readonly #starts = new Map<number, number>();
  readonly #needed = new Set<number>();
  /** How many leaves lie below the topmost item that changes all that lies below it. */
  #topmost = 0;
  #selected = -1;
  #isChanging = false;
  readonly #inLight: boolean;

  constructor(of: StackSources) {
    this.#of = of;
    this.#inLight = of.scene.blendSpace === 'linear';
    let leaves = 0;
    for (const [index, item] of of.scene.stack.entries()) {
      this.#starts.set(leaves, index);
      const counts = item.visible && !isWaiting(item, of.scene.base);
      if (counts && needsBelow(item) && !this.#isMixedInPlace(item, leaves)) this.#needed.add(leaves);
      if (counts && item.item === 'adjustment' && !isAtRest(item.kind, item.settings)) this.#topmost = leaves;
      leaves += leafCount(item);
    }
  }

  /** The whole picture.
   * @param selected - The item that is worked on: what lies below it is kept mixed, and what it shows itself.
   * @param isChanging - What it shows changes, so that there is nothing to keep. */
  result(selected?: ItemId, isTransient = false, isChanging = false): TileNode {
    this.#isChanging = isChanging;
    const { stack } = this.#of.scene;
    const isSelected = (item: Item) => item.id === selected || ownAdjustments(item).some(({ id }) => id === selected);
    if (selected !== undefined)
      this.#selected = leavesOf(stack).findIndex(({ item, groups }) => [item, ...groups].some(isSelected));
    const { blended, isRetouched } = this.#of;
    const lower = Math.max(this.#topmost, isRetouched ? blended : 0);
    const pile = new OpenPile((leaves) => this.below(leaves), lower, true);
    const rest = lower > 0 ? stack.slice(this.#starts.get(lower) ?? stack.length) : stack;
    const lowerLayerCount = this.#layAll(rest, lower, Number.POSITIVE_INFINITY, pile);
    return new CompositeNode(pile.base, pile.layers, { lowerLayerCount, isTransient });
  }

  /** The picture of the base and what shows of the first `count` leaves. */
  below(count: number): TileNode {
    if (!this.#below.has(count))
      // From below upwards, so that no picture waits for another one.
      for (const leaves of this.#needed) if (leaves < count && !this.#below.has(leaves)) this.#make(leaves);
    return this.#make(count);
  }

  #make(count: number): TileNode {
    return remember(this.#below, count, () => {
      const { blended } = this.#of;
      const make = () => (count === 0 ? this.#of.base() : this.#belowOn(count));
      if (count !== blended) return make();
      return this.#of.remembered(this.#selected < blended ? this.#selected : -1, () => this.#of.retouched(make()));
    });
  }

  /** Built on the highest picture further down that others look at as well, where no group lies across its end. */
  #belowOn(count: number): TileNode {
    let lower = 0;
    for (const leaves of this.#starts.keys())
      if (leaves < count && (this.#needed.has(leaves) || this.#of.isLookedAt(leaves) || this.#isRetouchedAt(leaves)))
        lower = Math.max(lower, leaves);
    const pile = new OpenPile((leaves) => this.below(leaves), lower, true);
    const rest = this.#of.scene.stack.slice(this.#starts.get(lower) ?? 0);
    const lowerLayerCount = this.#layAll(rest, lower, count, pile);
    return new CompositeNode(pile.base, pile.layers, { lowerLayerCount, isIntermediate: true });
  }

  /** What is retouched lies between the blend and what finishes it. */
  #isRetouchedAt(leaves: number): boolean {
    return this.#of.isRetouched && leaves === this.#of.blended;
  }

  /** Lays items of the stack itself.
   * @returns How many of the pile's layers lie below the item that is worked on. */
  #layAll(items: readonly Item[], from: number, to: number, pile: OpenPile): number {
    let [leaves, lower] = [from, 0];
    let base: TileNode | undefined;
    for (const item of items) {
      if (leaves >= to) break;
      this.#layItem(item, leaves, to, pile);
      leaves += leafCount(item);
      if (leaves > this.#selected) continue;
      lower = pile.layers.length;
      base = pile.base;
    }
    return pile.base === base ? lower : 0;
  }

  /** @param from - Leaves of the stack below the first item.
   * @param to - Leaves of the stack that count; others are left out. */
  #layItems(items: readonly Item[], from: number, to: number, pile: Pile): void {
    let leaves = from;
    for (const item of items) {
      if (leaves >= to) break;
      this.#layItem(item, leaves, to, pile);
      leaves += leafCount(item);
    }
  }

  #layItem(item: Item, from: number, to: number, pile: Pile): void {
    if (!item.visible || isWaiting(item, this.#of.scene.base)) return;
    const laid = item.item === 'group' ? this.#group(item, from, to, pile) : this.#leaf(item, from, pile);
    // Not before: of a group that shows nothing the mask need not be there yet.
    const mask = laid && this.#of.shown(item.id);
    if (!laid || !mask) return;
    const { cover, mode = item.mode, share = 1, ...rest } = laid;
    const shown = cover ? this.#of.intersection([mask, cover]) : mask;
    const isSelected = from === this.#selected && !this.#isChanging;
    pile.lay({ ...rest, mask: shown, opacity: share * item.opacity, mode, inLight: this.#inLight, isSelected });
  }

  #leaf(item: Layer | Adjustment, leaves: number, pile: Pile): Laid | undefined {
    if (item.item === 'adjustment') {
      if (isAtRest(item.kind, item.settings)) return undefined;
      const below = pile.picture(leaves);
      return below && this.#change(below, item);
    }
    const isAtop = 'below' in item.content;
    if (pile instanceof OpenPile && this.#isMixedInPlace(item, leaves)) {
      // In normal mode it is what lies there already.
      return item.mode === 'normal' ? undefined : { source: new SoFarNode(this.#of.extent), isAtop };
    }
    const content = isAtop ? pile.picture(leaves) : this.#ownContent(item);
    return content && { source: this.#adjusted(content, item.adjustments), isAtop };
  }

  /** What an adjustment does to the picture below it. What it lays over that in a mode of its own is laid at once, through both masks: what is mixed
   * with the picture and then again with the picture is mixed with it once, by the product. */
  #change(below: TileNode, item: Adjustment): Laid {
    const where = this.#whereOf(item);
    const own = item.mode === 'normal' && !this.#inLight ? ownLayer(below, item, where) : undefined;
    if (!own) return { source: adjustedNode(below, item, where), isAtop: true };
    const { source, mask, opacity, mode } = own.layer;
    return { source, cover: mask, share: opacity, mode, isAtop: true };
  }

  /** Whether a layer is nothing but the picture so far, and nobody asks what that is: it is laid while that is being mixed.
   * @param leaves - Leaves of the stack below it. */
  #isMixedInPlace(item: Item, leaves: number): boolean {
    if (item.item !== 'layer' || !('below' in item.content) || this.#inLight) return false;
    return item.adjustments.length === 0 && item.toneWindow === null && !this.#of.isLookedAt(leaves);
  }

  /** What a layer shows, by itself.
   * @param leaves - Leaves of the stack below it.
   * @param adjusted - How many of its own adjustments it is seen with; all, if it is not told. */
  content(layer: Layer, leaves: number, adjusted?: number): TileNode | undefined {
    const content = 'below' in layer.content ? this.below(leaves) : this.#ownContent(layer);
    return content && this.#adjusted(content, layer.adjustments.slice(0, adjusted));
  }

  /** The picture below a leaf as it would be if the leaf covered all of it.
   * @param leaves - Leaves of the stack below it. */
  covering(item: Layer | Adjustment, leaves: number): TileNode | undefined {
    const below = this.below(leaves);
    const isChange = item.item === 'adjustment';
    const content = isChange ? adjustedNode(below, item, this.#whereOf(item)) : this.content(item, leaves);
    if (!content || item.mode === 'normal') return content;
    const laid = { source: content, mask: new EverywhereNode(this.#of.extent), opacity: 1, mode: item.mode };
    return new CompositeNode(below, [{ ...laid, inLight: this.#inLight }], { isIntermediate: true });
  }

  /** A picture after adjustments of it alone, each where its mask lets it.
   * @param cover - Where there is anything to be adjusted; everywhere if it is not told. */
  #adjusted(content: TileNode, adjustments: readonly Adjustment[], cover?: TileNode): TileNode {
    let picture = content;
    for (const adjustment of adjustments) {
      const isAtRestOrHidden = !adjustment.visible || isAtRest(adjustment.kind, adjustment.settings);
      const mask = isAtRestOrHidden ? undefined : this.#of.shown(adjustment.id);
      if (!mask) continue;
      const { opacity, mode } = adjustment;
      const source = adjustedNode(picture, adjustment, this.#whereOf(adjustment));
      const within = cover ? this.#of.intersection([mask, cover]) : mask;
      picture = new CompositeNode(picture, [{ source, mask: within, opacity, mode, inLight: this.#inLight }], {
        isIntermediate: true,
      });
    }
    return picture;
  }

  /** What an adjustment lays over the picture below it, by itself. */
  inner(adjustment: Adjustment, leaves: number): TileNode | undefined {
    return innerNode(this.below(leaves), adjustment, this.#whereOf(adjustment));
  }

  #whereOf({ id, kind }: Adjustment): AdjustedWhere {
    const map = adjustmentKind(kind)?.mapFrom === undefined ? undefined : this.#of.map(id);
    const { scene, delivered, turned } = this.#of;
    return { space: scene.workingSpace, delivered, turned, map };
  }

  #ownContent(layer: Layer): TileNode | undefined {
    const { content } = layer;
    if ('colour' in content) return new ColourNode(content.colour, this.#of.extent);
    if ('gradient' in content) return this.#of.colourRun(content.gradient);
    return this.#of.picture(layer);
  }

  /** What a group's items make of the picture below it, or of nothing; undefined when none of them shows. What lies through a group that is
   * on its own is on its own as well. */
  #group(group: Group, from: number, to: number, pile: Pile): Laid | undefined {
    if (group.isolated || pile instanceof ClosedPile) {
      const inside = new ClosedPile(this.#of.extent);
      this.#layItems(group.items, from, to, inside);
      const { alone } = inside;
      return alone && { source: this.#adjusted(alone.picture, group.adjustments), cover: alone.cover };
    }
    const inside = new OpenPile(() => pile.picture(from) as TileNode, from, false);
    this.#layItems(group.items, from, to, inside);
    if (inside.isEmpty) return undefined;
    const source = new CompositeNode(inside.base, inside.layers, { isIntermediate: true });
    if (group.adjustments.length === 0) return { source, mode: 'normal' };
    // What shows through the group is not adjusted with it.
    const own = new ClosedPile(this.#of.extent);
    this.#layItems(group.items, from, to, own);
    return { source: own.alone ? this.#adjusted(source, group.adjustments, own.alone.cover) : source, mode: 'normal' };
  }
}

/** What an item lays, but for its mask and opacity. */
interface Laid extends Pick<CompositeLayer, 'source' | 'isAtop'> {
  /** Where there is anything of it; everywhere if it is not told. */
  cover?: TileNode;
  mode?: ModeName;
  /** How much of it counts; all, if it is not told. */
  share?: number;
}

/** Whether an item of the stack is made of what lies below it. */
const needsBelow = (item: Item): boolean =>
  (item.item === 'layer' && item.toneWindow !== null && !isWholeRange(item.toneWindow.below)) ||
  (item.item === 'adjustment' && !isAtRest(item.kind, item.settings)) ||
  (item.item === 'group' && !item.isolated) ||
  (item.item === 'layer' && 'below' in item.content);

export const leafCount = (item: Item): number => (item.item === 'group' ? leavesOf(item.items).length : 1);
