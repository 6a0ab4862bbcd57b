import { levelSize, type Region, type Size, TILE, tileGrid } from './size.ts';

export interface TileSpot {
  tx: number;
  ty: number;
}

/** Tiles of a level that touch a region of it, row by row; parts outside the picture are left out. */
export function tilesIn(size: Size, level: number, region: Region): TileSpot[] {
  const { columns, rows } = tileGrid(size, level);
  const fromX = Math.max(0, Math.floor(region.x / TILE));
  const fromY = Math.max(0, Math.floor(region.y / TILE));
  const toX = Math.min(columns - 1, Math.ceil((region.x + region.width) / TILE) - 1);
  const toY = Math.min(rows - 1, Math.ceil((region.y + region.height) / TILE) - 1);
  const spots: TileSpot[] = [];
  for (let ty = fromY; ty <= toY; ty++) for (let tx = fromX; tx <= toX; tx++) spots.push({ tx, ty });
  return spots;
}

/** Every tile of a level. */
export function allTiles(size: Size, level: number): TileSpot[] {
  return tilesIn(size, level, { x: 0, y: 0, ...levelSize(size, level) });
}
