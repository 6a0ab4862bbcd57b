import { DecodeError } from '#codecs/decodeError.ts';
import { SceneFileError } from '#codecs/sceneFile.ts';
import { SceneError } from '#core/scene/readScene.ts';

const DECODE: Record<string, (detail: string) => string> = {
  empty: () => 'The file is empty. Copy it from the card again.',
  'unknown-format': () =>
    'This is no picture of a kind that Lusket reads: JPEG, TIFF, PNG, WebP, AVIF, HEIC, JPEG XL, Radiance, DNG and other camera raw files.',
  damaged: (detail) => `The file is damaged or cut short (${detail}). Copy it from its source again.`,
  unsupported: (detail) => `This kind of file cannot be read: ${detail}. Save it as RGB or grey.`,
  'too-large': (detail) => `The picture is too large: ${detail}. The limit is 300 megapixels.`,
  'size-differs': (detail) =>
    /proportions/.test(detail)
      ? `The picture cannot be scaled to the size of the frames here: ${detail}. Crop it to theirs first.`
      : `The picture is of another size than the frames here (${detail}). Frames of one scene must be of one size.`,
  'memory-full': sayMemoryFull,
  stuck: (detail) => `Reading the file came to a stop (${detail} without a sign). It is probably damaged.`,
  cancelled: () => 'Stopped before it was read.',
};

/** @param detail - "NEEDED of FREE of ALL" in gigabytes, when it is known beforehand. */
function sayMemoryFull(detail: string): string {
  const figures = /^([\d.]+) of ([\d.]+) of ([\d.]+)$/.exec(detail);
  const remedy = 'Remove a frame, or close other tabs and reload.';
  if (!figures) return `There is no memory left for this frame. ${remedy}`;
  const [, needed, free, all] = figures;
  return `The frame needs ${needed} GB, and of the ${all} GB that frames may take here ${free} GB are free. ${remedy}`;
}

/** One sentence for the user: what happened and what to do. */
export function sayError(error: unknown): string {
  if (error instanceof DecodeError)
    return DECODE[error.code]?.(error.detail) ?? `Something unexpected happened: ${error.detail}`;
  if (error instanceof SceneFileError) {
    if (error.code === 'stopped') return 'Stopped; nothing was changed.';
    return error.code === 'damaged'
      ? `The scene file is damaged (${error.detail}). Try another copy of it.`
      : 'This is not a Lusket scene file. Choose a file that ends in .lusket.';
  }
  if (error instanceof SceneError) {
    return error.code === 'newer'
      ? `The scene was made with a newer Lusket (${error.detail}). Update to open it.`
      : `The scene cannot be understood (${error.detail}).`;
  }
  if (error instanceof DOMException && error.name === 'QuotaExceededError') {
    return 'The browser has no room left for this scene. Save the scene file in the Export stage, then delete scenes you no longer need.';
  }
  return `Something unexpected happened: ${(error as Error)?.message ?? error}`;
}

/** Endings of files that may become frames, for the browser's file dialog; what is in them decides. */
export const ACCEPTED =
  '.jpg,.jpeg,.tif,.tiff,.png,.webp,.avif,.heic,.heif,.jxl,.hdr,.dng,.cr2,.cr3,.nef,.arw,.raf,.rw2,.orf,.pef,.srw,.3fr,.iiq';

/** Spaces that a file without a profile may be taken to be in, as photographers call them. */
export const UNTAGGED_SPACES = {
  srgb: 'sRGB',
  'display-p3': 'Display P3',
  'adobe-rgb': 'Adobe RGB',
  prophoto: 'ProPhoto RGB',
} as const;

/** Spaces that pictures are written in. */
export const OUTPUT_SPACE_NAMES = { srgb: 'sRGB', 'display-p3': 'Display P3', bt2020: 'BT.2020' } as const;

/** An exposure time as photographers write it: 1/15 s, 4 s. */
export function sayExposureTime(seconds: number): string {
  return seconds < 0.3 ? `1/${Math.round(1 / seconds)} s` : `${Number(seconds.toFixed(1))} s`;
}

/** Stops with their sign: +2, −4, 0. */
export function sayEv(ev: number): string {
  const rounded = Math.round(ev * 10) / 10;
  return rounded > 0 ? `+${rounded}` : `${rounded}`.replace('-', '−');
}

export function sayBytes(bytes: number): string {
  if (bytes >= 1e9) return `${(bytes / 1e9).toFixed(1)} GB`;
  return bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} KB` : `${(bytes / 1e6).toFixed(1)} MB`;
}

/** A share of a picture in per cent, as exact as it is worth telling. */
export function sayShare(share: number): string {
  const percent = share * 100;
  if (percent === 0) return 'nothing';
  if (percent < 0.1) return 'under 0.1 %';
  return `${percent.toFixed(percent < 10 ? 1 : 0)} %`;
}
