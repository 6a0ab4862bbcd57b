import { DecodeError } from '#codecs/decodeError.ts';
import { fileNameOf, freeName, type NameFacts } from '#codecs/deliver/fileName.ts';
import { formatOf } from '#codecs/deliver/formats/list.ts';
import { outputSize } from '#codecs/deliver/outputSize.ts';
import { endingOf, type Preset } from '#codecs/deliver/preset.ts';
import type { Texts } from '#codecs/deliver/texts.ts';
import type { WriteOptions } from '#codecs/deliver/writePicture.ts';
import { type LayerNote, type PlannedLayer, planLayers } from '#core/deliver/layers.ts';
import { deliveredPicture } from '#core/finish/delivered.ts';
import type { ItemId } from '#core/ids.ts';
import type { Region, Size } from '#core/raster/size.ts';
import { everyMask } from '#core/scene/places.ts';
import type { Scene } from '#core/scene/scene.ts';
import { asTheyAre } from './layeredFile.ts';
import { writeLayeredTiff } from './layeredTiff.ts';
import { writeOpenRaster } from './openRaster.ts';
import { metadataOf, pictureOptions, spaceOf } from './pictureOptions.ts';
import { Outlet, type Place } from './sink.ts';
import {
  type BandedFile,
  type BandedOutcome,
  type BandedPicture,
  type DeliveryWatch,
  type Machine,
  writeBands,
} from './writeBands.ts';

/** What is to be delivered, and by what names. */
export interface Delivery {
  scene: Scene;
  presets: readonly Preset[];
  texts: Texts;
  /** Masks that are written, by whose they are; all, if it is not told. */
  masksOf?: readonly ItemId[];
  /** What a layer, or an item's mask, is called. */
  nameOfItem: (id: ItemId) => string;
  nameOfFrame: (id: string) => string;
}

/** A file that was written. */
export interface DeliveredFile {
  preset: string;
  name: string;
  bytes: number;
  width: number;
  height: number;
  notes: readonly LayerNote[];
}

/** What became of a preset. */
export interface DeliveryReport {
  files: DeliveredFile[];
  failures: { preset: string; name: string; error: unknown }[];
}

/** One picture file that is to be written. */
interface PictureJob {
  preset: Preset;
  picture: BandedPicture;
  name: string;
  options: WriteOptions;
  file: Pick<BandedFile, 'space' | 'kind'>;
}

/** Where files go, by their preset. */
type PlaceOf = (preset: Preset) => Place;

/** Delivers a scene by presets: what shows the same picture is rendered once for all of them. A preset that fails harms no other, and
 * leaves nothing behind.
 * @param place - One for all files, or one for those of each preset.
 * @param watch - Also told of each file that is whole.
 * @throws {DecodeError} `cancelled`; what was finished before stays. */
export async function deliver(
  machine: Machine,
  delivery: Delivery,
  place: Place | PlaceOf,
  { onFile, ...watch }: DeliveryWatch & { onFile?: (file: DeliveredFile) => void } = {},
): Promise<DeliveryReport> {
  const report: DeliveryReport = { files: [], failures: [] };
  const placeOf = typeof place === 'function' ? place : () => place;
  const names = new Set<string>();
  const steps = stepsOf(delivery, names, report);
  const weights = steps.map(({ weight }) => weight);
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  let before = 0;
  // It may be worked on meanwhile.
  const held = machine.engine.hold(delivery.scene);
  try {
    for (const [index, step] of steps.entries()) {
      const start = before;
      const onProgress = (share: number) => watch.onProgress?.((start + share * weights[index]) / total);
      const known = report.files.length;
      try {
        await step.run({ ...machine, held }, placeOf, { ...watch, onProgress }, report);
      } finally {
        for (const file of report.files.slice(known)) onFile?.(file);
      }
      before += weights[index];
    }
  } finally {
    machine.engine.letGo(held);
    machine.codec.freshen();
  }
  return report;
}

interface Step {
  /** How long it takes, against others. */
  weight: number;
  run: (machine: Machine, placeOf: PlaceOf, watch: DeliveryWatch, report: DeliveryReport) => Promise<void>;
}

function stepsOf(delivery: Delivery, names: Set<string>, report: DeliveryReport): Step[] {
  const { scene, presets } = delivery;
  const delivered = deliveredPicture(scene);
  if (!delivered) return [];
  const { of, size, region } = delivered;
  const whole: BandedPicture = { of, size, region, channels: 3 };
  const steps: Step[] = [];
  const together: PictureJob[] = [];
  for (const preset of presets) {
    const job = (picture: BandedPicture, facts: Partial<NameFacts> = {}) => {
      try {
        return jobOf(delivery, preset, picture, names, facts);
      } catch (error) {
        report.failures.push({ preset: preset.id, name: preset.name, error });
        return undefined;
      }
    };
    if (preset.what === 'picture') together.push(...(job(whole) ?? []));
    else if (preset.what === 'layers') steps.push(layersStep(delivery, preset, whole, names));
    else {
      const pictures = preset.what === 'masks' ? maskPictures(delivery) : framePictures(delivery, preset);
      for (const [index, { picture, item }] of pictures.entries()) {
        const made = job(picture, { item, number: index + 1 });
        if (made) steps.push(picturesStep(picture, made));
      }
    }
  }
  return together.length > 0 ? [picturesStep(whole, together), ...steps] : steps;
}

/** Files of one picture. */
function picturesStep(picture: BandedPicture, jobs: readonly PictureJob[]): Step {
  return {
    weight: picture.region.width * picture.region.height * (1 + jobs.length),
    run: async (machine, placeOf, watch, report) => {
      const opened: { job: PictureJob; outlet: Outlet }[] = [];
      for (const job of jobs) {
        const { mediaType } = formatOf(job.options.file.format);
        try {
          opened.push({ job, outlet: new Outlet(await placeOf(job.preset).open(job.name, mediaType)) });
        } catch (error) {
          report.failures.push({ preset: job.preset.id, name: job.name, error });
        }
      }
      const drop = async ({ job, outlet }: (typeof opened)[number], error: unknown) => {
        await outlet.sink.discard().catch(() => undefined);
        report.failures.push({ preset: job.preset.id, name: job.name, error });
      };
      let outcomes: BandedOutcome[];
      try {
        const files = opened.map(({ job, outlet }) => ({ ...job.file, options: job.options, outlet }));
        outcomes = files.length > 0 ? await writeBands(machine, picture, files, watch) : [];
      } catch (error) {
        for (const each of opened) await drop(each, error);
        if (isCancelled(error)) throw error;
        return;
      }
      for (const [index, each] of opened.entries()) {
        const outcome = outcomes[index];
        try {
          if ('error' in outcome) throw outcome.error;
          await each.outlet.finish();
        } catch (error) {
          await drop(each, error);
          continue;
        }
        await reportFile(each.job, each.outlet, placeOf(each.job.preset), report);
      }
    },
  };
}

const isCancelled = (error: unknown): boolean => error instanceof DecodeError && error.code === 'cancelled';

/** Lists a file that is whole, and writes its texts beside it where they are wanted. */
async function reportFile(
  { preset, options }: PictureJob,
  outlet: Outlet,
  place: Place,
  report: DeliveryReport,
): Promise<void> {
  const file = { preset: preset.id, notes: [], ...options.size };
  report.files.push({ ...file, name: outlet.sink.name, bytes: outlet.bytes });
  const { xmp } = options;
  if (!preset.shotData.sidecar || !xmp) return;
  const name = outlet.sink.name.replace(/\.[^.]+$/, '.xmp');
  let beside: Outlet | undefined;
  try {
    beside = new Outlet(await place.open(name, 'application/rdf+xml'));
    beside.put(xmp as Uint8Array<ArrayBuffer>);
    await beside.finish();
    report.files.push({ ...file, name: beside.sink.name, bytes: beside.bytes });
  } catch (error) {
    await beside?.sink.discard().catch(() => undefined);
    report.failures.push({ preset: preset.id, name, error });
  }
}

function layersStep(delivery: Delivery, preset: Preset, { size, region }: BandedPicture, names: Set<string>): Step {
  const { scene, nameOfItem } = delivery;
  const plan = planLayers(scene);
  // Layers are not turned: they lie as the scene does.
  const isTurned = plan.notes.some(({ code }) => code === 'not-turned');
  const sceneRegion: Region = { x: 0, y: 0, width: scene.frames[0].width, height: scene.frames[0].height };
  const part = isTurned ? { size: sceneRegion, region: sceneRegion } : { size, region };
  const count = plan.layers.length + 1;
  return {
    weight: part.region.width * part.region.height * 2 * count,
    run: async (machine, placeOf, watch, report) => {
      const name = nameFor(delivery, preset, part.region, names);
      const nameOf = ({ as, id }: PlannedLayer) =>
        id !== undefined ? nameOfItem(id) : as === 'base' ? delivery.nameOfFrame(scene.base as string) : 'Finish';
      let outlet: Outlet | undefined;
      try {
        const mediaType = preset.layersAs === 'ora' ? 'image/openraster' : 'image/tiff';
        outlet = new Outlet(await placeOf(preset).open(name, mediaType));
        const metadata = metadataOf(preset, scene, delivery.texts, scene.workingSpace);
        const work = { machine, scene, plan, nameOf, ...part, texts: metadata, outlet, watch };
        const { notes } = preset.layersAs === 'ora' ? await writeOpenRaster(work) : await writeLayeredTiff(work);
        await outlet.finish();
        const { width, height } = part.region;
        report.files.push({ preset: preset.id, name: outlet.sink.name, bytes: outlet.bytes, width, height, notes });
      } catch (error) {
        await outlet?.sink.discard().catch(() => undefined);
        if (isCancelled(error)) throw error;
        report.failures.push({ preset: preset.id, name, error });
      }
    },
  };
}

function maskPictures({ scene, masksOf, nameOfItem }: Delivery): { picture: BandedPicture; item: string }[] {
  const size = sizeOf(scene);
  const region = { x: 0, y: 0, ...size };
  const items = everyMask(scene).filter(({ id }) => !masksOf || masksOf.includes(id));
  return items.map(({ id, of }) => ({
    picture: { of: { what: of, at: id }, size, region, channels: 1 },
    item: of === 'mask' ? nameOfItem(id) : `${nameOfItem(id)} ${of}`,
  }));
}

function framePictures(
  { scene, nameOfFrame }: Delivery,
  { frames }: Preset,
): { picture: BandedPicture; item: string }[] {
  const size = sizeOf(scene);
  const region = { x: 0, y: 0, ...size };
  return scene.frames.map(({ id }) => ({
    picture: { of: { what: 'frame', at: id, taken: frames === 'taken' }, size, region, channels: 3 },
    item: nameOfFrame(id),
  }));
}

const sizeOf = ({ frames: [first] }: Scene): Size => ({ width: first.width, height: first.height });

/** The jobs of a picture by a preset.
 * @throws {DecodeError} `unsupported` when its file cannot hold it. */
function jobOf(
  delivery: Delivery,
  preset: Preset,
  picture: BandedPicture,
  names: Set<string>,
  facts: Partial<NameFacts>,
): PictureJob[] {
  const isPlane = picture.channels === 1;
  const format = formatOf(preset.file.format);
  if (isPlane && preset.file.format !== 'tiff' && preset.file.format !== 'png')
    throw new DecodeError('unsupported', 'masks are written to TIFF or PNG');
  const isLight = format.samples(preset.file) === 'light' && !isPlane;
  // Planes, and frames, are as large as they are: they are to fit over each other.
  const isFull = preset.what !== 'picture';
  const size = isFull ? { ...picture.region } : outputSize(picture.region, preset.size);
  const name = nameFor(delivery, preset, size, names, facts);
  const { scene, texts } = delivery;
  const space = spaceOf(preset, scene);
  const plane = asTheyAre(size, space, { ...preset.file, bits: 16 });
  const made = { ...pictureOptions(preset, scene, size), ...metadataOf(preset, scene, texts, space) };
  const options: WriteOptions = isPlane ? plane : isFull ? { ...made, sharpening: plane.sharpening } : made;
  return [{ preset, picture, name, options, file: { space, kind: isLight ? 'light' : 'codes' } }];
}

/** The name of a file, which no other of the run has. */
function nameFor(
  { scene }: Delivery,
  preset: Preset,
  { width, height }: Size,
  names: Set<string>,
  facts: Partial<NameFacts> = {},
): string {
  const { shot } = scene.frames.find(({ id }) => id === scene.base) ?? scene.frames[0];
  const several = preset.what === 'masks' || preset.what === 'frames';
  const isNamed = /\{(item|number)\}/.test(preset.pattern);
  const pattern = several && !isNamed ? `${preset.pattern} {item}` : preset.pattern;
  const all = { scene: scene.name, preset: preset.name, takenAt: shot.takenAt, width, height, ...facts };
  const ending = `.${endingOf(preset)}`;
  const name = freeName(fileNameOf(pattern, all), names, ending) + ending;
  names.add(name.toLowerCase());
  return name;
}
