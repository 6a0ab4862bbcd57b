import { TILE_SAMPLES } from '../raster/size.ts';
import { keyOf, keyOfText, mixKeys, type NodeKey, packPlace } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import type { StrokeId } from '../scene/ids.ts';
import type { Stroke } from '../scene/mask.ts';
import { LastSpot, planeOf, reserveOrFail, type Spot, type Studio, type TileNode, withTile } from './studio.ts';

const EMPTY = keyOf('painted', []);
const HALF = TILE_SAMPLES / 2;

/** Strokes before the end at which a tile is kept as well while somebody looks on: the stroke in progress starts from the
 * one before it and undo ends there; going further back costs some strokes instead of a thousand. */
const KEY_FRAMES: readonly number[] = [1, 8, 64, 512];

const strokeKeys = new Map<StrokeId, NodeKey>();

/** Key of a stroke, which never changes but for growing at its end while it is painted. */
function strokeKey(id: StrokeId): NodeKey {
  let key = strokeKeys.get(id);
  if (!key) {
    key = keyOfText(`stroke:${id}`);
    strokeKeys.set(id, key);
  }
  return key;
}

interface PaintedStroke {
  stroke: Stroke;
  stencil: TileNode | undefined;
}

/** A stroke that touches a tile, with the key of the tile after it. */
interface ChainLink {
  by: PaintedStroke;
  /** Dabs of the stroke on the tile. */
  dabs: number;
  stencil: NodeKey | undefined;
  key: NodeKey;
}

/** Chains of tiles by place, handed from one scene's painted part to the same part of the next scene. */
export type Chains = Map<number, readonly ChainLink[]>;

const sameKey = (a: NodeKey | undefined, b: NodeKey | undefined): boolean =>
  a === b || (a !== undefined && b !== undefined && a.every((word, i) => word === b[i]));

/** What strokes cover (`value`) and how much of each place they decide (`hold`): two float planes, four slots.
 * Each tile depends on the strokes that touch it and on no others. */
export class PaintedNode implements TileNode {
  readonly #strokes: readonly PaintedStroke[];
  readonly #chains: Chains;
  readonly #last = new LastSpot<readonly ChainLink[]>();

  /** @param chains - Of this part in the scene before, or empty; changed in place. */
  constructor(strokes: readonly PaintedStroke[], chains: Chains) {
    this.#strokes = strokes;
    this.#chains = chains;
  }

  keyAt(spot: Spot, studio: Studio): NodeKey {
    return this.#chain(spot, studio).at(-1)?.key ?? EMPTY;
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const { level, tx, ty } = spot;
    const { table } = studio;
    const chain = this.#chain(spot, studio);
    if (chain.length === 0) return table.publish(key, level, tx, ty, { form: 'constant', slots: [], value: 0 });
    return studio.scratch.lend(2, (value, hold) => {
      this.paint(spot, studio, value, hold);
      return publishFloats(key, spot, studio, value, hold);
    });
  }

  /** Paints a tile into planes of the caller's and keeps nothing of it.
   * @param value - Overwritten with what the strokes cover.
   * @param hold - Overwritten with how much of each place they decide.
   * @returns Whether any stroke touches the tile; when none does the planes are left alone. */
  paint(spot: Spot, studio: Studio, value: Float32Array, hold: Float32Array): boolean {
    const chain = this.#chain(spot, studio);
    let painted = this.#longestKnown(chain, spot, studio, value, hold);
    for (; painted < chain.length; painted++) {
      if (studio.watched && painted > 0 && KEY_FRAMES.includes(chain.length - painted))
        studio.table.release(publishFloats(chain[painted - 1].key, spot, studio, value, hold));
      paintStroke(chain[painted].by, spot, studio, value, hold, painted === 0);
    }
    return chain.length > 0;
  }

  /** The strokes that touch a tile, each with the key of the tile after it. */
  #chain(spot: Spot, studio: Studio): readonly ChainLink[] {
    return this.#last.at(spot, studio, () => this.#link(spot, studio));
  }

  /** Goes on from the chain that the tile had last time as far as the strokes are the same: of a thousand strokes only the
   * new one is mixed in. */
  #link(spot: Spot, studio: Studio): ChainLink[] {
    const place = packPlace(spot.level, spot.tx, spot.ty);
    const known = this.#chains.get(place) ?? [];
    const chain: ChainLink[] = [];
    let key = EMPTY;
    let follows = true;
    for (const by of this.#strokes) {
      const dabs = studio.book.dabsOnTile(by.stroke, spot.level, spot.tx, spot.ty);
      if (dabs === 0) continue;
      const stencil = by.stencil?.keyAt(spot, studio);
      const last = known[chain.length];
      follows &&=
        last !== undefined &&
        last.by.stroke.id === by.stroke.id &&
        last.dabs === dabs &&
        sameKey(last.stencil, stencil);
      if (follows) key = last.key;
      else
        key = stencil
          ? mixKeys(key, strokeKey(by.stroke.id), dabs, stencil)
          : mixKeys(key, strokeKey(by.stroke.id), dabs);
      chain.push({ by, dabs, stencil, key });
    }
    this.#chains.set(place, chain);
    return chain;
  }

  /** Fills the planes with the tile after as many strokes as the table knows of, and answers how many; none: fills nothing. */
  #longestKnown(
    chain: readonly ChainLink[],
    { level, tx, ty }: Spot,
    studio: Studio,
    value: Float32Array,
    hold: Float32Array,
  ): number {
    for (let count = chain.length; count > 0; count--) {
      const tile = studio.table.find(chain[count - 1].key, level, tx, ty);
      if (!tile) continue;
      readFloats(tile, studio, value, hold);
      studio.table.release(tile);
      return count;
    }
    return 0;
  }
}

function paintStroke(
  { stroke, stencil }: PaintedStroke,
  spot: Spot,
  studio: Studio,
  value: Float32Array,
  hold: Float32Array,
  fresh: boolean,
): void {
  const coverage = studio.coverage.on(stroke, spot.level, spot.tx, spot.ty);
  const { target, strength } = stroke;
  const paint = (through: Uint16Array | number) => {
    if (coverage instanceof Float32Array)
      studio.kernels.paintOver(value, hold, coverage, target, strength, through, fresh);
    else studio.kernels.paintEnlarged(value, hold, coverage, target, strength, through, fresh);
  };
  if (stencil) withTile(stencil, spot, studio, (tile) => paint(planeOf(tile, 0, studio)));
  else paint(65535);
}

function publishFloats(
  key: NodeKey,
  { level, tx, ty }: Spot,
  studio: Studio,
  value: Float32Array,
  hold: Float32Array,
): PinnedTile {
  const slots = reserveOrFail(studio, 4);
  [value, hold].forEach((plane, index) => {
    studio.table.slab.halfPlane(slots[2 * index]).set(plane.subarray(0, HALF));
    studio.table.slab.halfPlane(slots[2 * index + 1]).set(plane.subarray(HALF));
  });
  return studio.table.publish(key, level, tx, ty, { form: 'floats', slots });
}

/** Copies a painted tile's two planes out. */
export function readFloats(tile: PinnedTile, studio: Studio, value: Float32Array, hold: Float32Array): void {
  [value, hold].forEach((plane, index) => {
    plane.set(studio.table.slab.halfPlane(tile.slots[2 * index]));
    plane.set(studio.table.slab.halfPlane(tile.slots[2 * index + 1]), HALF);
  });
}
