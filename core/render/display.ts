import { TILE_SAMPLES } from '../raster/size.ts';
import { mixKeys, type NodeKey } from '../raster/tileKey.ts';
import { planeOf, type Spot, type Studio, type TileNode, withTile } from './studio.ts';

/** What is drawn on a canvas. */
export type DisplayNode =
  | { kind: 'picture'; picture: TileNode }
  | { kind: 'grey'; coverage: TileNode }
  | {
      kind: 'overlay';
      picture: TileNode;
      coverage: TileNode;
      colour: readonly [number, number, number];
      strength: number;
    };

const TO_8_BITS = Uint8Array.from({ length: 65536 }, (_, code) => Math.round(code / 257));

/** Key of what {@link drawTile} draws: the same key, the same bytes. */
export function displayKey(display: DisplayNode, spot: Spot, studio: Studio): NodeKey {
  if (display.kind === 'picture') return display.picture.keyAt(spot, studio);
  if (display.kind === 'grey') return display.coverage.keyAt(spot, studio);
  const { picture, coverage, colour, strength } = display;
  return mixKeys(picture.keyAt(spot, studio), coverage.keyAt(spot, studio), ...colour, Math.round(strength * 1000));
}

/** Draws a tile as 8-bit RGBA, 128 x 128, for a canvas.
 * @throws {RenderError} */
export function drawTile(display: DisplayNode, spot: Spot, studio: Studio): Uint8ClampedArray<ArrayBuffer> {
  const rgba = new Uint8ClampedArray(TILE_SAMPLES * 4);
  if (display.kind === 'grey') drawGrey(display.coverage, spot, studio, rgba);
  else drawPicture(display.picture, spot, studio, rgba);
  if (display.kind === 'overlay') tint(display, spot, studio, rgba);
  return rgba;
}

function drawPicture(picture: TileNode, spot: Spot, studio: Studio, rgba: Uint8ClampedArray): void {
  withTile(picture, spot, studio, (tile) => {
    const [red, green, blue] = tile.slots.map((slot) => studio.table.slab.plane(slot));
    for (let i = 0, at = 0; i < TILE_SAMPLES; i++, at += 4) {
      rgba[at] = TO_8_BITS[red[i]];
      rgba[at + 1] = TO_8_BITS[green[i]];
      rgba[at + 2] = TO_8_BITS[blue[i]];
      rgba[at + 3] = 255;
    }
  });
}

function drawGrey(coverage: TileNode, spot: Spot, studio: Studio, rgba: Uint8ClampedArray): void {
  withTile(coverage, spot, studio, (tile) => {
    const plane = planeOf(tile, 0, studio);
    for (let i = 0, at = 0; i < TILE_SAMPLES; i++, at += 4) {
      rgba[at] = rgba[at + 1] = rgba[at + 2] = TO_8_BITS[typeof plane === 'number' ? plane : plane[i]];
      rgba[at + 3] = 255;
    }
  });
}

function tint(overlay: DisplayNode & { kind: 'overlay' }, spot: Spot, studio: Studio, rgba: Uint8ClampedArray): void {
  const [red, green, blue] = overlay.colour;
  withTile(overlay.coverage, spot, studio, (tile) => {
    const plane = planeOf(tile, 0, studio);
    for (let i = 0, at = 0; i < TILE_SAMPLES; i++, at += 4) {
      const weight = ((typeof plane === 'number' ? plane : plane[i]) / 65535) * overlay.strength;
      rgba[at] += (red - rgba[at]) * weight;
      rgba[at + 1] += (green - rgba[at + 1]) * weight;
      rgba[at + 2] += (blue - rgba[at + 2]) * weight;
    }
  });
}
