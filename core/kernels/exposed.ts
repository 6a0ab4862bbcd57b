import { address, defineKernel, planeOrValue } from './defineKernel.ts';
import { encodingOf, type Through, throughOf, weightAt } from './encodedSteps.ts';
import { lightOf } from './lightSteps.ts';
import { tabledLight } from './logTable.ts';
import type { RgbFloats } from './planes.ts';
import { type MappedPowers, mappedPower, samplePowers } from './stopsByMap.ts';

/** What a map says of exposure. */
export interface Exposed {
  /** A plane of codes, or the one that it is throughout. */
  map: Uint16Array | number;
  powers: MappedPowers;
  /** Of Oklab, of the values. */
  lightness: Float32Array;
}

/** Encoded values, 0..65535 and beyond, whose lightness of Oklab, and colour with it, is multiplied by a power of two that belongs to codes of a
 * map, by as much as belongs to the lightness, laid over others. That is light by the curve of sRGB (IEC 61966-2-1) times the third power.
 * @param encoding - From light to encoded values, see `logTable`.
 * @param out - Overwritten; none of the planes that are read. */
export function exposeByMap(
  { map, powers, lightness }: Exposed,
  encoding: Float32Array,
  values: RgbFloats,
  below: RgbFloats,
  through: Through,
  out: RgbFloats,
): void {
  for (let i = 0; i < lightness.length; i++) {
    const factor = 2 ** (3 * mappedPower(powers, typeof map === 'number' ? map : map[i], lightness[i]));
    for (const channel of [0, 1, 2] as const) {
      const made = tabledLight(encoding, factor * lightOf(values[channel][i] / 65535));
      out[channel][i] = below[channel][i] + (made - below[channel][i]) * weightAt(through, i);
    }
  }
}

export const exposeByMapKernel = defineKernel(exposeByMap)({
  compiled: ['exposeByMap'],
  bind:
    ({ wasm }) =>
    ({ map, powers, lightness }, encoding, [red, green, blue], [r, g, b], through, out) => {
      const [plane, value] = planeOrValue(map);
      const [mask, weight] = throughOf(through);
      const { byCode, byLightness } = powers;
      const by = [plane, value, address(byCode), address(byLightness), address(lightness), address(encoding)] as const;
      const from = [address(red), address(green), address(blue), address(r), address(g), address(b)] as const;
      const onto = [mask, weight, address(out[0]), address(out[1]), address(out[2]), lightness.length] as const;
      wasm.exposeByMap(...by, ...from, ...onto);
    },
  samples: {
    'encoded values exposed by a map': (make) => {
      const plane = () => make.table(16384, () => make.number(-600, 1) + make.number(0, 1) ** 4 * 100_000);
      return [
        { map: make.samples(), powers: samplePowers(make), lightness: make.floats() },
        encodingOf(make),
        [plane(), plane(), plane()],
        [plane(), plane(), plane()],
        { mask: make.samples(), opacity: 0.8 },
        [make.floats(), make.floats(), make.floats()],
      ];
    },
  },
  // Of 65,535.
  floats: 0.3,
});
