import { DecodeError } from '#codecs/decodeError.ts';
import { formatOf } from '#codecs/deliver/formats/list.ts';
import type { RowKind } from '#codecs/deliver/rowSource.ts';
import type { WriteOptions } from '#codecs/deliver/writePicture.ts';
import type { Written } from '#codecs/deliver/writeTiff.ts';
import type { OutputSpace } from '#core/color/workingSpace.ts';
import type { Region, Size } from '#core/raster/size.ts';
import type { RenderRequest } from '#core/render/plan/request.ts';
import { type BandRing, bandsOf, createBandRing, markReady, stopRing } from '../bandRing.ts';
import type { Codec, FileWriter } from '../codec.ts';
import type { Engine } from '../engine.ts';
import { Lane } from '../lanes.ts';
import type { Outlet } from './sink.ts';

/** What renders and what writes. */
export interface Machine {
  engine: Engine;
  codec: Codec;
  /** The held scene that is written; the one at hand, if none is told. */
  held?: number;
}

/** Who waits: told the share that is done, 0..1, and able to stop it. */
export interface DeliveryWatch {
  onProgress?: (share: number) => void;
  signal?: AbortSignal;
}

/** A picture, or a plane, of the scene that is written. */
export interface BandedPicture {
  of: RenderRequest;
  /** What covers it, as a fourth channel. */
  covers?: RenderRequest;
  size: Size;
  region: Region;
  /** One for a plane, three, or four with what covers. */
  channels: 1 | 3 | 4;
  /** Where nothing is covered there is no colour either. */
  clears?: boolean;
}

/** One file of it. */
export interface BandedFile {
  space: OutputSpace;
  kind: RowKind;
  options: WriteOptions;
  outlet: Outlet;
}

/** What became of a file. */
export type BandedOutcome = { written: Written } | { error: unknown };

/** How long a writer may go on by itself once nobody wants its file any more. */
const GRACE_MS = 400;
/** Bands that are rendered at once, so that no thread is idle at the end of one. */
const AT_ONCE = 2;

interface Saving {
  ring: BandRing;
  writer: FileWriter;
  outlet: Outlet;
  /** Bands that it needs no longer. */
  taken: number;
  outcome: BandedOutcome | undefined;
}

/** Renders a picture once, band by band, and writes files of it meanwhile, each in a thread of its own as far as there are any.
 * What lies in memory is some bands.
 * @returns What became of each file, in their order.
 * @throws {DecodeError} `cancelled`
 * @throws {EngineError} when it cannot be rendered. */
export async function writeBands(
  machine: Machine,
  picture: BandedPicture,
  files: readonly BandedFile[],
  watch: DeliveryWatch = {},
): Promise<BandedOutcome[]> {
  const outcomes: BandedOutcome[] = [];
  while (outcomes.length < files.length) {
    const writers = machine.codec.writers(files.length - outcomes.length);
    const group = files.slice(outcomes.length, outcomes.length + Math.max(1, writers.length));
    const before = outcomes.length;
    const onProgress = (share: number) => watch.onProgress?.((before + share * group.length) / files.length);
    outcomes.push(...(await writeGroup(machine, picture, group, writers, { ...watch, onProgress })));
  }
  return outcomes;
}

async function writeGroup(
  { engine, held }: Machine,
  picture: BandedPicture,
  files: readonly BandedFile[],
  writers: readonly FileWriter[],
  { onProgress, signal }: DeliveryWatch,
): Promise<BandedOutcome[]> {
  if (signal?.aborted) throw new DecodeError('cancelled', 'before it was written');
  if (writers.length === 0) throw new DecodeError('stuck', 'all threads that write are busy');
  const bands = bandsOf(picture.region);
  let wake: () => void = () => undefined;
  const savings = files.map(
    ({ kind, outlet }, index): Saving => ({
      ring: createBandRing(bands, picture.channels, kind),
      writer: writers[index],
      outlet,
      taken: 0,
      outcome: undefined,
    }),
  );
  const tell = () => {
    const shares = savings.map(({ taken, outcome }, index) => {
      const { readsShare = 1 } = formatOf(files[index].options.file.format);
      return outcome ? 1 : (readsShare * taken) / bands.length;
    });
    onProgress?.(Math.min(...shares));
    wake();
  };
  const done = savings.map(async (saving, index) => {
    try {
      const written = await saving.writer.save(saving.ring, files[index].options, {
        onPiece: (bytes) => saving.outlet.put(bytes),
        onTaken: (band) => {
          saving.taken = band + 1;
          tell();
        },
      });
      await saving.outlet.flushed();
      if (written && 'header' in written) await saving.outlet.sink.patch(written.header);
      saving.outcome = { written };
    } catch (error) {
      saving.outcome = { error };
    }
    tell();
  });
  const stop = () => {
    engine.advance(Lane.Export);
    for (const { ring } of savings) stopRing(ring);
    setTimeout(() => {
      for (const { writer, outcome } of savings) if (!outcome) writer.cancel();
    }, GRACE_MS);
    wake();
  };
  signal?.addEventListener('abort', stop, { once: true });
  const isOver = () => signal?.aborted || savings.every(({ outcome }) => outcome);
  try {
    const slots = savings[0].ring.slots.length;
    const rendering: Promise<unknown>[] = [];
    for (let band = 0; band < bands.length && !isOver(); band++) {
      const waits = () => savings.some(({ taken, outcome }) => !outcome && taken <= band - slots);
      while (waits() && !isOver())
        await new Promise<void>((go) => {
          wake = go;
        });
      // One whose place takes no more ends by itself.
      await Promise.all(savings.map(({ outlet }) => outlet.room().catch(() => undefined)));
      if (isOver()) break;
      const forms = savings.map(({ ring }, index) => ({
        space: files[index].space,
        kind: files[index].kind,
        image: ring.slots[band % slots],
        clears: picture.clears,
      }));
      const { of, covers, size } = picture;
      const one = engine.write({ of, covers, held, size, region: bands[band], forms }).then((isDone) => {
        if (!isDone) throw new DecodeError('cancelled', `at band ${band}`);
        for (const { ring } of savings) markReady(ring, band);
      });
      one.catch(() => undefined); // it is looked at below
      rendering.push(one);
      if (rendering.length >= AT_ONCE) await rendering.shift();
    }
    await Promise.all(rendering);
    await Promise.all(done);
  } catch (error) {
    stop();
    await Promise.all(done);
    throw error;
  } finally {
    signal?.removeEventListener('abort', stop);
  }
  if (signal?.aborted) throw new DecodeError('cancelled', 'while it was written');
  return savings.map(({ outcome }) => outcome as BandedOutcome);
}
