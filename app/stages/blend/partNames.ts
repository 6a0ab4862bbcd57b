import {
  PhCircleHalf,
  PhCircleHalfTilt,
  PhEyedropper,
  PhGitDiff,
  PhGradient,
  PhImage,
  PhLinkSimple,
  PhPaintBrush,
  PhPolygon,
} from '@phosphor-icons/vue';
import type { Component } from 'vue';
import type { Measure } from '#core/masks/measure.ts';
import { asTaken, frameOfSource, isDeveloped, type Source } from '#core/masks/source.ts';
import type { Part, PartKind } from '#core/parts/list.ts';
import { beginsWithAll } from '#core/parts/painted.ts';
import type { Join } from '#core/parts/partBase.ts';
import type { ToneSide } from '#core/parts/tone.ts';
import type { Item } from '#core/scene/item.ts';
import type { Scene } from '#core/scene/scene.ts';
import { findItem } from '#core/scene/tree.ts';
import { frameLabel, itemLabel } from '../../frameLabel.ts';
import type { MaskChoice } from '../../stores/benchState.ts';

/** What parts are called and by which sign they are known. */
export const KINDS: Record<PartKind, { label: string; icon: Component; hint: string }> = {
  tone: { label: 'Tones', icon: PhCircleHalf, hint: 'Light, dark or middle tones of a picture' },
  colour: { label: 'Colour', icon: PhEyedropper, hint: 'A range of hue, chroma and lightness' },
  gradient: { label: 'Gradient', icon: PhGradient, hint: 'Fades along a line' },
  radial: { label: 'Radial', icon: PhCircleHalfTilt, hint: 'An ellipse with a soft rim' },
  outline: { label: 'Outline', icon: PhPolygon, hint: 'An area drawn freehand or corner by corner' },
  difference: {
    label: 'Difference',
    icon: PhGitDiff,
    hint: 'Where two frames differ: what moved, which lights came on',
  },
  painted: { label: 'Painted', icon: PhPaintBrush, hint: 'Strokes of the brush' },
  picture: { label: 'Picture', icon: PhImage, hint: 'A grey PNG or TIFF' },
  reference: { label: 'Reference', icon: PhLinkSimple, hint: 'Another mask of the scene' },
};

export const JOINS: readonly { value: Join; sign: string; label: string }[] = [
  { value: 'add', sign: '+', label: 'Add' },
  { value: 'subtract', sign: '−', label: 'Subtract' },
  { value: 'intersect', sign: '×', label: 'Intersect' },
  { value: 'exclude', sign: '≠', label: 'Exclude' },
];

export const SIDES: readonly { value: ToneSide; label: string }[] = [
  { value: 'light', label: 'Light' },
  { value: 'middle', label: 'Middle' },
  { value: 'dark', label: 'Dark' },
  { value: 'curve', label: 'Curve' },
];

export const MEASURES: readonly { value: Measure; label: string; hint: string }[] = [
  { value: 'luminance', label: 'Luminance', hint: 'Weighted sum of the channels' },
  { value: 'lightness', label: 'Lightness', hint: 'L*, as the eye sees it' },
  { value: 'brightest', label: 'Brightest', hint: 'The brightest of the three channels' },
  { value: 'red', label: 'Red', hint: 'The red channel alone' },
  { value: 'green', label: 'Green', hint: 'The green channel alone' },
  { value: 'blue', label: 'Blue', hint: 'The blue channel alone' },
  { value: 'chroma', label: 'Chroma', hint: 'Strength of colour: light takes vivid colours, dark takes greys' },
];

const measureLabel = (measure: Measure): string => MEASURES.find(({ value }) => value === measure)?.label ?? '';

/** Sources as they are offered: by their part in the stack, then by frame. */
export function sourcesOf(scene: Scene): { value: Source; label: string }[] {
  return [
    { value: 'base', label: 'Base' },
    { value: 'layer', label: 'This layer' },
    { value: 'below', label: 'Picture below' },
    { value: 'result', label: 'Finished picture' },
    ...scene.frames.map(({ id }) => ({ value: `frame:${id}` as Source, label: `Frame ${frameLabel(scene, id)}` })),
  ];
}

export const sourceLabel = (scene: Scene, source: Source): string => {
  const frame = frameOfSource(source);
  const label = frame
    ? frameLabel(scene, frame)
    : sourcesOf(scene).find(({ value }) => value === asTaken(source))?.label;
  return `${label ?? ''}${isDeveloped(source) ? ', developed' : ''}`;
};

/** A part in a few words: its name, or what it is. */
export function partLabel(scene: Scene, part: Part): string {
  if (part.name) return part.name;
  if (part.kind === 'tone') {
    const side =
      part.measure === 'chroma'
        ? { light: 'Vivid colours', dark: 'Muted colours', middle: 'Medium colours', curve: 'Curve over chroma' }[
            part.side
          ]
        : `${SIDES.find(({ value }) => value === part.side)?.label}`;
    const measure =
      part.measure === 'luminance' || part.measure === 'chroma' ? '' : ` ${measureLabel(part.measure).toLowerCase()}`;
    return `${side}${measure} · ${sourceLabel(scene, part.source)}`;
  }
  if (part.kind === 'painted' && part.strokes.length === 1 && beginsWithAll(part)) return 'Everything';
  if (part.kind === 'painted')
    return `Painted · ${part.strokes.length} ${part.strokes.length === 1 ? 'stroke' : 'strokes'}`;
  if (part.kind === 'picture') return part.file.name;
  if (part.kind === 'reference') return `Mask of ${referenceLabel(scene, part.to)}`;
  return KINDS[part.kind].label;
}

/** One of a layer's masks in a few words. */
export function maskLabel(scene: Scene, item: Item, of: MaskChoice): string {
  const label = itemLabel(scene, item);
  return {
    mask: `mask of ${label}`,
    guard: `guard of ${label}`,
    stencil: `stencil of ${label}`,
    group: `mask of the group of ${label}`,
  }[of];
}

/** Why a mask cannot be referred to. */
export const sayRing = (label: string): string =>
  `The mask of ${label} refers to this one, directly or through others; two masks cannot refer to each other. Take that reference out there first, or keep it as it is now.`;

export function referenceLabel(scene: Scene, to: (Part & { kind: 'reference' })['to']): string {
  if ('frozen' in to) return `${to.of}, as it was`;
  if ('stencil' in to) return scene.stencils.find(({ id }) => id === to.stencil)?.name ?? 'a deleted stencil';
  const item = findItem(scene, to.item);
  return item ? itemLabel(scene, item) : 'a deleted layer';
}
