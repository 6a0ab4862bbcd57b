import { DecodeError } from '#codecs/decodeError.ts';
import { SceneFileError } from '#codecs/sceneFile.ts';
import type { RepairCode, Repairs } from '#core/scene/repairs.ts';
import { SceneError } from '#core/scene/sceneError.ts';
import { EngineError } from '#engine/engineError.ts';
import { StorageError } from './storage/storageError.ts';

const DECODE: Record<string, (detail: string) => string> = {
  empty: () => 'The file is empty. Copy it from the card again.',
  'unknown-format': () =>
    'Lusket cannot read this kind of file. It reads JPEG, TIFF, PNG, WebP, AVIF, HEIC, JPEG XL, Radiance, DNG and other camera raw files.',
  damaged: () => 'The file is damaged or cut short. Copy it from its source again.',
  unsupported: (detail) => `This kind of file cannot be read: ${detail}. Save it as RGB or grey.`,
  'too-large': (detail) => `The picture is too large: ${detail}. The limit is 300 megapixels.`,
  'size-differs': (detail) =>
    /proportions/.test(detail)
      ? `The picture cannot be scaled to the size of the frames here: ${detail}. Crop it to theirs first.`
      : `The picture is of another size than the frames here (${detail}). Frames of one scene must be of one size.`,
  'memory-full': sayMemoryFull,
  'thread-failed': () => 'The part of Lusket that reads and writes files stopped and has been restarted. Try again.',
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

const UNEXPECTED = 'Something unexpected happened. Reload the page; everything so far is saved.';

const SCENE: Record<SceneError['code'], string> = {
  newer: 'The scene was made with a newer Lusket. Update to open it.',
  'not-yet': 'The scene uses what this version of Lusket cannot compute yet. Update to open it.',
  invalid: 'The scene cannot be understood: it is damaged, or was not made with Lusket.',
  'too-deep': 'Masks of this scene refer to each other too many times over, so its picture cannot be computed.',
  'too-much': 'This scene asks for more than can be computed: too many layers, mask parts or strokes.',
  'too-large': 'The frames of this scene are too large. The limit is 300 megapixels.',
};

const STORAGE: Record<StorageError['code'], string> = {
  refused:
    'The browser refuses to store anything here. Leave private mode, or allow storage for this address, and reload.',
  newer: 'A newer Lusket has been used in this browser. Reload the page to use it here as well.',
  'no-locks':
    'This browser cannot keep two tabs from changing one scene (it lacks Web Locks). Update it: all main browsers have had them since 2022.',
  gone: 'The scene is no longer stored in this browser.',
  'in-use': 'The scene is open in a tab. Close it there first.',
};

/** Of requests to the engine, by the codes that the core gives. */
const ENGINE: Record<string, string> = {
  'memory-full': 'There is no memory left to compute the picture. Remove a frame, or close other tabs and reload.',
  'frame-missing':
    'The picture is not complete: a frame is still being read, or its file is missing. Missing files are named above the picture.',
  'too-deep': SCENE['too-deep'],
  'too-much': SCENE['too-much'],
  'thread-failed':
    'A part of the engine stopped and has been restarted. If the picture stays incomplete, reload the page.',
  stuck:
    'A part of the engine stopped responding and has been restarted. If the picture stays incomplete, reload the page.',
};

/** One sentence for the user: what happened and what to do. */
export function sayError(error: unknown): string {
  if (error instanceof DecodeError) return DECODE[error.code]?.(error.detail) ?? UNEXPECTED;
  if (error instanceof SceneFileError) {
    if (error.code === 'stopped') return 'Stopped; nothing was changed.';
    return error.code === 'damaged'
      ? 'The scene file is damaged. Try another copy of it.'
      : 'This is not a Lusket scene file. Choose a file that ends in .lusket.';
  }
  if (error instanceof SceneError) return SCENE[error.code];
  if (error instanceof StorageError) return STORAGE[error.code];
  if (error instanceof EngineError) return ENGINE[error.code] ?? UNEXPECTED;
  if (error instanceof DOMException && error.name === 'QuotaExceededError') {
    return 'The browser has no room left for this scene. Save the scene file in the Export stage, then delete scenes you no longer need.';
  }
  return UNEXPECTED;
}

/** What a report of a failure needs beside the sentence. */
export function detailsOf(error: unknown): string {
  const { name, code, message, detail } = error as { name?: string; code?: string; message?: string; detail?: string };
  return [name, code, detail ?? message].filter((each) => each !== undefined && each !== '').join(' · ');
}

const REPAIRS: Record<RepairCode, (count: number) => string> = {
  'layer-without-frame': (count) =>
    `${layers(count)} of frames that it does not have ${count === 1 ? 'was' : 'were'} left out`,
  'base-missing': () => 'its base was missing, so the first frame is the base',
  placement: (count) =>
    `${count === 1 ? 'a placement' : `${count} placements`} that showed nothing ${count === 1 ? 'was' : 'were'} reset`,
  crop: () => 'a crop outside the picture was removed',
  recipe: () => 'a copy of a mask under a forbidden name was left out',
  shape: () => 'shapes far outside the picture were moved closer',
  'stroke-points': (count) =>
    `${strokes(count)} had points that cannot be; they were brought to the picture or left out`,
  'stroke-missing': (count) =>
    `${strokes(count)} ${count === 1 ? 'has' : 'have'} no points any more and ${count === 1 ? 'shows' : 'show'} nothing`,
  spot: (count) =>
    `${count === 1 ? 'a spot that could not be covered was' : `${count} spots that could not be covered were`} left out`,
  'stroke-cut': (count) => `${strokes(count)} went on without end and ${count === 1 ? 'was' : 'were'} cut short`,
};
const layers = (count: number) => (count === 1 ? 'a layer' : `${count} layers`);
const strokes = (count: number) => (count === 1 ? 'a stroke' : `${count} strokes`);

/** Which files of frames were damaged in a scene file. */
export const sayBroken = (names: readonly string[]): string =>
  `${names.join(', ')} ${names.length === 1 ? 'is' : 'are'} damaged in the scene file. The scene is open; choose the original file${names.length === 1 ? '' : 's'} to have ${names.length === 1 ? 'that frame' : 'those frames'} back.`;

/** What was mended when a scene was opened, in one sentence. */
export const sayRepairs = (repairs: Repairs): string =>
  `The scene had faults, which were repaired: ${[...repairs].map(([code, count]) => REPAIRS[code](count)).join('; ')}.`;

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
export const OUTPUT_SPACE_NAMES = {
  srgb: 'sRGB',
  'display-p3': 'Display P3',
  bt2020: 'BT.2020',
  oprgb: 'opRGB',
} as const;

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

/** A distance in pixels. */
export const sayPixels = (px: number | null): string =>
  px === null ? 'unknown' : `${px.toFixed(px < 0.1 ? 2 : 1)} px`;
