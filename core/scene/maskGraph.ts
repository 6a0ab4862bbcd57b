import type { GroupId, LayerId, RecipeId, StencilId } from './ids.ts';
import type { Mask, Part, ReferencePart } from './mask.ts';
import { groupOf, type MaskPlace } from './places.ts';
import type { Refinements } from './refinements.ts';
import type { Layer, Scene } from './scene.ts';
import type { Source } from './source.ts';

/** Where a mask is used: what its sources are seen from. */
export interface MaskContext {
  layer: Layer;
  index: number;
}

/** A mask at its context, or the picture of the first layers, and what it is made of. */
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

export const layerMaskKey = (of: 'mask' | 'guard' | 'stencil', id: LayerId): string => `${of}:${id}`;
export const groupKey = (id: GroupId): string => `group:${id}`;
export const underKey = (count: number): string => `under:${count}`;
const recipeKey = (id: RecipeId, context: MaskContext): string => `recipe:${id}@${context.layer.id}`;
const savedKey = (id: StencilId, context: MaskContext): string => `saved:${id}@${context.layer.id}`;

const PLACES = ['mask', 'guard', 'group', 'stencil'] as const;

/** How masks of a scene depend on each other: by referring to each other, and through the pictures that they look at. A mask counts
 * anew for every context that it is used at. Edges from pictures lead to layers further down only; so every ring has a reference in it. */
export class MaskGraph {
  readonly #scene: Scene;
  readonly #isInner: boolean;
  readonly #vertices = new Map<string, Vertex>();
  readonly #indexes: ReadonlyMap<LayerId, number>;
  /** How many layers the pictures have that masks look at. */
  readonly pictures = new Set<number>();
  /** Layers from which the finished picture is looked at. */
  readonly insides = new Set<LayerId>();

  /** @param isInner - Of a scene in which nothing looks at the finished picture. */
  constructor(scene: Scene, isInner: boolean) {
    this.#scene = scene;
    this.#isInner = isInner;
    this.#indexes = new Map(scene.stack.map(({ id }, index) => [id, index]));
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
    return this.#scene.stack.flatMap((layer, index) =>
      PLACES.flatMap((of) => this.atPlace(of, { layer, index }) ?? []),
    );
  }

  contextOf(id: LayerId): MaskContext | undefined {
    const index = this.#indexes.get(id);
    return index === undefined ? undefined : { layer: this.#scene.stack[index], index };
  }

  /** Key of the mask at a place; undefined when there is none. */
  atPlace(of: MaskPlace['of'], { layer, index }: MaskContext): string | undefined {
    if (of === 'group') {
      const group = groupOf(this.#scene, layer);
      const first = this.#scene.stack.findIndex((each) => each.group === group?.id);
      return group && this.add(groupKey(group.id), group.mask, { layer: this.#scene.stack[first], index: first });
    }
    const mask = of === 'stencil' ? layer.stencil?.mask : layer[of];
    return mask ? this.add(layerMaskKey(of, layer.id), mask, { layer, index }) : undefined;
  }

  /** Key of the mask that a reference leads to from a context; undefined when there is none. */
  resolveReference(to: ReferencePart['to'], context: MaskContext): string | undefined {
    if ('frozen' in to) return this.recipe(to.frozen, context);
    if ('stencil' in to) {
      const stencil = this.#scene.stencils.find(({ id }) => id === to.stencil);
      return stencil && this.add(savedKey(stencil.id, context), stencil.mask, context);
    }
    const other = to.layer === context.layer.id ? undefined : this.contextOf(to.layer);
    return other && this.atPlace('mask', other);
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
    const refine = ({ edgeFit }: Refinements) => edgeFit.radius > 0 && this.#look(edgeFit.guide, context, looks);
    refine(mask.refine);
    for (const part of mask.parts) {
      if (!part.enabled) continue;
      refine(part.refine);
      for (const source of sourcesOf(part)) this.#look(source, context, looks);
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

  #look(source: Source, { layer, index }: MaskContext, looks: Set<string>): void {
    if (source === 'result' && !this.#isInner) this.insides.add(layer.id);
    else if (source === 'sofar' || source === 'result') {
      this.pictures.add(index);
      looks.add(this.#picture(index));
    }
  }

  /** The picture of the first layers: that of one layer less, and what shows the last of them. */
  #picture(count: number): string {
    // From below upwards, so that no picture waits for another one.
    let from = count;
    while (from > 0 && !this.#vertices.has(underKey(from))) from--;
    for (let each = from; each <= count; each++) {
      if (this.#vertices.has(underKey(each))) continue;
      const layer = this.#scene.stack[each - 1];
      const context = { layer, index: each - 1 };
      const shown = layer?.visible ? (['mask', 'guard', 'group'] as const) : [];
      const looks = shown.flatMap((of) => this.atPlace(of, context) ?? []);
      this.#vertices.set(underKey(each), {
        links: [],
        looks: each > 0 ? [underKey(each - 1), ...looks] : [],
        isExpanded: true,
      });
    }
    return underKey(count);
  }
}

function sourcesOf(part: Part): readonly Source[] {
  return part.kind === 'tone' || part.kind === 'colour' ? [part.source] : [];
}
