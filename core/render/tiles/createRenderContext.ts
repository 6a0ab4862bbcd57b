import type { Kernels } from '../../kernels/kernels.ts';
import { StrokeCoverage } from '../../masks/strokeCoverage.ts';
import { StrokeStore } from '../../masks/strokeStore.ts';
import type { Arena } from '../../raster/arena.ts';
import type { TileTable } from '../../raster/tileTable.ts';
import { Contents } from './contents.ts';
import type { RenderContext } from './renderContext.ts';
import { Scratch } from './scratch.ts';
import { TableCopies } from './tableCopies.ts';
import { TransientTiles } from './transientTiles.ts';

/** What a thread renders with, in its own arena. */
export function createRenderContext(resources: { table: TileTable; kernels: Kernels; arena: Arena }): RenderContext {
  const { table, kernels, arena } = resources;
  const strokes = new StrokeStore();
  return {
    table,
    kernels,
    strokes,
    coverage: new StrokeCoverage(strokes, kernels, arena),
    scratch: new Scratch(arena),
    tables: new TableCopies(arena),
    contents: new Contents(arena),
    interactive: true,
    byContent: true,
    transient: new TransientTiles(table),
  };
}
