import type { RgbFloats } from '../../kernels/planes.ts';
import { modeNumber } from '../../modes/list.ts';
import { TILE_SAMPLES } from '../../raster/size.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import { readScaledLight, writeScaledLight } from '../tiles/layInLight.ts';
import { publishPicture, readEncoded, writeFloats } from '../tiles/pictureTile.ts';
import {
  type Extent,
  keepBriefly,
  planeOf,
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  withTiles,
} from '../tiles/renderContext.ts';
import type { CompositeLayer } from './compositeNode.ts';
import { DerivedNode } from './derivedNode.ts';

/** What lies in a picture that has nothing below it: its colours, and how much of each place is covered. */
export interface Alone {
  picture: TileNode;
  cover: TileNode;
}

const toldOf = (layers: readonly CompositeLayer[]) =>
  layers.map(({ opacity, mode = 'normal', isAtop = false, inLight = false }) => [
    opacity,
    modeNumber(mode),
    isAtop,
    inLight,
  ]);

/** Layers mixed with nothing below them, laid on others that were: W3C Compositing and Blending Level 1, section 10, isolated groups. Colours
 * are those of what is covered, however thinly; where nothing is they are black. */
export class AloneNode extends DerivedNode {
  readonly #below: Alone | undefined;
  readonly #layers: readonly CompositeLayer[];

  constructor(below: Alone | undefined, layers: readonly CompositeLayer[], extent: Extent) {
    const inputs = layers.flatMap(({ source, mask }) => [source, mask]);
    super(keyOf('alone', toldOf(layers)), below ? [below.picture, below.cover, ...inputs] : inputs, extent);
    this.#below = below;
    this.#layers = layers;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const masks = this.#layers.map(({ mask }) => mask);
    return withTiles(masks, spot, context, (tiles) => {
      const laid = this.#layers.flatMap((layer, index) => {
        const mask = planeOf(tiles[index], 0, context);
        return mask === 0 || layer.opacity === 0 ? [] : [{ ...layer, mask }];
      });
      const inLight = laid.some((layer) => layer.inLight);
      const [read, write] = inLight ? [readScaledLight, writeScaledLight] : [readEncoded, writeFloats];
      const below = this.#below ? [this.#below.picture, this.#below.cover] : [];
      // Tiles are made before anything is borrowed: what they are made of may be nested deeply.
      return withTiles([...below, ...laid.map(({ source }) => source)], spot, context, (pictures) =>
        context.scratch.lend(7, (red, green, blue, covered, ...above) => {
          const [r, g, b] = above;
          const under: RgbFloats = [red, green, blue];
          const [picture, cover, ...sources] = this.#below ? pictures : [undefined, undefined, ...pictures];
          if (picture && cover) {
            read(picture, under, context);
            readCover(cover, covered, context);
          } else for (const plane of [...under, covered]) plane.fill(0);
          for (const [index, { mask, opacity, mode = 'normal', isAtop }] of laid.entries()) {
            read(sources[index] as PinnedTile, [r, g, b], context);
            const on = isAtop ? null : covered;
            context.kernels.blendOver(modeNumber(mode), under, [r, g, b], mask, opacity, on, under);
          }
          return publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
            write(under, slots, context),
          );
        }),
      );
    });
  }
}

/** How much of each place is covered by layers that nothing lies below, one plane. */
export class CoverNode extends DerivedNode {
  readonly #below: TileNode | undefined;
  readonly #layers: readonly CompositeLayer[];

  constructor(below: TileNode | undefined, layers: readonly CompositeLayer[], extent: Extent) {
    const covering = layers.filter(({ isAtop }) => !isAtop);
    const inputs = covering.map(({ mask }) => mask);
    super(keyOf('cover', toldOf(covering)), below ? [below, ...inputs] : inputs, extent);
    this.#below = below;
    this.#layers = covering;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const masks = this.#layers.map(({ mask }) => mask);
    return withTiles(this.#below ? [...masks, this.#below] : masks, spot, context, (tiles) =>
      context.scratch.lend(1, (covered) => {
        if (this.#below) readCover(tiles[masks.length], covered, context);
        else covered.fill(0);
        for (const [index, { opacity, mode }] of this.#layers.entries())
          cover(covered, planeOf(tiles[index], 0, context), opacity, mode === 'plus-lighter');
        const slots = reserveOrFail(context, 1);
        const out = context.table.slab.plane(slots[0]);
        for (let i = 0; i < TILE_SAMPLES; i++) out[i] = covered[i] * 65535 + 0.5;
        return keepBriefly(context, key, spot, { form: 'planes', slots });
      }),
    );
  }
}

function readCover(tile: PinnedTile, out: Float32Array, context: RenderContext): void {
  const plane = planeOf(tile, 0, context);
  if (typeof plane === 'number') out.fill(plane / 65535);
  else for (let i = 0; i < TILE_SAMPLES; i++) out[i] = plane[i] / 65535;
}

function cover(covered: Float32Array, mask: Uint16Array | number, opacity: number, adds: boolean): void {
  const scale = opacity / 65535;
  for (let i = 0; i < TILE_SAMPLES; i++) {
    const weight = (typeof mask === 'number' ? mask : mask[i]) * scale;
    covered[i] = adds ? Math.min(1, covered[i] + weight) : covered[i] + weight - covered[i] * weight;
  }
}
