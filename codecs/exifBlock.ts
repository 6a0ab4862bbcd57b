import * as piexif from 'piexif-ts';
import type { OutputSpace } from '#core/color/workingSpace.ts';
import type { ExifValues } from '#core/scene/frame.ts';

/** Numerator and denominator of a positive number, exact for the times and apertures that cameras write. */
export function toRational(value: number): [number, number] {
  if (Number.isInteger(value)) return [value, 1];
  if (value < 1 && Math.abs(1 / value - Math.round(1 / value)) < 1e-6 / value) return [1, Math.round(1 / value)];
  for (const denominator of [10, 100, 1000, 10000]) {
    if (Math.abs(value * denominator - Math.round(value * denominator)) < 1e-6)
      return [Math.round(value * denominator), denominator];
  }
  return [Math.round(value * 100000), 100000];
}

/** What an EXIF block tells. */
export interface ExifContents {
  /** How it was taken. */
  camera: boolean;
  /** Where it was taken. */
  place: boolean;
  /** The space of the picture. */
  space: OutputSpace;
}

/** Exif 2.32, section 4.6.5: sRGB, and everything that a profile says. */
const COLOUR_SPACES = { srgb: 1, other: 0xffff };

/** An EXIF block as TIFF data (Exif 2.32, CIPA DC-008), without the `Exif` marker in front of it. */
export function buildExifBlock(
  values: ExifValues,
  { camera, place, space }: ExifContents = { camera: true, place: false, space: 'srgb' },
): Uint8Array {
  const exif = camera ? values : {};
  const { TagValues } = piexif;
  const zeroth: Record<number, unknown> = { [TagValues.ImageIFD.Software]: 'Lusket' };
  if (exif.Make) zeroth[TagValues.ImageIFD.Make] = exif.Make;
  if (exif.Model) zeroth[TagValues.ImageIFD.Model] = exif.Model;
  const sub: Record<number, unknown> = {
    [TagValues.ExifIFD.ExifVersion]: '0232',
    [TagValues.ExifIFD.FlashpixVersion]: '0100',
    [TagValues.ExifIFD.ColorSpace]: space === 'srgb' ? COLOUR_SPACES.srgb : COLOUR_SPACES.other,
  };
  if (exif.ExposureTime) sub[TagValues.ExifIFD.ExposureTime] = toRational(exif.ExposureTime);
  if (exif.FNumber) sub[TagValues.ExifIFD.FNumber] = toRational(exif.FNumber);
  if (exif.ISO) sub[TagValues.ExifIFD.ISOSpeedRatings] = Math.min(65535, Math.round(exif.ISO));
  if (exif.DateTimeOriginal) sub[TagValues.ExifIFD.DateTimeOriginal] = exif.DateTimeOriginal;
  if (exif.FocalLength) sub[TagValues.ExifIFD.FocalLength] = toRational(exif.FocalLength);
  if (exif.LensModel) sub[TagValues.ExifIFD.LensModel] = exif.LensModel;
  if (exif.ExposureBiasValue !== undefined) {
    const [top, bottom] = toRational(Math.abs(exif.ExposureBiasValue) || 0);
    sub[TagValues.ExifIFD.ExposureBiasValue] = [exif.ExposureBiasValue < 0 ? -top : top, bottom];
  }
  const block = { '0th': zeroth, Exif: sub, ...(place ? gpsOf(values) : {}) };
  const text = piexif.dump(block as piexif.IExif);
  return Uint8Array.from(text.slice(6), (character) => character.charCodeAt(0));
}

/** The directory of the place (Exif 2.32, section 4.6.6); nothing where none is known. */
function gpsOf({ GPSLatitude, GPSLongitude, GPSAltitude }: ExifValues): { GPS?: Record<number, unknown> } {
  if (GPSLatitude === undefined || GPSLongitude === undefined) return {};
  const { GPSIFD } = piexif.TagValues;
  const gps: Record<number, unknown> = {
    [GPSIFD.GPSVersionID]: [2, 3, 0, 0],
    [GPSIFD.GPSLatitudeRef]: GPSLatitude < 0 ? 'S' : 'N',
    [GPSIFD.GPSLatitude]: inDegrees(GPSLatitude),
    [GPSIFD.GPSLongitudeRef]: GPSLongitude < 0 ? 'W' : 'E',
    [GPSIFD.GPSLongitude]: inDegrees(GPSLongitude),
  };
  if (GPSAltitude !== undefined) {
    gps[GPSIFD.GPSAltitudeRef] = GPSAltitude < 0 ? 1 : 0;
    gps[GPSIFD.GPSAltitude] = [Math.round(Math.abs(GPSAltitude) * 100), 100];
  }
  return { GPS: gps };
}

/** Degrees, minutes, and hundred-thousandths of seconds: a third of a millimetre. */
function inDegrees(angle: number): [number, number][] {
  const parts = Math.round(Math.abs(angle) * 3600e5);
  return [
    [Math.floor(parts / 3600e5), 1],
    [Math.floor((parts % 3600e5) / 60e5), 1],
    [parts % 60e5, 1e5],
  ];
}
