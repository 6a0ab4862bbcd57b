import { DARKEST_STOPS, stopsOfLight, TONE_SPAN } from '../../color/toneCodes.ts';
import { toneWeights, type WorkingSpace } from '../../color/workingSpace.ts';
import { logTable } from '../../kernels/logTable.ts';
import type { RgbFloats } from '../../kernels/planes.ts';
import { keyOf } from '../../raster/tileKey.ts';
import type { RenderContext, TileNode } from '../tiles/renderContext.ts';
import { OfLight } from './ofLight.ts';

const CODES = logTable((light) => ((stopsOfLight(light) - DARKEST_STOPS) / TONE_SPAN) * 65535);

/** Luminance of a picture in stops, as one plane of tone codes. */
export class StopsNode extends OfLight {
  readonly #weights: readonly [number, number, number];

  constructor(source: TileNode, space: WorkingSpace) {
    super(keyOf('stops', space), source);
    this.#weights = toneWeights(space);
  }

  protected override write(light: RgbFloats, out: Uint16Array, { kernels, scratch }: RenderContext): void {
    kernels.codesOfLight(scratch.within(CODES), this.#weights, light, out);
  }
}
