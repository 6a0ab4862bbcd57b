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

/** Key of what {@link drawTile} draws: the same key, the same bytes. */
export function displayKey(display: DisplayNode, spot: Spot, studio: Studio): NodeKey {
  if (display.kind === 'picture') return display.picture.keyAt(spot, studio);
  if (display.kind === 'grey') return display.coverage.keyAt(spot, studio);
  const { picture, coverage, colour, strength } = display;
  return mixKeys(picture.keyAt(spot, studio), coverage.keyAt(spot, studio), ...colour, Math.round(strength * 1000));
}

/** Draws a tile as 8-bit RGBA, 128 x 128, for a canvas. The bytes are the caller's own.
 * @throws {RenderError} */
export function drawTile(display: DisplayNode, spot: Spot, studio: Studio): Uint8ClampedArray<ArrayBuffer> {
  const { rgba } = studio.scratch;
  if (display.kind === 'grey') drawGrey(display.coverage, spot, studio);
  else drawPicture(display.picture, spot, studio);
  if (display.kind === 'overlay') {
    const { coverage, colour, strength } = display;
    withTile(coverage, spot, studio, (tile) => studio.kernels.tint(rgba, planeOf(tile, 0, studio), colour, strength));
  }
  return rgba.slice();
}

function drawPicture(picture: TileNode, spot: Spot, studio: Studio): void {
  withTile(picture, spot, studio, (tile) => {
    const [red, green, blue] = tile.slots.map((slot) => studio.table.slab.plane(slot));
    studio.kernels.drawRgba(red, green, blue, studio.scratch.rgba);
  });
}

function drawGrey(coverage: TileNode, spot: Spot, studio: Studio): void {
  const { kernels, scratch } = studio;
  withTile(coverage, spot, studio, (tile) => {
    const plane = planeOf(tile, 0, studio);
    if (typeof plane === 'number') scratch.samples.fill(plane);
    kernels.drawGrey(typeof plane === 'number' ? scratch.samples : plane, scratch.rgba);
  });
}
