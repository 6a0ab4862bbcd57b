import { type Alone, AloneNode, CoverNode } from '../nodes/aloneNode.ts';
import { type CompositeLayer, CompositeNode } from '../nodes/compositeNode.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';

/** What is laid one upon the other, from below upwards. */
export interface Pile {
  lay(layer: CompositeLayer): void;
  /** What was laid so far, as a picture that the next is built on; undefined for nothing.
   * @param leaves - Leaves of the stack that lie below. */
  picture(leaves: number): TileNode | undefined;
  /** Whether nothing was laid. */
  readonly isEmpty: boolean;
}

/** Laid over a picture, one by one. */
export class OpenPile implements Pile {
  readonly #below: (leaves: number) => TileNode;
  readonly #isStack: boolean;
  #base: TileNode | undefined;
  #leaves: number;
  isEmpty = true;
  layers: CompositeLayer[] = [];

  /** @param below - The picture of the first leaves of the stack.
   * @param leaves - How many of them lie below all that is laid.
   * @param isStack - What is laid are items of the stack itself, not of a group: the picture so far is one of those. */
  constructor(below: (leaves: number) => TileNode, leaves: number, isStack: boolean) {
    this.#below = below;
    this.#leaves = leaves;
    this.#isStack = isStack;
  }

  /** What the layers lie on; it is there only once something was laid, or asked for. */
  get base(): TileNode {
    this.#base ??= this.#below(this.#leaves);
    return this.#base;
  }

  lay(layer: CompositeLayer): void {
    this.layers.push(layer);
    this.isEmpty = false;
  }

  picture(leaves: number): TileNode {
    if (this.layers.length > 0) {
      this.#base = this.#isStack
        ? this.#below(leaves)
        : new CompositeNode(this.base, this.layers, { isIntermediate: true });
      this.layers = [];
    }
    return this.base;
  }
}

/** Mixed with nothing below. */
export class ClosedPile implements Pile {
  readonly #extent: Extent;
  #alone: Alone | undefined;
  #layers: CompositeLayer[] = [];

  constructor(extent: Extent) {
    this.#extent = extent;
  }

  get isEmpty(): boolean {
    return !this.#alone && this.#layers.length === 0;
  }

  lay(layer: CompositeLayer): void {
    this.#layers.push(layer);
  }

  picture(): TileNode | undefined {
    return this.alone?.picture;
  }

  /** Colours so far, and what they cover. */
  get alone(): Alone | undefined {
    if (this.#layers.length > 0) {
      this.#alone = {
        picture: new AloneNode(this.#alone, this.#layers, this.#extent),
        cover: new CoverNode(this.#alone?.cover, this.#layers, this.#extent),
      };
      this.#layers = [];
    }
    return this.#alone;
  }
}
