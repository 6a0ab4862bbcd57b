import { paintBanks } from './banks.ts';
import type { RadianceCanvas } from './canvas.ts';
import { paintLake, WATERLINE } from './lake.ts';
import { paintLarches } from './larches.ts';
import { drawLight } from './lens.ts';
import { paintLookout } from './lookout.ts';
import { paintRidges } from './ridges.ts';
import { paintShore } from './shore.ts';
import { paintSky } from './sky.ts';

/** Tarn: a mountain lake before sunrise with a fire lookout on a knoll.
 * @param width - Pixels; the picture is 3 : 2.
 * @param finer - How many times finer each way the light is drawn before it is averaged to pixels.
 * @returns Linear light, unclipped; 1 is white at the middle exposure. */
export function radianceOfTarn(width: number, finer: number, progress: (share: number) => void): RadianceCanvas {
  return drawLight(width, finer, progress, (canvas) => {
    const part = (from: number, to: number) => (share: number) => progress(from + (to - from) * share);
    paintSky(canvas, part(0, 0.25));
    paintRidges(canvas, WATERLINE, part(0.25, 0.45));
    paintBanks(canvas, WATERLINE);
    paintLookout(canvas);
    paintLarches(canvas);
    paintLake(canvas, part(0.5, 0.75));
    paintShore(canvas, part(0.75, 0.97));
  });
}
