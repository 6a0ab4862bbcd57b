import type { RadianceCanvas } from '../canvas.ts';
import { paintLake } from '../lake.ts';
import { drawLight } from '../lens.ts';
import { smoothstep } from '../noise.ts';
import { duskAfter, paintDusk, paintHills } from './dusk.ts';
import { paintTramTrail, paintViaduct } from './masonry.ts';
import { paintClockTower, paintTown } from './town.ts';

/** Where the river begins. */
const WATERLINE = 0.604;

/** Minutes after the first moment at which each frame was taken, and where a tram ran meanwhile. The last is the short frame
 * for the clock, in between the others. */
export const VIADUCT_MINUTES = [0, 10, 20, 30, 40, 50, 41] as const;
const TRAMS: Record<number, readonly [number, number]> = { 2: [0.02, 0.78], 4: [0.3, 1.05] };

/** Lights of the town: lamps along its roads, the share of windows that are lit, and the dial of its clock. */
export interface TownLights {
  lamps: number;
  windows: number;
  dial: number;
}

/** Against the sky the lamps of a town are as bright at any hour: what changes is how many are lit. */
export const lightsAfter = (minutes: number): TownLights => ({
  lamps: smoothstep(8, 16, minutes) * 0.13,
  windows: smoothstep(2, 46, minutes) * 0.44,
  dial: smoothstep(4, 9, minutes) * 0.42,
});

/** Viaduct: an invented river town with a stone viaduct, from the glow after sunset to the blue hour.
 * @param width - Pixels; the picture is 3 : 2.
 * @param finer - How many times finer each way the light is drawn before it is averaged to pixels.
 * @param shot - Which of the frames: dusk falls, lamps and windows come on, a tram passes in two of them.
 * @param lights - Others than at that moment.
 * @returns Linear light, unclipped; 1 is white at the exposure of the first moment. */
export function radianceOfViaduct(
  width: number,
  finer: number,
  progress: (share: number) => void,
  shot: number,
  lights: TownLights = lightsAfter(VIADUCT_MINUTES[shot]),
): RadianceCanvas {
  return drawLight(width, finer, progress, (canvas) => {
    const minutes = VIADUCT_MINUTES[shot];
    const dusk = duskAfter(minutes);
    paintDusk(canvas, dusk, minutes, (share) => progress(0.35 * share));
    paintHills(canvas, dusk, WATERLINE);
    paintTown(canvas, dusk, lights.windows);
    paintViaduct(canvas, dusk, lights.lamps, WATERLINE);
    paintClockTower(canvas, dusk, lights.dial, minutes);
    const tram = TRAMS[shot];
    if (tram) paintTramTrail(canvas, tram[0], tram[1]);
    paintLake(canvas, (share) => progress(0.4 + 0.5 * share), {
      waterline: WATERLINE,
      camera: 0.55,
      seed: 'viaduct',
      body: 0.8 * dusk.light,
    });
  });
}
