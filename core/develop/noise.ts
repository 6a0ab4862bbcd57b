import { z } from 'zod';
import { keptNode } from '../render/nodes/keptNode.ts';
import { defineAdjustment } from './defineAdjustment.ts';
import { QuietNode } from './quietNode.ts';

const Share = z.number().min(0).max(1);
/** Deviation of encoded values, 0..1, in one pixel of full size. */
const Deviation = z.number().min(0).max(0.2);

/** Noise of brightness and of colour, taken out apart as far as it was measured: what varies no more than noise does becomes its mean
 * (Lee 1980, "Digital image enhancement and noise filtering by use of local statistics"). */
export const noise = defineAdjustment({
  schema: z.strictObject({
    brightness: Share,
    colour: Share,
    measured: z.strictObject({ brightness: Deviation, colour: Deviation }),
  }),
  rest: { brightness: 0, colour: 0, measured: { brightness: 0.01, colour: 0.01 } },
  isAtRest: ({ brightness, colour }) => brightness === 0 && colour === 0,
  rows: [
    { path: ['brightness'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0 },
    { path: ['colour'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0 },
  ],
  steps: () => [],
  build: (source, { brightness, colour, measured }) =>
    new QuietNode(keptNode(source), { brightness: brightness * measured.brightness, colour: colour * measured.colour }),
});
