import type { FormatName } from '#codecs/deliver/formats/list.ts';
import type { OutputSize } from '#codecs/deliver/outputSize.ts';
import type { Delivery, Preset } from '#codecs/deliver/preset.ts';
import type { LayerNote } from '#core/deliver/layers.ts';
import { OUTPUT_SPACE_NAMES } from '../../wording.ts';

export const FORMAT_LABELS: Record<FormatName, string> = {
  tiff: 'TIFF',
  png: 'PNG',
  jpeg: 'JPEG',
  webp: 'WebP',
  avif: 'AVIF',
  jxl: 'JPEG XL',
  radiance: 'Radiance',
};

export const WHAT_LABELS: Record<Delivery, string> = {
  picture: 'The picture',
  layers: 'Its layers',
  masks: 'Masks',
  frames: 'Frames',
};

/** Words of settings of formats, and of what they may be. */
export const SETTING_WORDS: Record<string, { label: string; title?: string; values?: Record<string, string> }> = {
  bits: { label: 'Bits', title: 'Of each channel', values: { 8: '8', 10: '10', 12: '12', 16: '16', 32: '32, light' } },
  compression: { label: 'Packed', values: { deflate: 'deflate', lzw: 'LZW', none: 'not' } },
  layout: { label: 'Laid out in', values: { strips: 'strips', tiles: 'tiles' } },
  chroma: {
    label: 'Colour detail',
    title: 'Halved, it saves room; fine red and blue edges suffer',
    values: { '4:4:4': 'all, 4:4:4', '4:2:0': 'halved, 4:2:0' },
  },
  progressive: {
    label: 'Shows',
    title: 'While it is loading',
    values: { false: 'from the top', true: 'in steps' },
  },
  lossless: { label: 'Keeps', values: { false: 'what eyes see', true: 'every bit' } },
  quality: { label: 'Quality' },
  effort: { label: 'Effort', title: 'More makes smaller files, and takes longer' },
};

export const SIZE_LABELS: Record<OutputSize['by'], string> = {
  full: 'Full',
  long: 'Long side',
  megapixels: 'Megapixels',
  percent: 'Per cent',
};

export const SPACE_CHOICES: { value: Preset['space']; label: string }[] = [
  { value: 'scene', label: 'as the scene' },
  { value: 'srgb', label: OUTPUT_SPACE_NAMES.srgb },
  { value: 'display-p3', label: OUTPUT_SPACE_NAMES['display-p3'] },
  { value: 'oprgb', label: `${OUTPUT_SPACE_NAMES.oprgb}, wide` },
  { value: 'bt2020', label: `${OUTPUT_SPACE_NAMES.bt2020}, widest` },
  { value: 'own', label: 'a profile file' },
];

/** What a preset writes, in a line. */
export function sayPreset(preset: Preset): string {
  const { what, file, layersAs } = preset;
  if (what === 'layers') return layersAs === 'ora' ? 'OpenRaster, 16-bit' : 'TIFF, a page a layer';
  const bits = file.bits === undefined ? '' : file.bits === 32 ? '32-bit ' : `${file.bits}-bit `;
  const name = `${bits}${FORMAT_LABELS[file.format]}`;
  if (what === 'masks')
    return `${file.format === 'png' || file.format === 'tiff' ? '16-bit ' : ''}${FORMAT_LABELS[file.format]}, grey`;
  return file.quality !== undefined && file.lossless !== true ? `${name} ${file.quality}` : name;
}

/** How large, and in which colours. */
export function sayPresetMore({ what, size, space, profile, frames }: Preset): string {
  if (what === 'layers' || what === 'masks') return 'full size';
  const colours =
    space === 'own'
      ? (profile?.name ?? 'no profile yet')
      : space === 'scene'
        ? 'as the scene'
        : OUTPUT_SPACE_NAMES[space];
  if (what === 'frames') return `${frames === 'taken' ? 'as taken' : 'as developed'} · ${colours}`;
  const large = {
    full: 'full size',
    long: `${size.value} px`,
    megapixels: `${size.value} MP`,
    percent: `${size.value} %`,
  }[size.by];
  return `${large} · ${colours}`;
}

/** What layers of a file cannot say, and what became of it. */
export function sayNote(note: LayerNote, name: (id: string) => string): string {
  switch (note.code) {
    case 'adjusted':
      return `${name(note.at)}: its own adjustments are in its pixels.`;
    case 'above-white':
      return 'What developing lifts above white is cut there. Where such a place is covered only in part, layers may look a little darker.';
    case 'window':
      return `${name(note.at)}: where its tone window hides it, it is clear.`;
    case 'change':
      return `${name(note.at)}: changes what lies below, so it is a picture of what comes out.`;
    case 'mode':
      return `${name(note.at)}: its mode is not known there, so it is a picture of what comes out.`;
    case 'so-far':
      return `${name(note.at)}: is the whole picture up to there, and covers what lies below it.`;
    case 'light':
      return 'This scene mixes light, which other programs do not: each layer is the picture up to there.';
    case 'finish':
      return 'Spots and finishing steps are one layer on top.';
    case 'not-turned':
      return 'Layers are neither turned nor cropped: they lie as the scene does.';
    case 'wide':
      return 'Pixels are in BT.2020; each picture carries its profile.';
  }
}

/** How long something will take yet. */
export function sayTimeLeft(share: number, elapsedMs: number): string {
  if (share < 0.02 || elapsedMs < 1500) return '';
  if (share > 0.995) return 'nearly done';
  const seconds = ((1 - share) / share) * (elapsedMs / 1000);
  if (seconds < 1) return 'nearly done';
  return seconds < 90 ? `about ${Math.ceil(seconds)} s left` : `about ${Math.round(seconds / 60)} min left`;
}

/** Things one after the other, the last behind “and”. */
export const sayList = (words: readonly string[]): string => new Intl.ListFormat('en').format(words);
