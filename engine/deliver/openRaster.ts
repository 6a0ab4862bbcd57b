import { TextReader, ZipWriter } from '@zip.js/zip.js';
import { restOf } from '#codecs/deliver/formats/list.ts';
import { outputSize } from '#codecs/deliver/outputSize.ts';
import { type StackEntry, writeStackXml } from '#codecs/deliver/stackXml.ts';
import { type PlannedItem, type PlannedLayer, plannedLayers } from '#core/deliver/layers.ts';
import { asTheyAre, type LayeredResult, type LayeredWork, writeOne } from './layeredFile.ts';
import { Outlet, type Sink } from './sink.ts';

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
    { level: 0, useWebWorkers: false, extendedTimestamp: false, keepOrder: true },
  );
  // By the specification it comes first and is not compressed.
  await zip.add('mimetype', new TextReader('image/openraster'), { level: 0, dataDescriptor: false });
  const layers = [...plannedLayers(plan.layers)];
  const sources = new Map(layers.map((layer, index) => [layer, `data/layer${String(index).padStart(3, '0')}.png`]));
  const of = layers.length + 1;
  for (const [done, layer] of layers.entries())
    await addPicture(zip, sources.get(layer) as string, (file) =>
      writeOne(
        work,
        { of: layer.of, covers: layer.covers, size, region, channels: layer.covers ? 4 : 3, clears: true },
        [{ space, kind: 'codes', options: asTheyAre(region, space), outlet: file }],
        { done, of },
      ),
    );
  await zip.add('stack.xml', new TextReader(writeStackXml(region, entriesOf(plan.layers, sources, nameOf))), {
    level: 6,
  });
  const small = outputSize(region, { by: 'long', value: THUMBNAIL, enlarge: false });
  const merged = asTheyAre(region, space);
  const thumbnail = { ...asTheyAre(small, space, { ...restOf('png'), bits: 8 }), dither: true };
  // Written side by side, packed one after the other: the small one waits in memory.
  const kept = memorySink();
  await addPicture(zip, 'mergedimage.png', (file) =>
    writeOne(
      work,
      { of: { what: 'result' }, size, region, channels: 3 },
      [
        { space, kind: 'codes', options: { ...merged, ...work.texts }, outlet: file },
        { space, kind: 'codes', options: thumbnail, outlet: new Outlet(kept.sink) },
      ],
      { done: of - 1, of },
    ),
  );
  await zip.add('Thumbnails/thumbnail.png', new Blob(kept.parts).stream());
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

function memorySink(): { sink: Sink; parts: Uint8Array<ArrayBuffer>[] } {
  const parts: Uint8Array<ArrayBuffer>[] = [];
  const sink: Sink = {
    name: 'thumbnail',
    write: async (bytes) => void parts.push(bytes),
    patch: async () => undefined,
    finish: async () => undefined,
    discard: async () => undefined,
  };
  return { sink, parts };
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
