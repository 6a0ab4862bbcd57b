import type { Size } from '../../raster/size.ts';
import type { MaskGraph } from '../../scene/maskGraph.ts';
import { StrongComponents } from '../../scene/strongComponents.ts';
import type { TileNode } from '../tiles/renderContext.ts';
import { type MaskBuilder, remember } from './maskBuilder.ts';
import type { PlanMemory } from './planMemory.ts';
import { asRoot, ringCuts } from './ringCuts.ts';

/** Masks that lead back to themselves, as they are seen from one of them. */
export interface RingView {
  members: ReadonlySet<string>;
  /** References that are not followed, `from>to`. */
  cut: ReadonlySet<string>;
}

interface MaskNodesOptions {
  graph: MaskGraph;
  masks: MaskBuilder;
  /** Of the scene. */
  size: Size;
  /** Where masks are kept for the next plan, if they are. */
  memory?: PlanMemory;
  /** All that is made are masks of a ring; others are made elsewhere. */
  ring?: RingView & { elsewhere: (key: string) => TileNode };
  /** A mask that leads back to itself, made with masks of its own. */
  inRing: (key: string, view: RingView) => TileNode;
}

/** Makes the masks of a scene by their keys in its graph: each once for every context that it is used at, after all that it builds on, so that
 * chains of references are as long as they like without a chain of calls. */
export class MaskNodes {
  readonly #options: MaskNodesOptions;
  readonly #groups: StrongComponents;
  readonly #made = new Map<string, TileNode>();
  readonly #rings = new Map<string, ReadonlySet<string>>();

  constructor(options: MaskNodesOptions) {
    this.#options = options;
    this.#groups = new StrongComponents((key) => this.#edgesFollowed(key));
  }

  of(key: string): TileNode {
    const { ring, inRing } = this.#options;
    if (ring && !ring.members.has(key)) return ring.elsewhere(key);
    const known = this.#known(key);
    if (known) return known;
    for (const group of this.#groups.from(key)) {
      const [only] = group;
      const isRing = group.length > 1 || this.#edgesFollowed(only).includes(only);
      if (isRing) for (const each of group) this.#rings.set(each, new Set(group));
      else this.#build(only);
    }
    return remember(this.#made, key, () => {
      const members = this.#rings.get(key) as ReadonlySet<string>;
      return inRing(key, { members, cut: this.#cutsFor(key, members) });
    });
  }

  /** The mask that another refers to; undefined for nothing.
   * @param from - Key of the one that refers. */
  follow(key: string | undefined, from: string): TileNode | undefined {
    return key === undefined || this.#options.ring?.cut.has(`${from}>${key}`) ? undefined : this.of(key);
  }

  /** The mask that a ring is seen from, under a name that no reference of it is cut for. */
  root(key: string): TileNode {
    const { graph, masks } = this.#options;
    const { mask, context } = graph.maskOf(key) ?? {};
    if (!mask || !context) throw new RangeError(`No mask is called ${key}`);
    return masks.mask(mask, { ...context, name: asRoot(key) }).node;
  }

  /** Lets go of a mask that nothing else refers to. */
  forget(key: string): void {
    this.#made.delete(key);
    this.#options.graph.forget(key);
  }

  #edgesFollowed(key: string): readonly string[] {
    const { graph, ring } = this.#options;
    const next = graph.expand(key);
    return ring ? next.filter((to) => ring.members.has(to) && !ring.cut.has(`${key}>${to}`)) : next;
  }

  /** See {@link ringCuts}. */
  #cutsFor(key: string, members: ReadonlySet<string>): ReadonlySet<string> {
    return ringCuts(key, members, {
      links: (from) => this.#options.graph.edgesOf(from).links,
      followed: (from) => this.#edgesFollowed(from),
    });
  }

  #build(key: string): void {
    const { graph, masks, memory, size } = this.#options;
    const found = graph.maskOf(key);
    if (!found || this.#known(key)) return;
    const { node, isAlone } = masks.mask(found.mask, { ...found.context, name: key });
    this.#made.set(key, node);
    if (isAlone) memory?.keepMask(key, found.mask, size, node);
  }

  /** A mask that was made already, or as the plan before made it if nothing of it has changed. */
  #known(key: string): TileNode | undefined {
    const made = this.#made.get(key);
    const { graph, memory, size } = this.#options;
    const found = made || !memory ? undefined : graph.maskOf(key);
    const kept = found && memory?.mask(key, found.mask, size);
    if (kept) this.#made.set(key, kept);
    return made ?? kept;
  }
}
