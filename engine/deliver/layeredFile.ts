import type { WriteOptions } from '#codecs/deliver/writePicture.ts';
import type { LayerPlan, PlannedLayer } from '#core/deliver/layers.ts';
import type { Region, Size } from '#core/raster/size.ts';
import type { Scene } from '#core/scene/scene.ts';
import type { Outlet } from './sink.ts';
import { type BandedFile, type BandedPicture, type DeliveryWatch, type Machine, writeBands } from './writeBands.ts';

/** A scene's layers on their way to one file. */
export interface LayeredWork {
  machine: Machine;
  scene: Scene;
  plan: LayerPlan;
  /** What a layer is called. */
  nameOf: (layer: PlannedLayer) => string;
  /** The scene's size, and the part of it that is written. */
  size: Size;
  region: Region;
  /** What is said of the picture. */
  texts: Pick<WriteOptions, 'exif' | 'xmp'>;
  outlet: Outlet;
  watch: DeliveryWatch;
}

/** What is told of a layered file besides its bytes. */
export type LayeredResult = Pick<LayerPlan, 'notes'>;

/** How pictures are written losslessly, in 16 bits, as they are. */
export const asTheyAre = (
  { width, height }: Size,
  space: WriteOptions['space'],
  file: WriteOptions['file'],
): WriteOptions => ({
  file,
  size: { width, height },
  sharpening: { for: 'screen', amount: 0 },
  space,
  dither: false,
});

/** Writes one picture of several, each of the same share of the whole.
 * @throws {Error} when one of its files does not come about. */
export async function writeOne(
  { machine, watch }: Pick<LayeredWork, 'machine' | 'watch'>,
  picture: BandedPicture,
  files: readonly BandedFile[],
  share: { done: number; of: number },
) {
  const onProgress = (part: number) => watch.onProgress?.((share.done + part) / share.of);
  const outcomes = await writeBands(machine, picture, files, { ...watch, onProgress });
  for (const outcome of outcomes) if ('error' in outcome) throw outcome.error;
  return outcomes.map((outcome) => ('written' in outcome ? outcome.written : undefined));
}
