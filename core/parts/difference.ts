import { z } from 'zod';
import { FrameId } from '../ids.ts';
import { rangeWindow } from '../masks/rangeWindow.ts';
import type { Size } from '../raster/size.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { limitsAfter } from '../render/nodes/compareNode.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import { withExposure } from '../render/nodes/lightNode.ts';
import { LitNode } from '../render/nodes/litNode.ts';
import { TableNode } from '../render/nodes/tableNode.ts';
import {
  type RenderContext,
  reserveOrFail,
  type Spot,
  type TileNode,
  withTile,
} from '../render/tiles/renderContext.ts';
import { definePart } from './definePart.ts';
import { partBase, plainPart } from './partBase.ts';

/** Where two frames differ after their exposures are matched, or where lights came on between them. */
export const DifferencePart = z.strictObject({
  kind: z.literal('difference'),
  ...partBase,
  first: FrameId,
  second: FrameId,
  /** Stops by which the second is brighter; null takes those of the camera. */
  stops: z.number().min(-20).max(20).nullable(),
  /** `any` difference; or `lights`: what became brighter from the first to the second than its surroundings did. */
  mode: z.enum(['any', 'lights']).default('any'),
  /** How far the surroundings of a light reach, in scene pixels. */
  around: z.number().min(8).max(400).default(60),
  /** Difference of lightness that covers nothing yet, and how much more covers fully. */
  from: z.number().min(0).max(1),
  shoulder: z.number().min(0).max(1),
});
export type DifferencePart = z.infer<typeof DifferencePart>;

/** Surroundings of the lights of a town seen from afar: a twelfth of the picture. */
const aroundIn = ({ width, height }: Size): number =>
  Math.min(400, Math.max(8, Math.round(Math.max(width, height) / 12)));

/** From and shoulder that mark lights whole, and nothing of a sky: what came on is far brighter than noise, and fades into its glow. */
export const LIGHTS_FROM = { from: 0.03, shoulder: 0.03 };

export const difference = definePart({
  schema: DifferencePart,
  begin: ({ size, base: first, frame: second }): DifferencePart | undefined =>
    first && second
      ? {
          kind: 'difference',
          ...plainPart('difference'),
          ...{ first, second, stops: null, mode: 'any', around: aroundIn(size), from: 0.06, shoulder: 0.12 },
        }
      : undefined,
  build: ({ first, second, stops, mode, around, from, shoulder }, tools) => {
    const [a, b] = [tools.frame(first), tools.frame(second)];
    if (!a || !b) return tools.nothing;
    const apart = stops ?? (b.ev ?? 0) - (a.ev ?? 0);
    // The brighter one is darkened: what is brightened may leave the range.
    const before = withExposure(a.node, Math.min(0, apart));
    const after = withExposure(b.node, Math.min(0, -apart));
    const off =
      mode === 'lights'
        ? new LitNode(tools.brightest(before), tools.brightest(after), around)
        : apart >= 0
          ? new DifferenceNode(before, after, apart)
          : new DifferenceNode(after, before, -apart);
    const range = { from: Math.min(1, from + shoulder), to: 1, fromShoulder: shoulder, toShoulder: 0 };
    return new TableNode(off, `differ:${from}:${shoulder}`, () =>
      Uint16Array.from({ length: 65536 }, (_, code) => Math.round(65535 * rangeWindow(range, code / 65535))),
    );
  },
  rows: [
    { path: ['from'], min: 0, max: 0.5, step: 0.005, unit: 'share', usual: 0.06 },
    { path: ['shoulder'], min: 0, max: 0.5, step: 0.005, unit: 'share', usual: 0.12 },
    {
      path: ['around'],
      min: 8,
      max: 400,
      step: 1,
      unit: 'px',
      usual: 60,
      geometric: true,
      when: { setting: 'mode', is: 'lights' },
    },
    { path: ['stops'], min: -8, max: 8, step: 0.05, unit: 'stops', usual: 0, when: { setting: 'mode', is: 'any' } },
  ],
});

/** How much two pictures of one exposure differ: the largest difference of a channel, in encoded values. Nothing where one of them
 * holds nothing: too dark or too bright to tell. */
class DifferenceNode extends DerivedNode {
  readonly #dark: TileNode;
  readonly #darkened: TileNode;
  readonly #stops: number;

  /** @param darkened - The brighter of the two, darkened by `stops` to match. */
  constructor(dark: TileNode, darkened: TileNode, stops: number) {
    super(keyOf('differ', stops), [dark, darkened]);
    this.#dark = dark;
    this.#darkened = darkened;
    this.#stops = stops;
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { table } = context;
    const [, high] = limitsAfter(0);
    const [, brightHigh] = limitsAfter(this.#stops);
    const top = Math.min(high, brightHigh);
    return withTile(this.#dark, spot, context, (dark) =>
      withTile(this.#darkened, spot, context, (darkened) => {
        const slots = reserveOrFail(context, 1);
        const out = table.slab.plane(slots[0]);
        const [a, b] = [dark, darkened].map(({ slots: rgb }) => rgb.map((slot) => table.slab.plane(slot)));
        for (let i = 0; i < out.length; i++) {
          const blown = Math.max(b[0][i], b[1][i], b[2][i]) >= top || Math.max(a[0][i], a[1][i], a[2][i]) >= high;
          const off = Math.max(Math.abs(a[0][i] - b[0][i]), Math.abs(a[1][i] - b[1][i]), Math.abs(a[2][i] - b[2][i]));
          out[i] = blown ? 0 : off;
        }
        return table.publish(key, spot.level, spot.tx, spot.ty, { form: 'planes', slots });
      }),
    );
  }
}
