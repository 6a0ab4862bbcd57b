import exifr from 'exifr';
import { brightnessEv, type ExifValues, type Shot } from '#core/scene/scene.ts';

/** Shot data that a file carries, with the EXIF values to hand on to what is made from it. */
export interface ShotData {
  shot: Shot;
  exif: ExifValues;
}

const NUMBERS = ['ExposureTime', 'FNumber', 'FocalLength'] as const;
const TEXTS = ['Make', 'Model', 'LensModel', 'DateTimeOriginal'] as const;

/** Reads shot data; a file without any, or with unreadable data, answers nulls. */
export async function readShotData(bytes: Uint8Array): Promise<ShotData> {
  const found = await parseExif(bytes);
  const exif: ExifValues = {};
  for (const name of NUMBERS) if (isPositive(found[name])) exif[name] = found[name];
  for (const name of TEXTS)
    if (typeof found[name] === 'string' && found[name] !== '') exif[name] = found[name].replaceAll('\0', '').trim();
  const iso = found.ISO ?? found.ISOSpeedRatings ?? found.PhotographicSensitivity;
  if (isPositive(iso)) exif.ISO = iso;
  const bias = found.ExposureCompensation ?? found.ExposureBiasValue;
  if (typeof bias === 'number' && Number.isFinite(bias)) exif.ExposureBiasValue = bias;
  return { shot: shotOf(exif), exif };
}

const isPositive = (value: unknown): value is number =>
  typeof value === 'number' && Number.isFinite(value) && value > 0;

async function parseExif(bytes: Uint8Array): Promise<Record<string, unknown>> {
  try {
    return (await exifr.parse(bytes, { translateValues: false, reviveValues: false, tiff: true, exif: true })) ?? {};
  } catch {
    return {}; // shot data is a help, not a need: the pixels decide whether a file is good
  }
}

function shotOf({ ExposureTime, FNumber, ISO, DateTimeOriginal }: ExifValues): Shot {
  const known = ExposureTime !== undefined && FNumber !== undefined && ISO !== undefined;
  return {
    exposureTime: ExposureTime ?? null,
    fNumber: FNumber ?? null,
    iso: ISO ?? null,
    takenAt: DateTimeOriginal ? DateTimeOriginal.replace(/^(\d{4}):(\d{2}):(\d{2}) /, '$1-$2-$3T') : null,
    ev: known ? brightnessEv(ExposureTime, FNumber, ISO) : null,
  };
}
