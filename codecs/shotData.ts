import exifr from 'exifr';
import { brightnessEv, type ExifValues, type Shot } from '#core/scene/frame.ts';
import type { OpenPicture } from './picture.ts';

/** Shot data that a file carries, with the EXIF values to hand on to what is made from it. */
export interface ShotData {
  shot: Shot;
  exif: ExifValues;
}

const NUMBERS = ['ExposureTime', 'FNumber', 'FocalLength'] as const;
const TEXTS = ['Make', 'Model', 'LensModel', 'DateTimeOriginal'] as const;

/** Reads shot data; a file without any, or with unreadable data, answers nulls.
 * @param picture - What its decoder found beside the pixels. */
export async function readShotData(
  bytes: Uint8Array,
  picture: Pick<OpenPicture, 'exif' | 'shot' | 'headroom'>,
): Promise<ShotData> {
  // Some formats hide their EXIF from readers of EXIF, and some raw files have none that is laid out by the standard.
  const found = { ...(picture.exif ? await parseExif(picture.exif) : {}), ...(await parseExif(bytes)) };
  const exif: ExifValues = {};
  for (const name of NUMBERS) if (isPositive(found[name])) exif[name] = found[name];
  for (const name of TEXTS)
    if (typeof found[name] === 'string' && found[name] !== '') exif[name] = found[name].replaceAll('\0', '').trim();
  const iso = firstOf(found.ISO ?? found.ISOSpeedRatings ?? found.PhotographicSensitivity);
  if (isPositive(iso)) exif.ISO = iso;
  const bias = found.ExposureCompensation ?? found.ExposureBiasValue;
  if (typeof bias === 'number' && Number.isFinite(bias)) exif.ExposureBiasValue = bias;
  for (const [name, value] of [
    ['GPSLatitude', found.latitude],
    ['GPSLongitude', found.longitude],
  ] as const)
    if (isNumber(value) && Math.abs(value) <= (name === 'GPSLatitude' ? 90 : 180)) exif[name] = value;
  if (isNumber(found.GPSAltitude))
    exif.GPSAltitude = isBelowSea(found.GPSAltitudeRef) ? -found.GPSAltitude : found.GPSAltitude;
  // APEX values say the same where the plain ones are missing (Exif 2.32, CIPA DC-008, annex C).
  if (exif.ExposureTime === undefined && isNumber(found.ShutterSpeedValue))
    exif.ExposureTime = 2 ** -found.ShutterSpeedValue;
  if (exif.FNumber === undefined && isNumber(found.ApertureValue)) exif.FNumber = 2 ** (found.ApertureValue / 2);
  return { shot: shotOf(exif, found.SubSecTimeOriginal, picture), exif };
}

const isNumber = (value: unknown): value is number => typeof value === 'number' && Number.isFinite(value);
const isPositive = (value: unknown): value is number => isNumber(value) && value > 0;

/** Exif 2.32, section 4.6.6: 1 for what lies below the sea; some write it as a byte in a list. */
const isBelowSea = (reference: unknown): boolean => firstOf(reference) === 1;

/** Cameras may give more than one sensitivity; the first is the one that was set. */
const firstOf = (value: unknown): unknown =>
  ArrayBuffer.isView(value) || Array.isArray(value) ? Array.from(value as number[])[0] : value;

async function parseExif(bytes: Uint8Array): Promise<Record<string, unknown>> {
  try {
    return (
      (await exifr.parse(bytes, { translateValues: false, reviveValues: false, tiff: true, exif: true, gps: true })) ??
      {}
    );
  } catch {
    return {}; // shot data is a help, not a need: the pixels decide whether a file is good
  }
}

function shotOf(exif: ExifValues, fraction: unknown, { shot, headroom }: Pick<OpenPicture, 'shot' | 'headroom'>): Shot {
  const exposureTime = exif.ExposureTime ?? shot.exposureTime ?? null;
  const fNumber = exif.FNumber ?? shot.fNumber ?? null;
  const iso = exif.ISO ?? shot.iso ?? null;
  const known = exposureTime !== null && fNumber !== null && iso !== null;
  return {
    exposureTime,
    fNumber,
    iso,
    takenAt: exif.DateTimeOriginal ? timeOf(exif.DateTimeOriginal, fraction) : (shot.takenAt ?? null),
    ev: known ? brightnessEv(exposureTime, fNumber, iso) - headroom : null,
    estimated: false,
  };
}

/** `2025:10:12 06:41:07` and its fraction of a second as `2025-10-12T06:41:07.25`; null for what is no time. */
function timeOf(dateTime: string, fraction: unknown): string | null {
  const parts = /^(\d{4}):(\d{2}):(\d{2}) (\d{2}:\d{2}:\d{2})/.exec(dateTime);
  if (!parts) return null;
  const [, year, month, day, time] = parts;
  const digits = /^\d+/.exec(String(fraction ?? '').trim())?.[0];
  return `${year}-${month}-${day}T${time}${digits ? `.${digits}` : ''}`;
}
