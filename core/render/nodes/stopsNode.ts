import { LogTable } from '../../color/logTable.ts';
import { DARKEST_STOPS, stopsOfLight, TONE_SPAN } from '../../color/toneCodes.ts';
import { toneWeights, type WorkingSpace } from '../../color/workingSpace.ts';
import type { RgbFloats } from '../../kernels/planes.ts';
import { keyOf } from '../../raster/tileKey.ts';
import type { TileNode } from '../tiles/renderContext.ts';
import { OfLight } from './ofLight.ts';

const CODES = new LogTable((light) => ((stopsOfLight(light) - DARKEST_STOPS) / TONE_SPAN) * 65535);

/** Luminance of a picture in stops, as one plane of tone codes. */
export class StopsNode extends OfLight {
  readonly #weights: readonly [number, number, number];

  constructor(source: TileNode, space: WorkingSpace) {
    super(keyOf('stops', space), source);
    this.#weights = toneWeights(space);
  }

  protected override write([red, green, blue]: RgbFloats, out: Uint16Array): void {
    const [r, g, b] = this.#weights;
    for (let i = 0; i < out.length; i++) {
      const code = CODES.at(r * red[i] + g * green[i] + b * blue[i]);
      out[i] = code < 0 ? 0 : code > 65535 ? 65535 : code + 0.5;
    }
  }
}
