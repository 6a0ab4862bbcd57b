import alea from 'alea';
import type { Size } from '#core/raster/size.ts';
import { RadianceCanvas } from '../../demo/radiance/canvas.ts';
import { fbm, noiseOf, smoothstep } from '../../demo/radiance/noise.ts';
import type { AlignSet } from './sets.ts';

/** How far light reaches beyond a picture at each side, as a share of its width. */
const MARGIN = 0.05;
const KINDS = ['dunes', 'lake', 'night'] as const;

/** Views in which little can be seen, as light at a place in widths of the picture. */
function viewOf(kind: (typeof KINDS)[number], seed: string): (x: number, y: number) => number {
  const [a, b, c] = ['a', 'b', 'c'].map((name) => noiseOf(`${kind} ${seed} ${name}`));
  const soft = (y: number, edge: number, width: number) => smoothstep(edge - width, edge + width, y);
  if (kind === 'dunes')
    return (x, y) => {
      const crest = 0.2 + 0.05 * fbm(a, x * 2.2, 3, 3);
      const slopes = fbm(b, x * 3 + 2 * y, y * 5, 3) + 0.25 * fbm(c, x * 11 - 4 * y, y * 17, 2);
      return 0.16 + soft(y, crest, 0.03) * 0.035 + 0.045 * slopes * soft(y, crest, 0.05) + 0.02 * y;
    };
  const hill = (x: number, at: number, height: number, n: typeof a) => at - height * fbm(n, x * 3, at * 7, 4);
  return (x, y) => {
    const shore = 0.36;
    const mirrored = y > shore ? 2 * shore - y : y;
    const far = soft(mirrored, hill(x, 0.31, 0.09, a), 0.006);
    const near = soft(mirrored, hill(x + 5, 0.35, 0.06, b), 0.004);
    const haze = kind === 'night' ? 0.5 : 0.12;
    const sky = 0.3 - 0.16 * (1 - mirrored / shore) ** 2;
    const land = sky * (1 - haze * far) * (1 - 1.4 * haze * near);
    const water = y > shore ? 0.82 + 0.02 * fbm(c, x * 6, y * 40, 2) : 1;
    return (kind === 'night' ? 0.1 : 1) * land * water;
  };
}

/** Light of such a view for pictures of a size, reaching beyond them. */
function lightOf(seed: number, { width, height }: Size): RadianceCanvas {
  const margin = 3 * Math.round((MARGIN * width) / 3);
  const canvas = new RadianceCanvas(width + 2 * margin, height + (4 * margin) / 3);
  const view = viewOf(KINDS[seed % KINDS.length], String(seed));
  for (let y = 0; y < canvas.height; y++)
    for (let x = 0; x < canvas.width; x++) {
      const light = view((x - margin) / width, (y - (2 * margin) / 3) / width);
      for (const [channel, tint] of [1, 0.93, 0.85].entries())
        canvas.rgb[(y * canvas.width + x) * 3 + channel] = light * tint;
    }
  return canvas;
}

/** A pair out of a hand, 30 to 50 pixels apart at 2,400 wide, of a view of low texture: one two stops brighter, so that much of it is
 * nearly white; the night with the noise of a high ISO. */
export function lowTexture(seed: number, size: Size): { set: AlignSet; light: RadianceCanvas; kind: string } {
  const random = alea(`low texture ${seed}`);
  const between = (from: number, to: number) => from + (to - from) * random();
  const kind = KINDS[seed % KINDS.length];
  const angle = between(0, 2 * Math.PI);
  const far = between(30, 50);
  const placement = {
    shiftX: far * Math.cos(angle),
    shiftY: far * Math.sin(angle),
    turnDegrees: between(-0.8, 0.8),
    zoom: between(-0.006, 0.006),
    tiltX: between(-0.0005, 0.0005),
    tiltY: between(-0.0005, 0.0005),
  };
  const isNight = kind === 'night';
  return {
    kind,
    light: lightOf(seed, size),
    set: {
      name: `${kind} ${seed}`,
      asks: 'fair',
      base: { ev: 0, iso: isNight ? 100 * 2 ** between(3, 5) : 100 },
      frame: {
        ev: isNight ? between(1, 2) : between(1.6, 2.2),
        iso: isNight ? 100 * 2 ** between(3, 5) : 200,
        placement,
      },
    },
  };
}
