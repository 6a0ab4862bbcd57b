import { contours } from '../../masks/contours.ts';
import { TILE, TILE_SAMPLES, tileGrid } from '../../raster/size.ts';
import { mixKeys, type NodeKey } from '../../raster/tileKey.ts';
import { withRounded } from '../tiles/pictureTile.ts';
import {
  type Extent,
  planeOf,
  type RenderContext,
  type Spot,
  type TileNode,
  withTile,
} from '../tiles/renderContext.ts';

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
    }
  | { kind: 'contours'; picture: TileNode; coverage: TileNode; colour: readonly [number, number, number] };

/** Key of what {@link drawTile} draws: the same key, the same bytes. */
export function displayKey(display: DisplayNode, spot: Spot, context: RenderContext): NodeKey {
  if (display.kind === 'picture') return display.picture.keyAt(spot, context);
  if (display.kind === 'grey') return display.coverage.keyAt(spot, context);
  const { picture, coverage, colour } = display;
  const keys = [picture.keyAt(spot, context), coverage.keyAt(spot, context)];
  if (display.kind === 'overlay') return mixKeys(keys[0], keys[1], ...colour, Math.round(display.strength * 1000));
  const { right, below } = neighbours(spot, coverage.extent);
  const around = [right, below].map((near) => (near ? coverage.keyAt(near, context) : 0));
  return mixKeys(keys[0], keys[1], ...around, ...colour, 1);
}

/** Bytes of a tile that is drawn. */
const DRAWN_BYTES = TILE_SAMPLES * 4;

/** Draws a tile as 8-bit RGBA, 128 x 128, for a canvas. The bytes are the caller's own.
 * @param memory - That a tile was drawn into before, to be drawn into again; new memory, if there is none.
 * @throws {RenderError} */
export function drawTile(
  display: DisplayNode,
  spot: Spot,
  context: RenderContext,
  memory: ArrayBuffer = new ArrayBuffer(DRAWN_BYTES),
): Uint8ClampedArray<ArrayBuffer> {
  return context.scratch.lendRgba((rgba) => {
    if (display.kind === 'grey') drawGrey(display.coverage, spot, context, rgba);
    else drawPicture(display.picture, spot, context, rgba);
    if (display.kind === 'overlay') {
      const { coverage, colour, strength } = display;
      withTile(coverage, spot, context, (tile) =>
        context.kernels.tint(rgba, planeOf(tile, 0, context), colour, strength),
      );
    }
    if (display.kind === 'contours') drawContours(display.coverage, display.colour, spot, context, rgba);
    const drawn = new Uint8ClampedArray(memory);
    drawn.set(rgba);
    return drawn;
  });
}

/** The tiles right of a tile and below it, where there are any. */
function neighbours({ level, tx, ty }: Spot, { size }: Extent): { right?: Spot; below?: Spot } {
  const { columns, rows } = tileGrid(size, level);
  return {
    right: tx + 1 < columns ? { level, tx: tx + 1, ty } : undefined,
    below: ty + 1 < rows ? { level, tx, ty: ty + 1 } : undefined,
  };
}

/** Draws lines where coverage passes 10, 50 and 90 %: the middle one in the colour, the outer ones dark and light. */
function drawContours(
  coverage: TileNode,
  colour: readonly number[],
  spot: Spot,
  context: RenderContext,
  rgba: Uint8ClampedArray,
): void {
  const side = TILE + 1;
  const area = new Uint16Array(side * side);
  const { right, below } = neighbours(spot, coverage.extent);
  const copy = (near: Spot, columns: number, rows: number, to: number) =>
    withTile(coverage, near, context, (tile) => {
      const plane = planeOf(tile, 0, context);
      for (let y = 0; y < rows; y++)
        for (let x = 0; x < columns; x++)
          area[to + y * side + x] = typeof plane === 'number' ? plane : plane[y * TILE + x];
    });
  copy(spot, TILE, TILE, 0);
  if (right) copy(right, 1, TILE, TILE);
  else for (let y = 0; y < TILE; y++) area[y * side + TILE] = area[y * side + TILE - 1];
  if (below) copy(below, TILE, 1, TILE * side);
  else area.copyWithin(TILE * side, (TILE - 1) * side, TILE * side);
  for (const { place, ink } of contours(area, side, colour)) {
    for (let channel = 0; channel < 3; channel++) rgba[place * 4 + channel] = ink[channel];
  }
}

function drawPicture(picture: TileNode, spot: Spot, context: RenderContext, rgba: Uint8ClampedArray): void {
  withTile(picture, spot, context, (tile) =>
    withRounded(tile, context, (rgb) => context.kernels.drawRgba(...rgb, rgba)),
  );
}

function drawGrey(coverage: TileNode, spot: Spot, context: RenderContext, rgba: Uint8ClampedArray): void {
  const { kernels, scratch } = context;
  withTile(coverage, spot, context, (tile) => {
    const plane = planeOf(tile, 0, context);
    if (typeof plane === 'number') scratch.lendSamples((even) => kernels.drawGrey(even.fill(plane), rgba));
    else kernels.drawGrey(plane, rgba);
  });
}
