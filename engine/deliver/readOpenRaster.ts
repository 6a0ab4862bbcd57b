import { DecodeError } from '#codecs/decodeError.ts';
import { openRasterFile, type ReadEntry } from '#codecs/deliver/openRasterFile.ts';
import { LAYER_MODES } from '#core/deliver/layers.ts';
import { GroupId, LayerId } from '#core/ids.ts';
import { plainPart } from '#core/parts/partBase.ts';
import type { Size } from '#core/raster/size.ts';
import { FIRST_READING, PLAIN_READING } from '#core/reading.ts';
import { fullMask } from '#core/scene/edits/masks.ts';
import type { Frame } from '#core/scene/frame.ts';
import { type Item, type Mode, newLayer } from '#core/scene/item.ts';
import { type Mask, maskOfParts } from '#core/scene/mask.ts';
import { newScene, type Scene, spaceOfFrames } from '#core/scene/scene.ts';
import type { Codec } from '../codec.ts';
import type { DeliveryWatch } from './writeBands.ts';

/** A scene that was made of another program's layers. */
export interface ReadLayers {
  scene: Scene;
  /** Files of its frames and masks, by SHA-256. */
  originals: Map<string, Blob>;
  /** Modes that we have not: such layers are laid normally. */
  unknownModes: string[];
}

const MODES = new Map(Object.entries(LAYER_MODES).map(([mode, name]) => [name, mode as Mode]));

/** Reads an OpenRaster file: its layers become layers of frames, what they cover their masks, its stacks groups. The lowest layer is the base
 * if it covers the canvas, else a black one is.
 * @throws {DecodeError} */
export async function readOpenRaster(
  codec: Codec,
  file: Blob,
  name: string,
  { onProgress, signal }: DeliveryWatch = {},
): Promise<ReadLayers> {
  const opened = await openRasterFile(file);
  const read = new Layers(codec, opened, signal);
  const total = countOf(opened.entries) + 1;
  read.onLayer = (done) => onProgress?.(done / total);
  try {
    const [lowest, ...rest] = opened.entries;
    const base = lowest && (await read.asBase(lowest));
    const { frame } = base ?? (await read.frame(undefined, 'Black', { x: 0, y: 0 }));
    const stack = await read.items(base ? rest : opened.entries);
    const frames = [...read.frames.values()];
    const scene: Scene = {
      ...newScene(name),
      workingSpace: spaceOfFrames(frames),
      base: frame.id,
      frames: frames.map((each) => ({ ...each, moment: '' })),
      stack,
    };
    return { scene, originals: read.originals, unknownModes: [...read.unknownModes] };
  } finally {
    await opened.close();
  }
}

const countOf = (entries: readonly ReadEntry[]): number =>
  entries.reduce((sum, entry) => sum + ('entries' in entry ? countOf(entry.entries) : 1), 0);

/** Layers of a file on their way to be frames. */
class Layers {
  readonly frames = new Map<string, Frame>();
  readonly originals = new Map<string, Blob>();
  readonly unknownModes = new Set<string>();
  onLayer: (done: number) => void = () => undefined;
  readonly #codec: Codec;
  readonly #file: Size & { picture: (src: string) => Promise<Blob> };
  readonly #signal: AbortSignal | undefined;
  #done = 0;
  #ids = 0;

  constructor(codec: Codec, file: Size & { picture: (src: string) => Promise<Blob> }, signal: AbortSignal | undefined) {
    this.#codec = codec;
    this.#file = file;
    this.#signal = signal;
  }

  /** The lowest layer as the base; undefined for one that does not cover the canvas as it is. */
  async asBase(entry: ReadEntry): Promise<{ frame: Frame } | undefined> {
    const isPlain = 'src' in entry && entry.visible && entry.opacity === 1 && entry.mode === 'svg:src-over';
    if (!isPlain) return undefined;
    const { frame, covers } = await this.frame(entry.src, entry.name, entry);
    if (!covers) return { frame };
    // It is read once more as a layer.
    this.frames.delete(frame.id);
    this.#done--;
    return undefined;
  }

  async items(entries: readonly ReadEntry[]): Promise<Item[]> {
    const items: Item[] = [];
    for (const entry of entries) items.push(await this.#item(entry));
    return items;
  }

  async #item(entry: ReadEntry): Promise<Item> {
    const { opacity, visible } = entry;
    const shared = { opacity, visible, mode: this.#modeOf(entry.mode), label: entry.name.slice(0, 80), guard: null };
    const number = ++this.#ids;
    if ('entries' in entry) {
      const items = await this.items(entry.entries);
      const id = GroupId.parse(`group-${number}`);
      return {
        item: 'group',
        id,
        items,
        isolated: entry.isolated,
        adjustments: [],
        mask: fullMask(`whole-${id}`, null),
        ...shared,
      };
    }
    const { frame, covers } = await this.frame(entry.src, entry.name, entry);
    const id = LayerId.parse(`layer-${number}`);
    return {
      ...newLayer(id, frame.id),
      ...shared,
      mask: covers ?? fullMask(`whole-${id}`, null),
      yieldsToBase: false,
    };
  }

  #modeOf(name: string): Mode {
    const mode = MODES.get(name);
    if (mode === undefined) this.unknownModes.add(name);
    return mode ?? 'normal';
  }

  /** A layer's picture as a frame, and what it covers as a mask.
   * @param src - Undefined for a black canvas. */
  async frame(
    src: string | undefined,
    name: string,
    at: { x: number; y: number },
  ): Promise<{ frame: Frame; covers: Mask | undefined }> {
    if (this.#signal?.aborted) throw new DecodeError('cancelled', 'before a layer was read');
    const { width, height } = this.#file;
    const bytes = src === undefined ? undefined : await (await this.#file.picture(src)).arrayBuffer();
    const { colour, covers } = await this.#codec.splitLayer(bytes, { width, height }, { x: at.x, y: at.y });
    const title = name.trim() || `Layer ${this.#done + 1}`;
    const frame = await this.#kept(colour, `${title}.png`, FIRST_READING);
    this.frames.set(frame.id, { ...frame, label: title.slice(0, 40) });
    const mask = covers && (await this.#maskOf(covers, title));
    this.onLayer(++this.#done);
    return { frame, covers: mask };
  }

  async #maskOf(covers: Uint8Array<ArrayBuffer>, title: string): Promise<Mask> {
    const { file } = await this.#kept(covers, `${title} mask.png`, PLAIN_READING);
    return maskOfParts([{ kind: 'picture', ...plainPart('picture'), file, scaleTo: null }]);
  }

  async #kept(bytes: Uint8Array<ArrayBuffer>, name: string, reading: typeof FIRST_READING): Promise<Frame> {
    const blob = new Blob([bytes], { type: 'image/png' });
    const frame = await this.#codec.inspect({ file: bytes.buffer, name, reading });
    this.originals.set(frame.file.sha256, blob);
    return frame;
  }
}
