import type { ItemId } from '../../ids.ts';
import type { Size } from '../../raster/size.ts';
import type { Mask } from '../../scene/mask.ts';
import type { Scene } from '../../scene/scene.ts';
import type { Chains } from '../nodes/paintedNode.ts';
import type { TileNode } from '../tiles/renderContext.ts';

/** Painted parts, and strokes that soften, whose chains are remembered: more than a scene at hand has. */
const MOST_CHAINS = 1024;
/** Masks that are remembered. */
const MOST_MASKS = 256;

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
  /** By their names, the latest last. */
  readonly #masks = new Map<string, { of: Mask; size: Size; node: TileNode }>();
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

  /** A mask as a plan before made it, with all its keys; undefined if it is another now.
   * @param size - Of the scene. */
  mask(name: string, of: Mask, { width, height }: Size): TileNode | undefined {
    const known = this.#masks.get(name);
    return known?.of === of && known.size.width === width && known.size.height === height ? known.node : undefined;
  }

  /** Remembers a mask that follows from nothing but itself and the size of the scene. */
  keepMask(name: string, of: Mask, size: Size, node: TileNode): void {
    this.#masks.delete(name);
    this.#masks.set(name, { of, size, node });
    const [oldest] = this.#masks.keys();
    if (this.#masks.size > MOST_MASKS) this.#masks.delete(oldest);
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
