import * as piexif from 'piexif-ts';
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

/** An EXIF block as TIFF data (Exif 2.32, CIPA DC-008), without the `Exif` marker in front of it. */
export function buildExifBlock(exif: ExifValues): Uint8Array {
  const { TagValues } = piexif;
  const zeroth: Record<number, unknown> = { [TagValues.ImageIFD.Software]: 'Lusket' };
  if (exif.Make) zeroth[TagValues.ImageIFD.Make] = exif.Make;
  if (exif.Model) zeroth[TagValues.ImageIFD.Model] = exif.Model;
  const sub: Record<number, unknown> = {
    [TagValues.ExifIFD.ExifVersion]: '0232',
    [TagValues.ExifIFD.FlashpixVersion]: '0100',
    [TagValues.ExifIFD.ColorSpace]: 1,
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
  const text = piexif.dump({ '0th': zeroth, Exif: sub } as piexif.IExif);
  return Uint8Array.from(text.slice(6), (character) => character.charCodeAt(0));
}
