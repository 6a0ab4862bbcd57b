import { restOf } from '#codecs/deliver/formats/list.ts';
import {
  type Directory,
  HEADER_BYTES,
  layOutPages,
  moved,
  numbersField,
  shortsField,
  textField,
} from '#codecs/deliver/tiffFile.ts';
import type { WrittenPart } from '#codecs/deliver/writeTiff.ts';
import { plannedLayers } from '#core/deliver/layers.ts';
import { asTheyAre, type LayeredResult, type LayeredWork, writeOne } from './layeredFile.ts';
import type { BandedPicture } from './writeBands.ts';

/** TIFF 6.0: NewSubfileType, PageName, PageNumber, ExtraSamples. */
const TAGS = { subfile: 254, name: 285, number: 297, extra: 338 };
/** One page of several. */
const IS_PAGE = 2;
/** A fourth channel that says what covers, and is not multiplied into the others. */
const UNASSOCIATED_ALPHA = 2;

/** Writes a scene's layers as pages of one TIFF: the picture first, then each layer in full size with what covers it, then the masks by
 * themselves in grey. Pixels are written as they come, what leads to them at the end; past four gigabytes it is a BigTIFF.
 * @param most - Bytes that a classic file may have.
 * @throws {DecodeError} `cancelled` */
export async function writeLayeredTiff(work: LayeredWork, most?: number): Promise<LayeredResult> {
  const { scene, plan, size, region, outlet, nameOf } = work;
  const space = scene.workingSpace;
  const layers = [...plannedLayers(plan.layers)];
  const masks = layers.filter(({ covers }) => covers);
  const pictures: { name: string; picture: BandedPicture; isFlat?: boolean }[] = [
    { name: scene.name, picture: { of: { what: 'result' }, size, region, channels: 3 }, isFlat: true },
    ...layers.map((layer) => ({
      name: nameOf(layer),
      picture: { of: layer.of, covers: layer.covers, size, region, channels: layer.covers ? 4 : 3 } as BandedPicture,
    })),
    ...masks.map((layer) => ({
      name: `${nameOf(layer)}, mask`,
      picture: { of: layer.covers, size, region, channels: 1 } as BandedPicture,
    })),
  ];
  // Where the header will be, once it is known where it leads to.
  outlet.put(new Uint8Array(HEADER_BYTES));
  const pages: Directory[] = [];
  let at = HEADER_BYTES;
  for (const [done, { name, picture, isFlat }] of pictures.entries()) {
    const options = { ...asTheyAre(region, space, restOf('tiff')), isPart: true };
    const described = isFlat ? { ...options, ...work.texts } : options;
    const file = { space, kind: 'codes', options: described, outlet } as const;
    const [part] = (await writeOne(work, picture, [file], { done, of: pictures.length })) as WrittenPart[];
    const page = [
      ...moved(part.page.fields, at),
      numbersField(TAGS.subfile, [IS_PAGE]),
      textField(TAGS.name, name),
      shortsField(TAGS.number, [done, pictures.length]),
      ...(picture.channels === 4 ? [shortsField(TAGS.extra, [UNASSOCIATED_ALPHA])] : []),
    ];
    pages.push({ fields: lastOfEach(page), inner: part.page.inner });
    at += part.bytes;
  }
  const { header, tail } = layOutPages(pages, at, most);
  outlet.put(tail);
  await outlet.flushed();
  await outlet.sink.patch(header);
  return { notes: plan.notes };
}

/** The fields, the last of each tag. */
const lastOfEach = (fields: Directory['fields']): Directory['fields'] => [
  ...new Map(fields.map((field) => [field.tag, field])).values(),
];
