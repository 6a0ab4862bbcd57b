import { type TileSpot, tilesIn } from '#core/raster/region.ts';
import { levelSize, type Region, type Size, TILE } from '#core/raster/size.ts';
import type { CanvasSpace, DrawnTile, WantedTile } from '#engine/protocol.ts';
import { tileImage } from '../drawing/canvasSpace.ts';

const nameOf = ({ tx, ty }: TileSpot): string => `${tx},${ty}`;

/** Drawn tiles of a part of one pyramid level, on a canvas of that level's pixels. */
export class Sheet {
  readonly level: number;
  /** First tile, and one past the last. */
  readonly from: TileSpot;
  readonly to: TileSpot;
  readonly canvas: OffscreenCanvas;
  readonly #context: OffscreenCanvasRenderingContext2D;
  readonly #space: CanvasSpace;
  readonly #keys = new Map<string, string>();
  /** Tiles to be drawn again, with the count at which they became stale. */
  readonly #stale = new Map<string, number>();
  readonly tiles: readonly TileSpot[];

  constructor(size: Size, level: number, tiles: readonly TileSpot[], space: CanvasSpace) {
    this.#space = space;
    this.level = level;
    this.tiles = tiles;
    const xs = tiles.map(({ tx }) => tx);
    const ys = tiles.map(({ ty }) => ty);
    this.from = { tx: Math.min(...xs), ty: Math.min(...ys) };
    this.to = { tx: Math.max(...xs) + 1, ty: Math.max(...ys) + 1 };
    const whole = levelSize(size, level);
    const width = Math.min(whole.width, this.to.tx * TILE) - this.from.tx * TILE;
    const height = Math.min(whole.height, this.to.ty * TILE) - this.from.ty * TILE;
    this.canvas = new OffscreenCanvas(width, height);
    const settings = { alpha: true, colorSpace: space };
    this.#context = this.canvas.getContext('2d', settings) as OffscreenCanvasRenderingContext2D;
    for (const tile of tiles) this.#stale.set(nameOf(tile), 0);
  }

  /** Whether the sheet is of a level and has all of some tiles. */
  covers(level: number, tiles: readonly TileSpot[]): boolean {
    return (
      level === this.level &&
      tiles.every(({ tx, ty }) => tx >= this.from.tx && tx < this.to.tx && ty >= this.from.ty && ty < this.to.ty)
    );
  }

  /** Whether there is a picture, stale or not, of each of some tiles. */
  hasDrawn(tiles: readonly TileSpot[]): boolean {
    return tiles.every((tile) => this.#keys.has(nameOf(tile)));
  }

  /** Takes over what another sheet of the level has drawn. */
  inherit(other: Sheet): void {
    if (other.level !== this.level) return;
    this.#context.drawImage(other.canvas, (other.from.tx - this.from.tx) * TILE, (other.from.ty - this.from.ty) * TILE);
    for (const tile of this.tiles) {
      const name = nameOf(tile);
      const key = other.#keys.get(name);
      if (key === undefined) continue;
      this.#keys.set(name, key);
      const stale = other.#stale.get(name);
      if (stale === undefined) this.#stale.delete(name);
      else this.#stale.set(name, stale);
    }
  }

  /** Marks the tiles that touch a scene region, or all, as to be drawn again. */
  markStale(size: Size, at: number, region?: Region): void {
    if (!region) {
      for (const tile of this.tiles) this.#stale.set(nameOf(tile), at);
      return;
    }
    const scale = 2 ** -this.level;
    const scaled = {
      x: region.x * scale,
      y: region.y * scale,
      width: region.width * scale,
      height: region.height * scale,
    };
    for (const tile of tilesIn(size, this.level, scaled)) {
      if (this.covers(this.level, [tile])) this.#stale.set(nameOf(tile), at);
    }
  }

  /** Stale tiles among those asked for, nearest to a point of the level first. */
  wanted(tiles: readonly TileSpot[], x: number, y: number): WantedTile[] {
    const distance = ({ tx, ty }: TileSpot) => Math.hypot((tx + 0.5) * TILE - x, (ty + 0.5) * TILE - y);
    return tiles
      .filter((tile) => this.#stale.has(nameOf(tile)))
      .sort((a, b) => distance(a) - distance(b))
      .map(({ tx, ty }) => ({ tx, ty, known: this.#keys.get(nameOf({ tx, ty })) }));
  }

  /** Puts drawn tiles where they belong.
   * @param asked - The count when they were asked for: a tile that was spoilt since stays stale. */
  put(tiles: readonly DrawnTile[], asked: number): void {
    for (const { tx, ty, key, rgba } of tiles) {
      const name = nameOf({ tx, ty });
      if (rgba)
        this.#context.putImageData(
          tileImage(rgba, this.#space),
          (tx - this.from.tx) * TILE,
          (ty - this.from.ty) * TILE,
        );
      this.#keys.set(name, key);
      if ((this.#stale.get(name) ?? 0) <= asked) this.#stale.delete(name);
    }
  }

  /** Takes away what is to be drawn again, so that what lies below shows instead. */
  clearStale(): void {
    for (const tile of this.tiles) {
      if (!this.#stale.has(nameOf(tile))) continue;
      this.#context.clearRect((tile.tx - this.from.tx) * TILE, (tile.ty - this.from.ty) * TILE, TILE, TILE);
      this.#keys.delete(nameOf(tile));
    }
  }

  /** Lays the sheet on a canvas.
   * @param scale - Screen pixels per scene pixel.
   * @param isSoft - Whether its pixels are never to be seen. */
  paint(context: CanvasRenderingContext2D, scale: number, offsetX: number, offsetY: number, isSoft = false): void {
    const perPixel = scale * 2 ** this.level;
    context.imageSmoothingEnabled = isSoft || (perPixel < 2 && perPixel !== 1);
    context.imageSmoothingQuality = perPixel < 1 ? 'high' : 'medium';
    const x = offsetX + this.from.tx * TILE * perPixel;
    const y = offsetY + this.from.ty * TILE * perPixel;
    context.drawImage(this.canvas, x, y, this.canvas.width * perPixel, this.canvas.height * perPixel);
  }
}
