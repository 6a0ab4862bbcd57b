import { adjustmentKind } from '../develop/list.ts';
import { type ItemId, type LayerId, PartId, type RecipeId, type StencilId, StrokeId } from '../ids.ts';
import { asTaken, isDeveloped, type Source } from '../masks/source.ts';
import { kindOf, type Part } from '../parts/list.ts';
import { newPaintedPart } from '../parts/painted.ts';
import type { ReferenceTarget } from '../parts/referenceTarget.ts';
import { sourcesOfRefinements } from '../refinements/list.ts';
import type { Item, Layer } from './item.ts';
import type { Mask } from './mask.ts';
import { type MaskPlace, maskOfItem } from './places.ts';
import type { Scene } from './scene.ts';
import { asOneStack, isWaiting, leavesOf, ownAdjustments } from './tree.ts';

/** Where a mask is used: what its sources are seen from. */
export interface MaskContext {
  /** Whose mask it is. */
  owner: Item;
  /** The layer that `layer` means: the owner, or the lowest within it; undefined when there is none. */
  layer: Layer | undefined;
  /** How many leaves of the stack lie below. */
  index: number;
  /** How many of the layer's own adjustments are seen in it as developed: those before the owner, if that is one of them; else all. */
  adjusted: number;
}

/** A mask at its context, or the picture of the first leaves, and what it is made of. */
interface Vertex {
  /** Nothing for a picture. */
  mask?: Mask;
  context?: MaskContext;
  /** Masks that it refers to, live or frozen, or that its strokes were painted through. */
  links: readonly string[];
  /** Pictures that it looks at, and masks of a picture's layers. */
  looks: readonly string[];
  isExpanded: boolean;
}

/** Whether a reference would lead back to the mask that it is in, by references and what strokes were painted through alone: two masks
 * cannot refer to each other. */
export function leadsBack(scene: Scene, from: MaskPlace, to: ReferenceTarget): boolean {
  const graph = new MaskGraph(asOneStack(scene).scene, false);
  const context = graph.contextOf(from.owner);
  const first = context && graph.resolveReference(to, context);
  const [own, seen] = [maskKey(from), new Set<string>()];
  const open = first ? [first] : [];
  for (let key = open.pop(); key !== undefined; key = open.pop()) {
    if (key === own) return true;
    if (seen.has(key)) continue;
    seen.add(key);
    graph.expand(key);
    open.push(...graph.edgesOf(key).links);
  }
  return false;
}

export const maskKey = ({ owner, of }: MaskPlace): string => `${of}:${owner}`;
export const belowKey = (count: number): string => `below:${count}`;
const recipeKey = (id: RecipeId, context: MaskContext): string => `recipe:${id}@${context.owner.id}`;
const savedKey = (id: StencilId, context: MaskContext): string => `saved:${id}@${context.owner.id}`;

const MASKS = ['mask', 'guard', 'stencil'] as const;
/** Those of an item that decide how it shows. */
const SHOWING = ['mask', 'guard'] as const;

/** How masks of a scene depend on each other: by referring to each other, and through the pictures that they look at. A mask counts
 * anew for every context that it is used at. Edges from pictures lead to layers further down only; so every ring has a reference in it. */
export class MaskGraph {
  readonly #scene: Scene;
  readonly #isInner: boolean;
  readonly #vertices = new Map<string, Vertex>();
  readonly #contexts: ReadonlyMap<ItemId, MaskContext>;
  /** How many leaves the pictures have that masks look at. */
  readonly pictures = new Set<number>();
  /** Layers from which the finished picture is looked at. */
  readonly insides = new Set<LayerId>();

  /** @param isInner - Of a scene in which nothing looks at the finished picture. */
  constructor(scene: Scene, isInner: boolean) {
    this.#scene = scene;
    this.#isInner = isInner;
    this.#contexts = contextsOf(scene);
  }

  /** The mask of a vertex, where it is seen from; undefined for a picture, and for what does not exist. */
  maskOf(key: string): { mask: Mask; context: MaskContext } | undefined {
    const { mask, context } = this.#vertices.get(key) ?? {};
    return mask && context && { mask, context };
  }

  /** All that a vertex depends on: itself by references, or by what it looks at. */
  edgesOf(key: string): Pick<Vertex, 'links' | 'looks'> {
    return this.#vertices.get(key) ?? { links: [], looks: [] };
  }

  /** Keys of all masks that the scene's picture, or its brushes, depend on. */
  roots(): string[] {
    return [...this.#contexts.values()].flatMap((context) => MASKS.flatMap((of) => this.atPlace(of, context) ?? []));
  }

  contextOf(id: ItemId): MaskContext | undefined {
    return this.#contexts.get(id);
  }

  /** Key of a mask of a context's owner; undefined when it has none. */
  atPlace(of: MaskPlace['of'], context: MaskContext): string | undefined {
    const mask = shownMask(context.owner, of);
    return mask && this.add(maskKey({ owner: context.owner.id, of }), mask, context);
  }

  /** Key of the mask that a reference leads to from a context; undefined when there is none. */
  resolveReference(to: ReferenceTarget, context: MaskContext): string | undefined {
    if ('frozen' in to) return this.recipe(to.frozen, context);
    if ('stencil' in to) {
      const stencil = this.#scene.stencils.find(({ id }) => id === to.stencil);
      return stencil && this.add(savedKey(stencil.id, context), stencil.mask, context);
    }
    const other = to.item === context.owner.id ? undefined : this.contextOf(to.item);
    return other && this.atPlace(to.of ?? 'mask', other);
  }

  /** Key of a recipe seen from where it says, or from a context; undefined when there is none. */
  recipe(id: RecipeId, context: MaskContext): string | undefined {
    const recipe = Object.hasOwn(this.#scene.recipes, id) ? this.#scene.recipes[id] : undefined;
    const from = (recipe?.seenFrom && this.contextOf(recipe.seenFrom)) || context;
    return recipe && this.add(recipeKey(id, from), recipe.mask, from);
  }

  /** Takes a mask that the scene need not have.
   * @returns Its key. */
  add(key: string, mask: Mask, context: MaskContext): string {
    if (!this.#vertices.has(key)) {
      this.#vertices.set(key, { mask, context, links: [], looks: [], isExpanded: false });
    }
    return key;
  }

  /** Lets go of a mask that nothing else refers to. */
  forget(key: string): void {
    this.#vertices.delete(key);
  }

  /** Whether the picture of the first leaves depends on masks of what lies above them. */
  dependsOnAbove(count: number): boolean {
    const [open, seen] = [[this.#picture(count)], new Set<string>()];
    for (let key = open.pop(); key !== undefined; key = open.pop()) {
      if (seen.has(key)) continue;
      seen.add(key);
      if ((this.#vertices.get(key)?.context?.index ?? 0) >= count) return true;
      open.push(...this.expand(key));
    }
    return false;
  }

  /** Finds what a vertex depends on, if that is not known yet; what it leads to is there afterwards, with edges still to find. */
  expand(key: string): readonly string[] {
    const vertex = this.#vertices.get(key);
    if (vertex && !vertex.isExpanded && vertex.mask && vertex.context)
      Object.assign(vertex, this.#edgesOfMask(vertex.mask, vertex.context), { isExpanded: true });
    const { links, looks } = this.edgesOf(key);
    return [...links, ...looks];
  }

  #edgesOfMask(mask: Mask, context: MaskContext): Pick<Vertex, 'links' | 'looks'> {
    const [links, looks] = [new Set<string>(), new Set<string>()];
    const recipes = new Set<RecipeId>();
    const lookFor = (sources: readonly Source[]) => {
      for (const source of sources) this.#look(source, context, looks);
    };
    lookFor(sourcesOfRefinements(mask.refine));
    for (const part of mask.parts) {
      if (!part.enabled) continue;
      lookFor(sourcesOfRefinements(part.refine));
      lookFor(kindOf(part).sources?.(part) ?? []);
      const to = part.kind === 'reference' ? this.resolveReference(part.to, context) : undefined;
      if (to) links.add(to);
      if (part.kind === 'painted') for (const { stencil } of part.strokes) if (stencil) recipes.add(stencil);
    }
    for (const id of recipes) {
      const recipe = this.recipe(id, context);
      if (recipe) links.add(recipe);
    }
    return { links: [...links], looks: [...looks] };
  }

  #look(source: Source, { layer, index, adjusted }: MaskContext, looks: Set<string>): void {
    if (source === 'result' && !this.#isInner && layer) return void this.insides.add(layer.id);
    const isLayer = asTaken(source) === 'layer';
    if (source === 'below' || source === 'result' || (isLayer && layer && 'below' in layer.content)) {
      this.pictures.add(index);
      looks.add(this.#picture(index));
    }
    if (layer && isLayer && isDeveloped(source))
      for (const key of this.#showing(layer.adjustments.slice(0, adjusted))) looks.add(key);
  }

  /** Keys of the masks that decide how items show. */
  #showing(items: readonly Item[]): string[] {
    return items.flatMap(({ id }) => {
      const context = this.contextOf(id);
      return context ? SHOWING.flatMap((of) => this.atPlace(of, context) ?? []) : [];
    });
  }

  /** The picture of the first leaves: that of one leaf less, and what shows the last of them. */
  #picture(count: number): string {
    // From below upwards, so that no picture waits for another one.
    let from = count;
    while (from > 0 && !this.#vertices.has(belowKey(from))) from--;
    for (let each = from; each <= count; each++) {
      if (this.#vertices.has(belowKey(each))) continue;
      const leaf = leavesOf(this.#scene.stack)[each - 1];
      const items: Item[] =
        leaf?.item.visible && !isWaiting(leaf.item, this.#scene.base) ? [leaf.item, ...leaf.groups] : [];
      const looks = this.#showing(items.flatMap((item) => [item, ...ownAdjustments(item)]));
      this.#vertices.set(belowKey(each), {
        links: [],
        looks: each > 0 ? [belowKey(each - 1), ...looks] : [],
        isExpanded: true,
      });
    }
    return belowKey(count);
  }
}

const begun = new WeakMap<Mask, Mask>();

/** A mask of an item as it is computed: one that is a map is painted on what changes nothing. */
function shownMask(owner: Item, of: MaskPlace['of']): Mask | undefined {
  const mask = maskOfItem(owner, of);
  const from = of === 'mask' && owner.item === 'adjustment' ? adjustmentKind(owner.kind)?.mapFrom : undefined;
  if (!mask || from === undefined) return mask;
  const known = begun.get(mask) ?? { ...mask, parts: [evenPart(from), ...mask.parts] };
  begun.set(mask, known);
  return known;
}

/** One grey everywhere. */
const evenPart = (grey: number): Part => ({
  ...newPaintedPart(),
  id: PartId.parse('even'),
  strokes: [
    { id: StrokeId.parse('even'), fill: true, outline: null, feather: 0, target: grey, strength: 1, stencil: null },
  ],
});

/** Where the masks of each item are used. */
function contextsOf({ stack, base }: Scene): Map<ItemId, MaskContext> {
  const contexts = new Map<ItemId, MaskContext>();
  for (const [index, { item, groups }] of leavesOf(stack).entries()) {
    const layer = item.item === 'layer' ? item : undefined;
    contexts.set(item.id, { owner: item, layer, index, adjusted: ALL });
    for (const [adjusted, owner] of ownAdjustments(item).entries())
      contexts.set(owner.id, { owner, layer, index, adjusted });
    for (const group of groups)
      for (const owner of [group, ...group.adjustments]) {
        const known = contexts.get(owner.id) ?? { owner, layer: undefined, index, adjusted: ALL };
        contexts.set(owner.id, known);
        if (!isWaiting(item, base)) known.layer ??= layer;
      }
  }
  return contexts;
}

/** As many adjustments as there are. */
const ALL = Number.POSITIVE_INFINITY;
