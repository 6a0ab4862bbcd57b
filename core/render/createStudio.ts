import type { Kernels } from '../kernels/kernels.ts';
import { StrokeBook } from '../masks/strokeBook.ts';
import { StrokeCoverage } from '../masks/strokeCoverage.ts';
import type { Arena } from '../raster/arena.ts';
import type { TileTable } from '../raster/tileTable.ts';
import { PassingTiles } from './passingTiles.ts';
import { Scratch } from './scratch.ts';
import type { Studio } from './studio.ts';
import { TableCopies } from './tableCopies.ts';

/** What a thread renders pictures of any size with, in its own arena. */
export function createStudio(workplace: { table: TileTable; kernels: Kernels; arena: Arena }): Omit<Studio, 'size'> {
  const { table, kernels, arena } = workplace;
  const book = new StrokeBook();
  return {
    table,
    kernels,
    book,
    coverage: new StrokeCoverage(book, kernels, arena),
    scratch: new Scratch(arena),
    tables: new TableCopies(arena),
    watched: true,
    passing: new PassingTiles(table),
  };
}
