import { z } from 'zod';
import { CurvePoint } from '../masks/curvePoint.ts';
import { Measure } from '../masks/measure.ts';
import { Range, WHOLE_RANGE } from '../masks/range.ts';
import { Source } from '../masks/source.ts';
import { toneTable } from '../masks/toneCurve.ts';
import { TableNode } from '../render/nodes/tableNode.ts';
import { definePart } from './definePart.ts';
import { partBase, plainPart } from './partBase.ts';

export const ToneSide = z.enum(['light', 'dark', 'middle', 'curve']);
export type ToneSide = z.infer<typeof ToneSide>;

/** Coverage by tone: the side's own coverage, narrowed, within a range with soft shoulders. */
export const ToneSettings = z.strictObject({
  source: Source,
  measure: Measure,
  side: ToneSide,
  /** Coverage over tones, for the side that is a curve: a smooth one through points, their x rising. It has no range besides. */
  curve: z.array(CurvePoint).max(16).optional(),
  ...Range.shape,
  /** How many times more the coverage is multiplied by itself; fractions allowed. */
  narrowing: z.number().min(0).max(8),
});
export type ToneSettings = z.infer<typeof ToneSettings>;

export const TonePart = z.strictObject({ kind: z.literal('tone'), ...partBase, ...ToneSettings.shape });
export type TonePart = z.infer<typeof TonePart>;

/** Light tones of a source, as they are: coverage equal to tone. */
export function newTonePart(source: Source, id?: string): TonePart {
  return {
    kind: 'tone',
    ...plainPart('tone', id),
    source,
    measure: 'luminance',
    side: 'light',
    ...WHOLE_RANGE,
    narrowing: 0,
  };
}

export const tone = definePart({
  schema: TonePart,
  begin: () => newTonePart('base'),
  sources: ({ source }) => [source],
  build: (part, tools) => {
    const { side, from, to, fromShoulder, toShoulder, narrowing, curve = [] } = part;
    const drawn = side === 'curve' ? JSON.stringify(curve) : '';
    const name = `tone:${[side, from, to, fromShoulder, toShoulder, narrowing]}${drawn}`;
    return new TableNode(tools.measure(part.source, part.measure), name, () => toneTable(part));
  },
  rows: [{ path: ['narrowing'], min: 0, max: 8, step: 0.1, unit: 'times', usual: 0 }],
});
