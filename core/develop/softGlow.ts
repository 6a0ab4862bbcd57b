import { z } from 'zod';
import { smoothstep } from '../kernels/smoothstep.ts';
import { BlurredNode } from '../render/nodes/blurredNode.ts';
import { lightnessCode, linearLuminance } from '../render/nodes/measureNode.ts';
import { PointNode } from '../render/nodes/pointNode.ts';
import { RoundedNode } from '../render/nodes/roundedNode.ts';
import { TableNode } from '../render/nodes/tableNode.ts';
import type { TileNode } from '../render/tiles/renderContext.ts';
import { defineAdjustment, type Whereabouts } from './defineAdjustment.ts';
import { levels } from './levels.ts';

const Unit = z.number().min(0).max(1);

interface Copy {
  radius: number;
  black: number;
  white: number;
}

/** The copy that is laid: blurred, then its contrast set. */
function copyOf(source: TileNode, { radius, black, white }: Copy, { space }: Whereabouts): TileNode {
  const blurred = new BlurredNode(source, radius);
  if (black === 0 && white === 1) return blurred;
  const settings = { ...levels.rest, all: { black, white: Math.max(white, black + 0.01), power: 1 } };
  return new PointNode(blurred, levels.steps(settings, space), JSON.stringify([black, white]), space);
}

/** Lightness that shadows reach up to, and over how much of it they let go. Read of the picture in 16 bits, which the blur reads as well. */
function outOfShadows(source: TileNode, upTo: number, { space }: Whereabouts): TileNode {
  const light = linearLuminance(new RoundedNode(source), space);
  const share = (code: number) => smoothstep((code / 65535 - upTo / 2) / Math.max(1e-3, upTo));
  return new TableNode(light, `out of shadows:${upTo}`, () =>
    Uint16Array.from({ length: 65536 }, (_, code) => Math.round(65535 * share(lightnessCode(code)))),
  );
}

/** A blurred copy laid over the picture in a mode: bright places spread (common practice, no source). */
export const softGlow = defineAdjustment({
  schema: z.strictObject({
    strength: Unit,
    /** Standard deviation of the blur, in scene pixels. */
    radius: z.number().min(1).max(600),
    mode: z.enum(['screen', 'soft-light', 'overlay', 'lighten', 'normal']),
    /** Encoded values of the copy that become black and white. */
    black: z.number().min(0).max(0.9),
    white: z.number().min(0.1).max(1),
    /** Lightness in the middle of which the glow sets in; 0: everywhere. */
    shadows: Unit,
  }),
  rest: { strength: 0, radius: 30, mode: 'screen', black: 0, white: 1, shadows: 0.35 },
  isAtRest: ({ strength }) => strength === 0,
  rows: [
    { path: ['strength'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.3 },
    { path: ['radius'], min: 1, max: 600, step: 1, unit: 'px', usual: 30, geometric: true },
    { path: ['black'], min: 0, max: 0.9, step: 0.01, unit: 'share', usual: 0 },
    { path: ['white'], min: 0.1, max: 1, step: 0.01, unit: 'share', usual: 1 },
    { path: ['shadows'], min: 0, max: 1, step: 0.01, unit: 'share', usual: 0.35 },
  ],
  steps: () => [],
  inner: copyOf,
  layer: (below, settings, where) => {
    const { strength: opacity, mode, shadows } = settings;
    const mask = shadows > 0 ? outOfShadows(below, shadows, where) : undefined;
    return { source: copyOf(below, settings, where), mask, opacity, mode };
  },
});
