import { type ModeName, modeNumber } from '../../modes/list.ts';
import { keyOf, mixAll, mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { evenAt } from '../tiles/contentKeys.ts';
import { layInLight } from '../tiles/layInLight.ts';
import { type LaidPicture, layOver, type PictureForm, publishPicture } from '../tiles/pictureTile.ts';
import {
  type Extent,
  grownWith,
  looksWith,
  type RenderContext,
  type Spot,
  SpotMemo,
  type TileNode,
  tileOf,
  withTile,
  withTiles,
} from '../tiles/renderContext.ts';

/** A picture that lies over others through its mask. */
export interface CompositeLayer {
  source: TileNode;
  mask: TileNode;
  opacity: number;
  /** Normal, if it is not told. */
  mode?: ModeName;
  /** It changes what lies below it, and covers nothing else. */
  isAtop?: boolean;
  /** Light is mixed, not encoded values: all layers of a picture alike. */
  inLight?: boolean;
  /** It is being worked on: its mask and its opacity are likely to change while the picture itself stays. */
  isSelected?: boolean;
}

interface MaskedPicture extends Omit<CompositeLayer, 'mask'> {
  /** The tile of its mask. */
  mask: PinnedTile;
}

const ROUNDED = keyOf('composite', 1);
const UNROUNDED = keyOf('composite, unrounded', 1);

/** Tells modes that mix light from those that mix encoded values. */
const IN_LIGHT = 1000;

/** Fewer layers than this are mixed as quickly as they are read back. */
const WORTH_KEEPING = 2;

/** How a composite is made and kept; what it looks like does not depend on it. */
interface CompositeOptions {
  /** This many of the first layers are kept mixed: those below the one that is being worked on. */
  lowerLayerCount?: number;
  /** Nothing else is computed from it, so it is not kept. */
  isTransient?: boolean;
  /** A next step follows, so it is not rounded. */
  isIntermediate?: boolean;
}

/** Layers over a base, each through its mask. All layers are mixed in floats and rounded once at the end, if at all. */
export class CompositeNode implements TileNode {
  readonly #base: TileNode;
  readonly extent: Extent;
  readonly #keys: SpotMemo<NodeKey>;
  readonly #layers: readonly CompositeLayer[];
  readonly #lowerLayerCount: number;
  readonly #form: PictureForm;
  readonly isTransient: boolean;
  readonly fixedKey: NodeKey | undefined;
  readonly grownIn: TileNode['grownIn'];
  readonly looks: boolean;

  constructor(
    base: TileNode,
    layers: readonly CompositeLayer[],
    { lowerLayerCount = 0, isTransient = false, isIntermediate = false }: CompositeOptions = {},
  ) {
    this.#base = base;
    this.extent = base.extent;
    this.#layers = layers;
    this.#lowerLayerCount = lowerLayerCount < WORTH_KEEPING ? 0 : lowerLayerCount;
    this.#form = isIntermediate ? 'floats' : 'planes';
    this.isTransient = isTransient;
    this.fixedKey = layers.length === 0 && base.fixedKey ? this.#bottomKey(base.fixedKey) : undefined;
    const inputs = [base, ...layers.flatMap(({ source, mask }) => [source, mask])];
    this.grownIn = grownWith(inputs);
    this.looks = looksWith(inputs);
    this.#keys = new SpotMemo(this.grownIn);
  }

  /** The same picture for a step that follows at once; that of an intermediate one is kept as it is. */
  get unrounded(): TileNode | undefined {
    if (this.#form === 'floats') return undefined;
    const lowerLayerCount = this.#lowerLayerCount;
    return new CompositeNode(this.#base, this.#layers, { lowerLayerCount, isTransient: true, isIntermediate: true });
  }

  keyAt(spot: Spot, context: RenderContext): NodeKey {
    const known = this.fixedKey ?? this.#keys.find(spot, context);
    if (known) return known;
    if (this.#layers.length === 0)
      return this.#keys.keep(spot, context, this.#bottomKey(this.#base.keyAt(spot, context)));
    const seed = this.#form === 'floats' ? UNROUNDED : ROUNDED;
    return this.#keys.keep(spot, context, this.#keyOfFirst(this.#layers.length, seed, spot, context));
  }

  /** Key of the base where nothing lies over it: its own, unless it is to be rounded, since it may be there in floats. */
  #bottomKey(key: NodeKey): NodeKey {
    return this.#form === 'floats' ? key : mixKeys(ROUNDED, key);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const lower = context.interactive && this.#lowerLayerCount > 0 ? this.#lowerTile(spot, context) : undefined;
    try {
      return this.#withMasks(lower ? this.#lowerLayerCount : 0, this.#layers.length, spot, context, (masked) => {
        const { bottom, above } = cullHiddenLayers(lower ? undefined : this.#base, masked, evenOfTile);
        if (bottom && above.length === 0) return this.#bottomTile(bottom, spot, key, context);
        if (bottom && this.#form === 'floats' && above.length === 1 && isLaidAtOnce(above[0]))
          return this.#layAtOnce(bottom, above[0], spot, key, context);
        const sources = above.map(({ source }) => source);
        return withTiles(bottom ? [bottom, ...sources] : sources, spot, context, (tiles) => {
          const [form, isTransient] = [this.#form, this.isTransient];
          const below = bottom ? tiles[0] : (lower as PinnedTile);
          const laid = withoutItself(below, laidOf(above, bottom ? tiles.slice(1) : tiles));
          if (bottom && laid.length === 0) return this.#bottomTile(bottom, spot, key, context);
          return publishPicture(spot, key, context, { form, extent: this.extent, isTransient }, (slots) =>
            lay(below, laid, context, { form, slots }),
          );
        });
      });
    } finally {
      if (lower) context.table.release(lower);
    }
  }

  /** Where no layer takes part the tile is the bottom's own: nothing to compute, nothing to keep, unless it is to be rounded. */
  #bottomTile(bottom: TileNode, spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const tile = tileOf(bottom, spot, context);
    const [form, isTransient] = [this.#form, this.isTransient];
    if (form === 'floats' || tile.form !== 'floats') return tile;
    try {
      return publishPicture(spot, key, context, { form, extent: this.extent, isTransient }, (slots) =>
        layOver(tile, [], context, { form, slots }),
      );
    } finally {
      context.table.release(tile);
    }
  }

  /** Lays a change over the bottom while it is made, with the same bits. */
  #layAtOnce(bottom: TileNode, change: MaskedPicture, spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { source, mask, opacity } = change;
    const [form, isTransient] = [this.#form, this.isTransient];
    const publish = (write: (slots: readonly number[]) => void) =>
      publishPicture(spot, key, context, { form, extent: this.extent, isTransient }, write);
    return withTile(bottom, spot, context, (below) => {
      const laid = (source as Required<TileNode>).layOver({ below, mask, opacity }, spot, context, publish);
      return laid ?? this.#bottomTile(bottom, spot, key, context);
    });
  }

  /** Of what is seen of the first layers: what a mask hides need not be known, if it would have to be made. */
  #keyOfFirst(count: number, seed: NodeKey, spot: Spot, context: RenderContext): NodeKey {
    const layers = this.#layers.slice(0, count);
    const { bottom, above } =
      this.looks && context.byContent
        ? cullHiddenLayers(this.#base, layers, ({ mask }) => evenAt(mask, spot, context))
        : { bottom: this.#base, above: layers };
    const inputs: (NodeKey | number)[] = [bottom.keyAt(spot, context)];
    for (const { source, mask, opacity, mode = 'normal', inLight = false } of above) {
      inputs.push(source.keyAt(spot, context), mask.keyAt(spot, context), Math.round(opacity * 1e6));
      inputs.push(modeNumber(mode) + (inLight ? IN_LIGHT : 0));
    }
    return mixAll(seed, inputs);
  }

  /** Calls `use` with some of the layers and the tiles of their masks. */
  #withMasks<T>(from: number, to: number, spot: Spot, context: RenderContext, use: (masked: MaskedPicture[]) => T): T {
    const layers = this.#layers.slice(from, to);
    const masks = layers.map(({ mask }) => mask);
    return withTiles(masks, spot, context, (tiles) =>
      use(
        layers.map(({ source, opacity, mode, inLight, isSelected }, index) => ({
          source,
          opacity,
          mode,
          inLight,
          isSelected,
          mask: tiles[index],
        })),
      ),
    );
  }

  /** The lower layers mixed, in floats, so that going on from here gives the same bits; undefined when too few of them
   * show here to be worth it. */
  #lowerTile(spot: Spot, context: RenderContext): PinnedTile | undefined {
    const { table } = context;
    const { level, tx, ty } = spot;
    const key = this.#keyOfFirst(this.#lowerLayerCount, UNROUNDED, spot, context);
    const known = table.find(key, level, tx, ty);
    if (known) return known;
    return this.#withMasks(0, this.#lowerLayerCount, spot, context, (masked) => {
      const { bottom, above } = cullHiddenLayers(this.#base, masked, evenOfTile);
      if (!bottom || above.length < WORTH_KEEPING) return undefined;
      const sources = above.map(({ source }) => source);
      return withTiles([bottom, ...sources], spot, context, ([lowest, ...upper]) =>
        publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
          lay(lowest, laidOf(above, upper), context, { form: 'floats', slots }),
        ),
      );
    });
  }
}

/** Whether a layer is laid while it is made. While its own mask is being changed it is better kept. */
const isLaidAtOnce = ({ source, mode = 'normal', inLight, isSelected }: Omit<CompositeLayer, 'mask'>): boolean =>
  source.layOver !== undefined && mode === 'normal' && !inLight && !isSelected;

const laidOf = (above: readonly MaskedPicture[], tiles: readonly PinnedTile[]): LaidPicture[] =>
  above.map(({ mask, opacity, mode = 'normal', inLight }, index) => ({
    tile: tiles[index],
    mask,
    opacity,
    mode,
    inLight,
  }));

/** Layers but for the first of them that are the very picture that they lie on: changes that change nothing at a place. */
function withoutItself(below: PinnedTile, laid: LaidPicture[]): LaidPicture[] {
  const isItself = ({ tile, mode }: LaidPicture) => tile.entry >= 0 && tile.entry === below.entry && mode === 'normal';
  const first = laid.findIndex((each) => !isItself(each));
  return first === 0 ? laid : laid.slice(first < 0 ? laid.length : first);
}

const lay = (
  below: PinnedTile,
  laid: LaidPicture[],
  context: RenderContext,
  into: Parameters<typeof layOver>[3],
): void => (laid.some(({ inLight }) => inLight) ? layInLight : layOver)(below, laid, context, into);

/** Leaves out layers that a mask hides wholly, and all that lies under one that covers wholly.
 * @param evenOf - The value that a layer's mask has throughout, or null. */
function cullHiddenLayers<Base extends TileNode | undefined, Layer extends Omit<CompositeLayer, 'mask'>>(
  base: Base,
  layers: readonly Layer[],
  evenOf: (layer: Layer) => number | null,
): { bottom: Base | TileNode; above: Layer[] } {
  const evens = layers.map(evenOf);
  const covers = layers.findLastIndex(
    ({ opacity, mode = 'normal' }, index) => evens[index] === 65535 && opacity === 1 && mode === 'normal',
  );
  const above = layers.filter(({ opacity }, index) => index > covers && opacity > 0 && evens[index] !== 0);
  return { bottom: covers < 0 ? base : layers[covers].source, above };
}

const evenOfTile = ({ mask: { form, value } }: MaskedPicture): number | null => (form === 'constant' ? value : null);
