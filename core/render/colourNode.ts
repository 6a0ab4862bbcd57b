import { hueWindow, rangeWindow } from '../masks/rangeWindow.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import type { ColourPart } from '../scene/mask.ts';
import { publishCoverage } from './coverageTile.ts';
import { DerivedNode } from './derivedNode.ts';
import type { OklabNode } from './oklabNode.ts';
import { type Spot, type Studio, withTile } from './studio.ts';

/** Values of 16 bits for all 65,536 of a plane. */
const tableOf = (coverage: (value: number) => number): Uint16Array =>
  Uint16Array.from({ length: 65536 }, (_, code) => Math.round(65535 * coverage(code)));

type ColourRanges = Pick<ColourPart, 'hue' | 'chroma' | 'lightness'>;

interface NamedTable {
  name: string;
  make: () => Uint16Array;
}

/** Tables over lightness, chroma and hue, in that order. */
function tablesOf({ hue, chroma, lightness }: ColourRanges): NamedTable[] {
  const range = (settings: ColourPart['chroma']) => ({
    name: `range:${JSON.stringify(settings)}`,
    make: () => tableOf((code) => rangeWindow(settings, code / 65535)),
  });
  const hues = {
    name: `hue:${JSON.stringify(hue)}`,
    make: () => tableOf((code) => hueWindow(hue, (code * 360) / 65536)),
  };
  return [range(lightness), range(chroma), hues];
}

/** Coverage of a colour part: what its ranges of lightness, chroma and hue let through, multiplied. */
export class ColourNode extends DerivedNode {
  readonly #oklab: OklabNode;
  readonly #tables: readonly NamedTable[];

  constructor(ranges: ColourRanges, oklab: OklabNode) {
    const tables = tablesOf(ranges);
    super(
      keyOf(
        'colour',
        tables.map(({ name }) => name),
      ),
      [oklab],
    );
    this.#oklab = oklab;
    this.#tables = tables;
  }

  make(spot: Spot, key: NodeKey, studio: Studio): PinnedTile {
    const { table, kernels, scratch } = studio;
    return scratch.lend(2, (coverage, part) => {
      withTile(this.#oklab, spot, studio, ({ slots }) => {
        this.#tables.forEach(({ name, make }, index) => {
          kernels.lookUp(scratch.table(name, make), table.slab.plane(slots[index]), scratch.samples);
          kernels.widen(scratch.samples, index === 0 ? coverage : part);
          if (index > 0) kernels.joinCoverage('intersect', coverage, part);
        });
      });
      return publishCoverage(coverage, spot, key, studio);
    });
  }
}
