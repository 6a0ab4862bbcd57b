import { type TiffField, TYPE_BYTES, writeDirectory } from '#codecs/tiffDirectory.ts';
import { rgbToXyz, SRGB_PRIMARIES } from '#core/color/primaries.ts';
import { invert3 } from '#core/raster/matrix3.ts';
import type { Size } from '#core/raster/size.ts';
import { CLEAR, type Look } from './camera.ts';

/** What a DNG says beside its pixels. */
export interface DngFacts {
  exposureTime: number;
  fNumber: number;
  iso: number;
  /** `2025:10:12 06:41:07` */
  takenAt: string;
  /** Light that the camera took for white, as sensor values relative to the brightest. */
  asShotNeutral: readonly [number, number, number];
  blackLevel: number;
  whiteLevel: number;
}

type Field = readonly [tag: number, type: 1 | 2 | 3 | 4 | 5 | 10, values: readonly number[] | string];

const DENOMINATOR = 10000;

/** A raw file as an invented camera writes it: an uncompressed mosaic of red, green, green and blue under a sensor whose
 * colours are those of sRGB (DNG specification 1.4.0.0, chapters 4 and 6; TIFF 6.0).
 * @param mosaic - One sample a pixel, between black and white level. */
export function encodeDng(mosaic: Uint16Array, { width, height }: Size, facts: DngFacts): Uint8Array<ArrayBuffer> {
  const exif: Field[] = [
    [33434, 5, [facts.exposureTime]],
    [33437, 5, [facts.fNumber]],
    [34855, 3, [facts.iso]],
    [36867, 2, facts.takenAt],
  ];
  const main = (exifAt: number, pixelsAt: number): Field[] => [
    [254, 4, [0]],
    [256, 4, [width]],
    [257, 4, [height]],
    [258, 3, [16]],
    [259, 3, [1]],
    [262, 3, [32803]],
    [271, 2, 'Nobody'],
    [272, 2, 'Box 1'],
    [273, 4, [pixelsAt]],
    [274, 3, [1]],
    [277, 3, [1]],
    [278, 4, [height]],
    [279, 4, [mosaic.length * 2]],
    [284, 3, [1]],
    [33421, 3, [2, 2]],
    [33422, 1, [0, 1, 1, 2]],
    [34665, 4, [exifAt]],
    [50706, 1, [1, 4, 0, 0]],
    [50707, 1, [1, 1, 0, 0]],
    [50708, 2, 'Nobody Box 1'],
    [50714, 4, [facts.blackLevel]],
    [50717, 4, [facts.whiteLevel]],
    [50721, 10, invert3(rgbToXyz(SRGB_PRIMARIES))],
    [50728, 5, facts.asShotNeutral],
    [50778, 3, [21]],
  ];
  const mainBytes = directory(main(0, 0), 8).length;
  const exifAt = 8 + mainBytes;
  const pixelsAt = exifAt + directory(exif, exifAt).length;
  const file = new Uint8Array(pixelsAt + mosaic.length * 2);
  file.set([0x49, 0x49, 42, 0, 8, 0, 0, 0]);
  file.set(directory(main(exifAt, pixelsAt), 8), 8);
  file.set(directory(exif, exifAt), exifAt);
  file.set(new Uint8Array(mosaic.buffer, mosaic.byteOffset, mosaic.byteLength), pixelsAt);
  return file;
}

/** The fields as a directory has them, low byte first. */
function directory(fields: readonly Field[], at: number): Uint8Array {
  return writeDirectory(fields.map(fieldOf), at, 0, true);
}

function fieldOf([tag, type, given]: Field): TiffField {
  const values = typeof given === 'string' ? [...Array.from(given, (c) => c.charCodeAt(0)), 0] : given;
  const bytes = new Uint8Array(values.length * TYPE_BYTES[type]);
  put(new DataView(bytes.buffer), type, values);
  return { tag, type, count: values.length, bytes };
}

function put(view: DataView, type: Field[1], values: readonly number[]): void {
  for (const [i, value] of values.entries()) {
    if (type === 1 || type === 2) view.setUint8(i, value);
    else if (type === 3) view.setUint16(2 * i, value, true);
    else if (type === 4) view.setUint32(4 * i, value, true);
    else {
      const quick = value > 0 && value < 1e-2; // short times are one over something
      view.setInt32(8 * i, quick ? 1 : Math.round(value * DENOMINATOR), true);
      view.setInt32(8 * i + 4, quick ? Math.round(1 / value) : DENOMINATOR, true);
    }
  }
}

/** Levels of a sensor of 14 bits, and what its colours see of white light, as daylight has it (common practice, no source): red and blue are not
 * full yet where green is. */
export const SENSOR = { blackLevel: 512, whiteLevel: 16383, asShotNeutral: [0.5, 1, 0.64] } as const;

/** Light as the sensor's colours see it.
 * @param look - What lies before the camera, if anything. */
export function seenBySensor({ cast, veil }: Look = CLEAR): Look {
  const [red, green, blue] = SENSOR.asShotNeutral;
  return { cast: [red * cast[0], green * cast[1], blue * cast[2]], veil };
}

/** What a sensor sees of linear light: each pixel one colour only, red, green, green and blue in turn.
 * @param linear - Interleaved RGB, 16 bits. */
export function mosaicOf(linear: Uint16Array, { width, height }: Size): Uint16Array {
  const range = SENSOR.whiteLevel - SENSOR.blackLevel;
  const mosaic = new Uint16Array(width * height);
  for (let y = 0, pixel = 0; y < height; y++) {
    for (let x = 0; x < width; x++, pixel++) {
      const channel = (x & 1) + (y & 1);
      mosaic[pixel] = SENSOR.blackLevel + Math.round((linear[pixel * 3 + channel] / 65535) * range);
    }
  }
  return mosaic;
}
