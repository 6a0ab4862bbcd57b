import { formatOf } from '#codecs/deliver/formats/list.ts';
import type { Preset } from '#codecs/deliver/preset.ts';
import { hasTexts, type Texts, writeXmp } from '#codecs/deliver/texts.ts';
import type { WriteOptions } from '#codecs/deliver/writePicture.ts';
import type { OutputSpace } from '#core/color/workingSpace.ts';
import type { Size } from '#core/raster/size.ts';
import type { Scene } from '#core/scene/scene.ts';
import { asTheyAre } from './layeredFile.ts';

/** The space that a preset's pictures are rendered in: on their way to a profile of the user's it is the widest. */
export function spaceOf({ space, file }: Preset, scene: Scene): OutputSpace {
  if (formatOf(file.format).onlySrgb) return 'srgb';
  if (space === 'own') return 'bt2020';
  return space === 'scene' ? scene.workingSpace : space;
}

/** How a picture is written by a preset, but for what is said of it.
 * @param size - As it is written. */
export function pictureOptions(preset: Preset, scene: Scene, size: Size): WriteOptions {
  const own = preset.space === 'own' ? preset.profile : null;
  const isLight = formatOf(preset.file.format).samples(preset.file) === 'light';
  return {
    ...asTheyAre(size, spaceOf(preset, scene), preset.file),
    sharpening: preset.sharpening,
    dither: preset.dither,
    ...(own && !isLight
      ? { own: { profile: bytesOf(own.base64), intent: preset.intent, blackPoint: preset.blackPoint } }
      : {}),
  };
}

/** What is said of a picture, as far as the preset wants it. */
export function metadataOf(
  preset: Preset,
  scene: Scene,
  texts: Texts,
  space: OutputSpace,
): Pick<WriteOptions, 'exif' | 'xmp'> {
  const { shotData } = preset;
  const { camera, place } = shotData;
  const values = scene.frames.find(({ id }) => id === scene.base)?.exif ?? {};
  return {
    exif: camera || place ? { values, tells: { camera, place, space } } : undefined,
    xmp: shotData.texts && hasTexts(texts) ? writeXmp(texts) : undefined,
  };
}

const bytesOf = (base64: string): Uint8Array => Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
