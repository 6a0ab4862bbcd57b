import type { ItemId } from '../../ids.ts';
import type { Scene } from '../../scene/scene.ts';
import type { Chains } from '../nodes/paintedNode.ts';
import type { TileNode } from '../tiles/renderContext.ts';

/** Painted parts, and strokes that soften, whose chains are remembered: more than a scene at hand has. */
const MOST_CHAINS = 1024;

/** What the blend is made of, and that nothing which finishes it changes. */
const BLENDED = [
  'workingSpace',
  'blendSpace',
  'base',
  'frames',
  'stack',
  'retouch',
  'geometry',
  'stencils',
  'recipes',
] as const satisfies readonly (keyof Scene)[];

interface Blend {
  of: Scene;
  selected: number;
  node: TileNode;
}

/** What one plan of a thread hands to the next: keys that need not be worked out again, and what is being worked on. */
export class PlanMemory {
  readonly #chains = new Map<string, Chains>();
  #blend: Blend | undefined;
  #worked: { id: ItemId; settings: unknown } | undefined;

  /** Chains of a painted part, by its name. */
  chains(name: string): Chains {
    const chains = this.#chains.get(name) ?? new Map();
    // The latest last; those that no plan has asked for in long are forgotten.
    this.#chains.delete(name);
    this.#chains.set(name, chains);
    const [oldest] = this.#chains.keys();
    if (this.#chains.size > MOST_CHAINS) this.#chains.delete(oldest);
    return chains;
  }

  /** The blend as the plan before made it, with all its keys; made if anything of it has changed.
   * @param selected - How many leaves lie below the one that is worked on; -1 where none of the blend is.
   * @param isOwn - Whether nothing that finishes the picture tells what the blend is. */
  blend(of: Scene, selected: number, isOwn: () => boolean, make: () => TileNode): TileNode {
    const known = this.#blend;
    if (known?.selected === selected && BLENDED.every((name) => known.of[name] === of[name])) return known.node;
    const node = make();
    this.#blend = isOwn() ? { of, selected, node } : undefined;
    return node;
  }

  /** Whether the settings of the item that is worked on were others in the plan before, as while a slider is moved. */
  isChanging(id: ItemId, settings: unknown): boolean {
    const before = this.#worked;
    this.#worked = { id, settings };
    return before?.id === id && before.settings !== settings;
  }
}
