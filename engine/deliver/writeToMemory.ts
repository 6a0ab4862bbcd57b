import type { WriteOptions } from '#codecs/deliver/writePicture.ts';
import type { OutputSpace } from '#core/color/workingSpace.ts';
import { memoryPlace, Outlet } from './sink.ts';
import { type BandedPicture, type DeliveryWatch, type Machine, writeBands } from './writeBands.ts';

/** Writes one picture to a file in memory.
 * @throws {DecodeError} `cancelled`, or why it could not be written. */
export async function writeToMemory(
  machine: Machine,
  picture: BandedPicture,
  options: WriteOptions & { space: OutputSpace },
  watch: DeliveryWatch = {},
): Promise<Blob> {
  let file = new Blob();
  const place = memoryPlace((whole) => {
    file = whole;
  });
  const outlet = new Outlet(await place.open('picture', ''));
  const files = [{ space: options.space, kind: 'codes', options, outlet } as const];
  const [outcome] = await writeBands(machine, picture, files, watch).finally(() => machine.codec.freshen());
  if ('error' in outcome) throw outcome.error;
  await outlet.finish();
  return file;
}
