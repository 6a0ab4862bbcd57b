import { DecodeError } from '#codecs/decodeError.ts';
import { restOf } from '#codecs/deliver/formats/list.ts';
import { outputSize } from '#codecs/deliver/outputSize.ts';
import { type StackEntry, writeStackXml } from '#codecs/deliver/stackXml.ts';
import { TextReader, ZipWriter } from '#codecs/zip.ts';
import { type PlannedItem, type PlannedLayer, plannedLayers } from '#core/deliver/layers.ts';
import { levelCount, levelForScale, levelSize, type Region, type Size } from '#core/raster/size.ts';
import { fileOfImage } from './fileOfImage.ts';
import { asTheyAre, type LayeredResult, type LayeredWork, writeOne } from './layeredFile.ts';
import { layerOptions } from './layerOptions.ts';
import { Outlet, type Sink } from './sink.ts';
import type { BandedPicture } from './writeBands.ts';

/** Longest side of the small picture, by the specification. */
const THUMBNAIL = 256;

/** Writes a scene's layers as an OpenRaster file (freedesktop.org, 0.0.6), layer by layer.
 * @throws {DecodeError} `cancelled` */
export async function writeOpenRaster(work: LayeredWork): Promise<LayeredResult> {
  const { scene, plan, size, region, outlet, nameOf } = work;
  const space = scene.workingSpace;
  const zip = new ZipWriter(
    new WritableStream<Uint8Array>({
      write: async (bytes) => {
        outlet.put(new Uint8Array(bytes));
        await outlet.room();
      },
    }),
    { level: 0, extendedTimestamp: false, keepOrder: true },
  );
  // By the specification it comes first and is not compressed.
  await zip.add('mimetype', new TextReader('image/openraster'), { level: 0, dataDescriptor: false });
  const layers = [...plannedLayers(plan.layers)];
  const sources = new Map(layers.map((layer, index) => [layer, `data/layer${String(index).padStart(3, '0')}.png`]));
  const of = layers.length + 1;
  for (const [done, layer] of layers.entries()) {
    const { covers } = layer;
    const picture: BandedPicture = { of: layer.of, covers, size, region, channels: covers ? 4 : 3, clears: true };
    const options = await layerOptions(work, picture);
    await addPicture(zip, sources.get(layer) as string, (file) =>
      writeOne(work, picture, [{ space, kind: 'codes', options, outlet: file }], { done, of }),
    );
  }
  await zip.add('stack.xml', new TextReader(writeStackXml(region, entriesOf(plan.layers, sources, nameOf))), {
    level: 6,
  });
  const whole: BandedPicture = { of: { what: 'result' }, size, region, channels: 3 };
  const options = { ...(await layerOptions(work, whole)), ...work.texts };
  await addPicture(zip, 'mergedimage.png', (file) =>
    writeOne(work, whole, [{ space, kind: 'codes', options, outlet: file }], { done: of - 1, of }),
  );
  await zip.add('Thumbnails/thumbnail.png', new Blob(await thumbnailOf(work)).stream());
  await zip.close();
  await outlet.flushed();
  return { notes: plan.notes };
}

/** Adds a file to a ZIP while it is being written. */
async function addPicture(
  zip: ZipWriter<unknown>,
  name: string,
  write: (outlet: Outlet) => Promise<unknown>,
): Promise<void> {
  const { readable, writable } = new TransformStream<Uint8Array, Uint8Array>();
  const writer = writable.getWriter();
  const sink: Sink = {
    name,
    write: (bytes) => writer.write(bytes),
    patch: async () => undefined,
    finish: () => writer.close(),
    discard: () => writer.abort(),
  };
  const adding = zip.add(name, readable);
  adding.catch(() => undefined); // what went wrong is told by whoever writes
  try {
    await write(new Outlet(sink));
    await sink.finish();
  } catch (error) {
    await sink.discard().catch(() => undefined);
    throw error;
  }
  await adding;
}

/** The small picture: of a level that is not much larger. */
async function thumbnailOf({ machine, scene, size, region }: LayeredWork): Promise<Uint8Array<ArrayBuffer>[]> {
  const small = outputSize(region, { by: 'long', value: THUMBNAIL, enlarge: false });
  const level = levelForScale((2 * small.width) / region.width, levelCount(size));
  const part = partOfLevel(size, region, level);
  const space = scene.workingSpace;
  const image = new SharedArrayBuffer(part.width * part.height * 6);
  const forms = [{ space, kind: 'codes', image } as const];
  const picture = { of: { what: 'result' }, size, region: part, level, forms } as const;
  if (!(await machine.engine.write({ ...picture, held: machine.held })))
    throw new DecodeError('cancelled', 'before the small picture');
  const options = { ...asTheyAre(small, space, { ...restOf('png'), bits: 8 }), dither: true };
  return fileOfImage(machine.codec, new Uint16Array(image), part, 3, options);
}

/** The pixels of a level that hold a part of a picture. */
function partOfLevel(size: Size, { x, y, width, height }: Region, level: number): Region {
  const step = 2 ** level;
  const most = levelSize(size, level);
  const [left, top] = [Math.floor(x / step), Math.floor(y / step)];
  const [right, bottom] = [Math.ceil((x + width) / step), Math.ceil((y + height) / step)];
  return { x: left, y: top, width: Math.min(most.width, right) - left, height: Math.min(most.height, bottom) - top };
}

function entriesOf(
  items: readonly PlannedItem[],
  sources: ReadonlyMap<PlannedLayer, string>,
  nameOf: LayeredWork['nameOf'],
): StackEntry[] {
  return items.map((item) => {
    const { opacity, visible, mode } = item;
    if (item.item === 'layer') return { name: nameOf(item), opacity, visible, mode, src: sources.get(item) as string };
    const entries = entriesOf(item.layers, sources, nameOf);
    const name = nameOf({ ...item, item: 'layer', as: 'item', of: { what: 'blend' }, covers: undefined });
    return { name, opacity, visible, mode, isolated: item.isolated, entries };
  });
}
