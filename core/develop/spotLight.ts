import { compileSteps } from '../color/pointSteps.ts';
import type { BaseRadius } from '../color/surroundings.ts';
import { DARKEST_STOPS, stopsOfLight, TONE_SPAN } from '../color/toneCodes.ts';
import { toneWeights, type WorkingSpace } from '../color/workingSpace.ts';
import { type AdjustmentName, type Develop, stepsBefore } from './list.ts';

type Rgb = readonly [number, number, number];

/** What becomes of the light of a spot, linear, before an adjustment is done to it: as if all around it were the same.
 * @param develop - That nothing is wrong with. */
export function spotLight(light: Rgb, develop: Develop, before: AdjustmentName, space: WorkingSpace): Rgb {
  const [wr, wg, wb] = toneWeights(space);
  const stops = stopsOfLight(wr * light[0] + wg * light[1] + wb * light[2]);
  const tones = Math.round(((stops - DARKEST_STOPS) / TONE_SPAN) * 65535);
  const { localContrast, haze } = develop as {
    localContrast?: { fine: { radius: number }; broad: { radius: number } };
    haze?: { veil: { red: number; green: number; blue: number } };
  };
  const radii = localContrast ? [localContrast.fine.radius, localContrast.broad.radius] : [];
  const veil = haze ? [haze.veil.red, haze.veil.green, haze.veil.blue] : [1, 1, 1];
  const thickness = Math.min(1, ...light.map((value, channel) => Math.max(0, value / veil[channel])));
  const [red, green, blue] = light.map((value) => Float32Array.of(value));
  compileSteps(stepsBefore(before, develop, space), space)([red, green, blue], {
    tones,
    bases: new Map<BaseRadius, number>([
      ['picture', tones],
      ...radii.map((radius): [BaseRadius, number] => [radius, tones]),
    ]),
    veil: Math.round(65535 * thickness),
  });
  return [red[0], green[0], blue[0]];
}
