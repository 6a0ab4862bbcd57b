import { z } from 'zod';
import { Range, WHOLE_RANGE } from '../masks/range.ts';
import { hueWindow, rangeWindow } from '../masks/rangeWindow.ts';
import { Source } from '../masks/source.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import type { OklabNode } from '../render/nodes/oklabNode.ts';
import { publishCoverage } from '../render/tiles/coverageTile.ts';
import { type RenderContext, type Spot, withTile } from '../render/tiles/renderContext.ts';
import { ValueTable } from '../render/tiles/valueTable.ts';
import { definePart } from './definePart.ts';
import { partBase, plainPart } from './partBase.ts';

/** Hue, chroma and lightness in Oklab, each a range with soft shoulders. */
export const ColourPart = z.strictObject({
  kind: z.literal('colour'),
  ...partBase,
  source: Source,
  /** Middle of the hues in degrees, how far they reach each way in full, and the shoulder beyond. */
  hue: z.strictObject({
    centre: z.number().min(0).max(360),
    width: z.number().min(0).max(180),
    shoulder: z.number().min(0).max(180),
  }),
  /** Of the most vivid that a screen shows, see `CHROMA_FULL`. */
  chroma: Range,
  lightness: Range,
});
export type ColourPart = z.infer<typeof ColourPart>;

export const colour = definePart({
  schema: ColourPart,
  begin: (): ColourPart => ({
    kind: 'colour',
    ...plainPart('colour'),
    source: 'base',
    hue: { centre: 60, width: 20, shoulder: 20 },
    chroma: { ...WHOLE_RANGE, from: 0.1, fromShoulder: 0.08 },
    lightness: WHOLE_RANGE,
  }),
  sources: ({ source }) => [source],
  build: (part, tools) => new ColourNode(part, tools.oklab(part.source)),
  rows: [
    { path: ['hue', 'centre'], min: 0, max: 360, step: 1, unit: 'degrees', usual: 60 },
    { path: ['hue', 'width'], min: 0, max: 180, step: 1, unit: 'degrees', usual: 20 },
    { path: ['hue', 'shoulder'], min: 0, max: 180, step: 1, unit: 'degrees', usual: 20 },
  ],
});

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
class ColourNode extends DerivedNode {
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
