import type { Join } from '../../kernels/joinCoverage.ts';
import type { Kernels } from '../../kernels/kernels.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { publishStored, widenTile } from '../tiles/coverageTile.ts';
import {
  type Extent,
  planeOf,
  type RenderContext,
  type Spot,
  type TileNode,
  withWanted,
} from '../tiles/renderContext.ts';
import { DerivedNode } from './derivedNode.ts';
import { type LoneStroke, PaintedNode, readFloats } from './paintedNode.ts';

export interface JoinedPart {
  join: Join;
  node: TileNode;
  /** How much of each place the part decides, where that is not what it covers: painting that was refined. For `add`. */
  alpha?: TileNode;
}

/** The parts of a mask joined first to last, starting from nothing. */
export class MaskNode extends DerivedNode {
  readonly #parts: readonly JoinedPart[];
  readonly #inverted: boolean;

  constructor(parts: readonly JoinedPart[], inverted: boolean, extent: Extent) {
    super(
      keyOf('mask', [parts.map(({ join, alpha }) => [join, alpha !== undefined]), inverted]),
      parts.flatMap(({ node, alpha }) => (alpha ? [node, alpha] : [node])),
      extent,
    );
    this.#parts = parts;
    this.#inverted = inverted;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    // When nothing is drawn on screen, strokes are painted and forgotten: the mask that they end in is all that is asked for.
    const isPaintedHere = (node: TileNode): node is PaintedNode => !context.interactive && node instanceof PaintedNode;
    const plain = this.#parts.flatMap(({ node, alpha }) => (alpha ? [node, alpha] : isPaintedHere(node) ? [] : [node]));
    const wanted = plain.map((node) => ({ node, spot }));
    for (const { node } of this.#parts) if (isPaintedHere(node)) wanted.push(...node.wantedAt(spot, context));
    return withWanted(wanted, context, (tiles) => {
      let taken = 0;
      return context.scratch.lend(3, (mask, part, alpha) => {
        const sum = new CoverageSum(mask, context.kernels);
        for (const [index, { join, node, alpha: held }] of this.#parts.entries()) {
          sum.settle();
          if (held) {
            widenTile(tiles[taken++], context, part);
            widenTile(tiles[taken++], context, alpha);
            sum.join(join, part, alpha);
          } else if (isPaintedHere(node)) {
            const samples = sum.samples;
            const isEnd = index === this.#parts.length - 1 && join === 'add' && !this.#inverted;
            const joined =
              samples &&
              isEnd &&
              node.withLoneStroke(spot, context, (stroke) =>
                publishStored(spot, key, context, (out) => joinStroke(stroke, samples, context, out())),
              );
            if (joined) return joined;
            if (node.paint(spot, context, part, alpha)) sum.join(join, part, alpha);
            else sum.joinValue(join, 0);
          } else addPart(tiles[taken++], join, sum, context, part, alpha);
        }
        if (this.#inverted) sum.invert();
        return publishStored(spot, key, context, (out) => sum.store(out));
      });
    });
  }
}

/** What several masks cover all. */
export function intersectionOf([first, ...rest]: readonly TileNode[], extent: Extent): MaskNode {
  const parts = rest.map((node): JoinedPart => ({ join: 'intersect', node }));
  return new MaskNode([{ join: 'add', node: first }, ...parts], false, extent);
}

/** Coverage joined so far: one value as long as it is the same throughout, or the samples of the first part, or a plane.
 * Most masks are nothing or all in most tiles, and a value costs nothing to join; most others are tones and painting, which
 * are joined and rounded at once. */
class CoverageSum {
  readonly #plane: Float32Array;
  readonly #kernels: Kernels;
  #value: number | undefined = 0;
  #samples: Uint16Array | undefined;
  /** What has still to be joined to the samples. */
  #pending: { join: Join; part: Float32Array; alpha: Float32Array } | undefined;

  /** @param plane - Where it is joined; undefined content. */
  constructor(plane: Float32Array, kernels: Kernels) {
    this.#plane = plane;
    this.#kernels = kernels;
  }

  /** The coverage, when it is samples and nothing else is to be joined to them. */
  get samples(): Uint16Array | undefined {
    return this.#pending ? undefined : this.#samples;
  }

  joinValue(join: Join, part: number): void {
    const idle = part === (join === 'intersect' ? 1 : 0);
    if (this.#value !== undefined) this.#value = joinOne(join, this.#value, part);
    else if (join === 'add' && part === 1) this.#become(1);
    else if ((join === 'intersect' && part === 0) || (join === 'subtract' && part === 1)) this.#become(0);
    else if (!idle) {
      const plane = this.#widened();
      for (let i = 0; i < plane.length; i++) plane[i] = joinOne(join, plane[i], part);
    }
  }

  /** @param part - Left alone until {@link store}, or the next part is joined.
   * @param alpha - How much of each place the part decides, for `add`; likewise. */
  join(join: Join, part: Float32Array, alpha: Float32Array): void {
    const value = this.#value;
    if (value === 0 && (join === 'subtract' || join === 'intersect')) return;
    this.#value = undefined;
    if (this.#samples && !this.#pending) {
      this.#pending = { join, part, alpha };
      return;
    }
    if (value === 0) {
      this.#kernels.copyPlane(part, this.#plane);
      return;
    }
    if (value !== undefined) this.#kernels.fillFloats(this.#plane, value);
    this.#kernels.joinCoverage(join, this.#widened(), part, alpha);
  }

  /** Joins what is pending, so that its planes may be used again. */
  settle(): void {
    if (this.#pending) this.#widened();
  }

  /** Joins a part of 16 bits, which decides as much as it covers.
   * @param samples - Stay as they are until {@link store}.
   * @param spare - A plane to widen it into. */
  joinSamples(join: Join, samples: Uint16Array, spare: Float32Array): void {
    const isAll = this.#value === 0 ? join === 'add' || join === 'exclude' : this.#value === 1 && join === 'intersect';
    if (isAll) {
      this.#value = undefined;
      this.#samples = samples;
      return;
    }
    if (this.#samples === undefined && this.#value === undefined) {
      this.#kernels.joinFromSamples(join, this.#plane, samples);
      return;
    }
    this.#kernels.widen(samples, spare);
    this.join(join, spare, spare);
  }

  invert(): void {
    if (this.#value === undefined) this.#kernels.invert(this.#widened());
    else this.#value = 1 - this.#value;
  }

  /** Writes the coverage in 16 bits.
   * @param out - Asked for a plane when the coverage is not one value.
   * @returns The one value throughout, 0..65535, or -1. */
  store(out: () => Uint16Array): number {
    if (this.#value !== undefined) return Math.round(this.#value * 65535);
    if (!this.#samples) return this.#kernels.narrow(this.#plane, out());
    if (!this.#pending) {
      const plane = out();
      this.#kernels.copyPlane(this.#samples, plane);
      return this.#kernels.uniformValue(plane);
    }
    const { join, part, alpha } = this.#pending;
    return this.#kernels.joinSamples(join, this.#samples, part, alpha, out());
  }

  #become(value: number): void {
    this.#value = value;
    this.#samples = undefined;
    this.#pending = undefined;
  }

  /** The coverage as a plane. */
  #widened(): Float32Array {
    if (!this.#samples) return this.#plane;
    this.#kernels.widen(this.#samples, this.#plane);
    this.#samples = undefined;
    if (this.#pending) {
      const { join, part, alpha } = this.#pending;
      this.#kernels.joinCoverage(join, this.#plane, part, alpha);
      this.#pending = undefined;
    }
    return this.#plane;
  }
}

/** Adds a stroke to a mask; answers the one value throughout, 0..65535, or -1. */
function joinStroke(
  { touch, coverage, through }: LoneStroke,
  mask: Uint16Array,
  context: RenderContext,
  out: Uint16Array,
): number {
  const stencil = through ? planeOf(through, 0, context) : 65535;
  return context.kernels.joinEnlarged(mask, coverage, touch.target, touch.strength, stencil, out);
}

/** Joins one value to another, see `joinCoverage`. */
function joinOne(join: Join, mask: number, part: number): number {
  if (join === 'add') return part + mask * (1 - part);
  if (join === 'subtract') return mask * (1 - part);
  return join === 'intersect' ? mask * part : mask + part - 2 * mask * part;
}

/** Joins a part's tile to the sum. */
function addPart(
  tile: PinnedTile,
  join: Join,
  sum: CoverageSum,
  context: RenderContext,
  part: Float32Array,
  alpha: Float32Array,
): void {
  if (tile.form === 'constant') sum.joinValue(join, tile.value / 65535);
  else if (tile.form === 'planes') sum.joinSamples(join, context.table.slab.plane(tile.slots[0]), part);
  else {
    readFloats(tile, context, part, alpha);
    sum.join(join, part, alpha);
  }
}
