import { z } from 'zod';
import { defineAdjustment } from './defineAdjustment.ts';
import { StopsByMapNode } from './stopsByMapNode.ts';
import { TONES, toneShare } from './toneShares.ts';

/** Code of the grey of a map that changes nothing: what half of the range is rounded to. */
const REST = 32768;

/** Light added and taken by hand: a map of greys is painted, of which the middle one changes nothing. Lightness changes as if exposed so many
 * stops longer or shorter; hue stays, and colour is as strong as it was, or grows with lightness. */
export const dodgeBurn = defineAdjustment({
  schema: z.strictObject({
    /** Stops of white in the map; black takes as many. */
    stops: z.number().min(0).max(4),
    /** Tones that it is limited to, and how softly. */
    tones: z.enum(TONES),
    soft: z.number().min(0).max(0.6),
    /** How far colour grows, and falls, with lightness. */
    saturation: z.number().min(0).max(1),
  }),
  rest: { stops: 0, tones: 'all', soft: 0.25, saturation: 0.5 },
  isAtRest: ({ stops }) => stops === 0,
  rows: [
    { path: ['stops'], min: 0, max: 4, step: 0.05, unit: 'stops', usual: 2 },
    { path: ['saturation'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.5 },
    { path: ['soft'], min: 0, max: 0.6, step: 0.01, unit: 'share', usual: 0.25, isDetail: true },
  ],
  steps: () => [],
  mapFrom: 0.5,
  isPointwise: true,
  build: (source, { stops, tones, soft, saturation }, { map, space }) =>
    map
      ? new StopsByMapNode(source, map, {
          name: ['dodge', stops, tones, soft, saturation],
          stopsOf: (code) => (stops * (code - REST)) / (code < REST ? REST : 65535 - REST),
          shareOf: (lightness) => toneShare(tones, soft, lightness),
          rest: REST,
          saturation,
          space,
        })
      : source,
});
