import { XMLParser } from 'fast-xml-parser';
import type { Size } from '#core/raster/size.ts';
import { DecodeError } from '../decodeError.ts';
import { assertSize } from '../picture.ts';
import { BlobReader, BlobWriter, type Entry, TextWriter, ZipReader } from '../zip.ts';

/** A layer of an OpenRaster file, or a stack of them. */
export type ReadEntry = {
  name: string;
  opacity: number;
  visible: boolean;
  /** The operator, as the file names it. */
  mode: string;
} & ({ src: string; x: number; y: number } | { isolated: boolean; entries: ReadEntry[] });

/** What an OpenRaster file holds. */
export interface OpenRasterFile extends Size {
  /** From below upwards. */
  entries: ReadEntry[];
  /** The picture of a layer.
   * @throws {DecodeError} */
  picture: (src: string) => Promise<Blob>;
  close: () => Promise<void>;
}

/** Far more than anybody paints, little enough to be harmless. */
const MOST_XML_BYTES = 8e6;
const MOST_PICTURE_BYTES = 4e9;
const MOST_LAYERS = 200;
const MOST_DEPTH = 30;
const SRC_STACK = 'stack.xml';

type Node = Record<string, unknown>;

/** Opens an OpenRaster file (freedesktop.org, 0.0.6). Only what its own `stack.xml` names is looked at.
 * @throws {DecodeError} `unknown-format` when it is none, `damaged` when it is broken or leads elsewhere, `too-large`. */
export async function openRasterFile(file: Blob): Promise<OpenRasterFile> {
  const zip = new ZipReader(new BlobReader(file));
  try {
    const entries = new Map((await listed(zip)).map((entry) => [entry.filename, entry]));
    const stack = entries.get(SRC_STACK);
    if (!stack || stack.directory) throw new DecodeError('unknown-format', 'it has no stack.xml');
    if (stack.uncompressedSize > MOST_XML_BYTES)
      throw new DecodeError('too-large', `its stack.xml has ${stack.uncompressedSize} bytes`);
    const xml = await unpacked(stack.filename, () => stack.getData(new TextWriter(), { checkSignature: true }));
    const picture = async (src: string): Promise<Blob> => {
      const entry = isPlainPath(src) ? entries.get(src) : undefined;
      if (!entry || entry.directory) throw new DecodeError('damaged', `a layer's picture ${src} is not in it`);
      if (entry.uncompressedSize > MOST_PICTURE_BYTES)
        throw new DecodeError('too-large', `${src} has ${entry.uncompressedSize} bytes`);
      return unpacked(src, () => entry.getData(new BlobWriter('image/png'), { checkSignature: true }));
    };
    return { ...parsed(xml), picture, close: async () => void (await zip.close()) };
  } catch (error) {
    await zip.close();
    throw error;
  }
}

async function listed(zip: ZipReader<Blob>): Promise<Entry[]> {
  try {
    return await zip.getEntries();
  } catch (error) {
    throw new DecodeError('unknown-format', (error as Error).message);
  }
}

async function unpacked<T>(name: string, read: () => Promise<T>): Promise<T> {
  try {
    return await read();
  } catch (error) {
    throw new DecodeError('damaged', `${name}: ${(error as Error).message}`);
  }
}

/** A path that stays within the file. */
const isPlainPath = (src: string): boolean =>
  !/^[/\\]|\\|^[a-z]+:/i.test(src) && !src.split('/').some((part) => part === '..' || part === '.');

function parsed(xml: string): Size & { entries: ReadEntry[] } {
  // Entities of a document's own can grow without end; the format needs none.
  if (/<!DOCTYPE|<!ENTITY/i.test(xml)) throw new DecodeError('damaged', 'its stack.xml declares entities');
  const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '', preserveOrder: true });
  let document: Node[];
  try {
    document = parser.parse(xml) as Node[];
  } catch (error) {
    throw new DecodeError('damaged', `stack.xml: ${(error as Error).message}`);
  }
  const image = document.find((node) => 'image' in node);
  const stack = image && (image.image as Node[]).find((node) => 'stack' in node);
  if (!image || !stack) throw new DecodeError('damaged', 'its stack.xml has no stack');
  const size = { width: Number(attribute(image, 'w')), height: Number(attribute(image, 'h')) };
  if (!Number.isInteger(size.width) || !Number.isInteger(size.height))
    throw new DecodeError('damaged', 'its stack.xml says no size');
  assertSize(size.width, size.height);
  const count = { layers: 0 };
  return { ...size, entries: entriesOf(stack.stack as Node[], count, 0) };
}

const attribute = (node: Node, name: string): string | undefined =>
  (node[':@'] as Record<string, string> | undefined)?.[name];

/** @returns From below upwards; a file has the uppermost first. */
function entriesOf(nodes: readonly Node[], count: { layers: number }, depth: number): ReadEntry[] {
  if (depth > MOST_DEPTH) throw new DecodeError('too-large', `its stacks lie more than ${MOST_DEPTH} deep`);
  const found: ReadEntry[] = [];
  for (const node of nodes) {
    const shared = {
      name: attribute(node, 'name') ?? '',
      opacity: shareOf(attribute(node, 'opacity')),
      visible: attribute(node, 'visibility') !== 'hidden',
      mode: attribute(node, 'composite-op') ?? 'svg:src-over',
    };
    if ('layer' in node) {
      if (++count.layers > MOST_LAYERS) throw new DecodeError('too-large', `it has more than ${MOST_LAYERS} layers`);
      const src = attribute(node, 'src') ?? '';
      if (!isPlainPath(src)) throw new DecodeError('damaged', `a layer's picture leads elsewhere: ${src}`);
      found.push({ ...shared, src, x: placeOf(attribute(node, 'x')), y: placeOf(attribute(node, 'y')) });
    } else if ('stack' in node) {
      const isolated = attribute(node, 'isolation') !== 'auto' || shared.opacity < 1 || shared.mode !== 'svg:src-over';
      found.push({ ...shared, isolated, entries: entriesOf(node.stack as Node[], count, depth + 1) });
    }
  }
  return found.reverse();
}

function shareOf(text: string | undefined): number {
  const value = Number(text ?? 1);
  return Number.isFinite(value) ? Math.min(1, Math.max(0, value)) : 1;
}

function placeOf(text: string | undefined): number {
  const value = Math.round(Number(text ?? 0));
  return Number.isFinite(value) && Math.abs(value) < 1e6 ? value : 0;
}
