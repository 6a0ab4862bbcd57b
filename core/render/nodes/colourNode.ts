import { hueWindow, rangeWindow } from '../../masks/rangeWindow.ts';
import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import type { PinnedTile } from '../../raster/tileTable.ts';
import type { ColourPart } from '../../scene/mask.ts';
import { publishCoverage } from '../tiles/coverageTile.ts';
import { type RenderContext, type Spot, withTile } from '../tiles/renderContext.ts';
import { ValueTable } from '../tiles/valueTable.ts';
import { DerivedNode } from './derivedNode.ts';
import type { OklabNode } from './oklabNode.ts';

/** Values of 16 bits for all 65,536 of a plane. */
const tableOf = (coverage: (value: number) => number): Uint16Array =>
  Uint16Array.from({ length: 65536 }, (_, code) => Math.round(65535 * coverage(code)));

type ColourRanges = Pick<ColourPart, 'hue' | 'chroma' | 'lightness'>;

/** Tables over lightness, chroma and hue, in that order. */
function tablesOf({ hue, chroma, lightness }: ColourRanges): ValueTable[] {
  const range = (settings: ColourPart['chroma']) =>
    new ValueTable(`range:${JSON.stringify(settings)}`, () => tableOf((code) => rangeWindow(settings, code / 65535)));
  const hues = new ValueTable(`hue:${JSON.stringify(hue)}`, () =>
    tableOf((code) => hueWindow(hue, (code * 360) / 65536)),
  );
  return [range(lightness), range(chroma), hues];
}

/** Coverage of a colour part: what its ranges of lightness, chroma and hue let through, multiplied. */
export class ColourNode extends DerivedNode {
  readonly #oklab: OklabNode;
  readonly #tables: readonly ValueTable[];

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

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table, scratch } = context;
    return withTile(this.#oklab, spot, context, ({ slots }) =>
      scratch.lendSamples((mapped) =>
        scratch.lend(2, (coverage, part) => {
          for (const [index, values] of this.#tables.entries()) {
            const plane = table.slab.plane(slots[index]);
            values.with(context, (held) => narrowBy(held, plane, index === 0, context, { coverage, part, mapped }));
          }
          return publishCoverage(coverage, spot, key, context);
        }),
      ),
    );
  }
}

/** Multiplies coverage by what a table makes of a plane, or begins with it. */
function narrowBy(
  values: Uint16Array,
  plane: Uint16Array,
  isFirst: boolean,
  { kernels }: RenderContext,
  { coverage, part, mapped }: { coverage: Float32Array; part: Float32Array; mapped: Uint16Array },
): void {
  kernels.lookUp(values, plane, mapped);
  kernels.widen(mapped, isFirst ? coverage : part);
  if (!isFirst) kernels.joinCoverage('intersect', coverage, part);
}
