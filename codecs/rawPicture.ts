import { encodeLight, sensorTo, type ToWorking } from '#core/color/toWorking.ts';
import { betweenSpaces } from '#core/color/workingSpace.ts';
import { multiply3 } from '#core/raster/matrix3.ts';
import type { Size } from '#core/raster/size.ts';
import type { Reading, ReadingWish } from '#core/reading.ts';
import type { Shot } from '#core/scene/frame.ts';
import { DecodeError } from './decodeError.ts';
import { assertSize, type DecodeSteps, type OpenPicture, STRIP_ROWS } from './picture.ts';
import { continueHighlights } from './rawHighlights.ts';
import type { RawDecoder, RawFacts, RawModule, RawSettings } from './rawModule.ts';
import { assertProportions, scaled } from './scaling.ts';
import type { Keep, VipsModule } from './vipsModule.ts';

/** Bits of the sensor's orientation that swap width and height. */
const TURNED = 4;

/** Numbers of output spaces in the library. */
const [SENSOR, SRGB, BT2020] = [0, 1, 8];

/** Sensors see more than sRGB holds. */
const spaceOf = ({ space }: ReadingWish) => (space === 'fitting' ? 'bt2020' : space);

/** Looks into a camera raw file. It is developed as little as possible: the camera's white balance, no brightening, linear
 * light in the primaries of the working space, then the sRGB curve. Lights that clip in one or two colours of the sensor are kept, if the
 * reading says so: the others say how bright they are, and colours around them which hue they have.
 * @param vips - The general library, which scales what is to be scaled.
 * @throws {DecodeError} */
export function openRaw(
  library: RawModule,
  bytes: Uint8Array,
  format: 'dng' | 'raw',
  reading: ReadingWish,
  vips: () => Promise<VipsModule>,
): OpenPicture {
  let raw = new library.LibRaw();
  try {
    let facts = factsOf(raw, bytes, settingsOf(reading));
    const isContinued = reading.highlights === 'continued';
    const sensor = isContinued ? sensorOf(facts, spaceOf(reading)) : undefined;
    if (isContinued && !sensor) {
      // Sensors of other colours the library knows better.
      raw.delete();
      raw = new library.LibRaw();
      facts = factsOf(raw, bytes, settingsOf({ ...reading, highlights: 'rebuilt' }));
    }
    const turned = (facts.flip & TURNED) !== 0;
    const own = turned ? { width: facts.height, height: facts.width } : { width: facts.width, height: facts.height };
    assertSize(own.width, own.height);
    const { scaleTo } = reading;
    const { width, height } = scaleTo ?? own;
    if (scaleTo) assertProportions(own, scaleTo);
    const isScaled = width !== own.width || height !== own.height;
    return {
      format,
      width,
      height,
      fileBits: 16,
      bits: 16,
      profile: null,
      headroom: reading.highlights === 'cut' ? 0 : headroomOf(facts),
      space: spaceOf(reading),
      exif: null,
      shot: shotOf(facts),
      decode: async (steps) => {
        const light = lightOf(raw, own);
        if (sensor) continueHighlights(light, own, sensor.clip);
        const samples = isScaled ? scaledLight(await vips(), light, own, { width, height }) : light;
        handOut(samples, width, sensor?.toSpace ?? encodeLight, steps);
      },
      close: () => raw.delete(),
    };
  } catch (error) {
    raw.delete();
    throw asDecodeError(error);
  }
}

/** @throws {DecodeError} */
function factsOf(raw: RawDecoder, bytes: Uint8Array, settings: RawSettings): RawFacts {
  // The library answers nothing at all when it cannot make sense of a file.
  raw.open(bytes.slice(), settings);
  const facts = raw.metadata(true);
  if (!facts) throw new DecodeError('damaged', 'the raw data make no sense');
  return facts;
}

/** Where a sensor's colours clip once all is darkened until none of them is cut, 0..65535, and what leads from them to a space; undefined for
 * sensors that are not of red, green and blue, or of which that is not known. */
function sensorOf(
  { colors, color_data }: RawFacts,
  space: Reading['space'],
): { clip: [number, number, number]; toSpace: ToWorking } | undefined {
  const factors = whiteFactors({ color_data });
  const rows = Array.from(color_data?.rgb_cam ?? [], (row) => Array.from(row).slice(0, 3));
  if (colors !== 3 || !factors || rows.length !== 3) return undefined;
  const most = Math.max(...factors);
  const [red, green, blue] = factors.map((factor) => (65535 * factor) / most);
  return { clip: [red, green, blue], toSpace: sensorTo(multiply3(betweenSpaces('srgb', space), rows.flat())) };
}

/** Factors of the camera's white balance for red, green and blue; undefined when they are not all known. */
function whiteFactors({ color_data }: Pick<RawFacts, 'color_data'>): number[] | undefined {
  const factors = Array.from(color_data?.cam_mul ?? []).slice(0, 3);
  return factors.length === 3 && factors.every((factor) => factor > 0) ? factors : undefined;
}

const settingsOf = ({ demosaic, space, highlights }: ReadingWish): RawSettings => ({
  outputBps: 16,
  gamm: [1, 1, 0, 0, 0, 0],
  noAutoBright: true,
  useCameraWb: true,
  outputColor: highlights === 'continued' ? SENSOR : space === 'srgb' ? SRGB : BT2020,
  userQual: demosaic === 'fast' ? 0 : 3,
  // In the middle between lights that go grey and lights that keep a tint (Coffin's recovery, as the library documents it).
  highlight: ({ cut: 0, continued: 1, rebuilt: 5 } as const)[highlights],
});

/** Stops by which the library darkens light so that the colour that is multiplied most comes to white, rather than the one that is least. */
function headroomOf(facts: RawFacts): number {
  const factors = whiteFactors(facts);
  return factors ? Math.log2(Math.max(...factors) / Math.min(...factors)) : 0;
}

/** Linear light, developed.
 * @throws {DecodeError} */
function lightOf(raw: RawDecoder, { width, height }: Size): Uint16Array {
  let image: ReturnType<RawDecoder['imageData']>;
  try {
    image = raw.imageData();
  } catch (error) {
    throw asDecodeError(error);
  }
  if (image?.bits !== 16 || image.colors !== 3) throw new DecodeError('damaged', 'the raw data end too soon');
  if (image.width !== width || image.height !== height)
    throw new DecodeError('damaged', `${image.width} x ${image.height} pixels, not ${width} x ${height}`);
  return new Uint16Array(image.data.buffer, image.data.byteOffset, width * height * 3);
}

function scaledLight(vips: VipsModule, light: Uint16Array, { width, height }: Size, to: Size): Uint16Array {
  const kept: { delete(): void }[] = [];
  const keep: Keep = (object) => {
    kept.push(object);
    return object;
  };
  try {
    const image = keep(vips.Image.newFromMemory(light, width, height, 3, vips.BandFormat.ushort));
    const bytes = scaled(image, to, keep).writeToMemory();
    return new Uint16Array(bytes.buffer as ArrayBuffer, bytes.byteOffset, to.width * to.height * 3);
  } finally {
    for (const object of kept.reverse()) object.delete();
  }
}

function handOut(samples: Uint16Array, width: number, toSpace: ToWorking, steps: DecodeSteps): void {
  const strip = new Uint16Array(STRIP_ROWS * width * 3);
  steps.onStart();
  for (let at = 0; at < samples.length; at += strip.length) {
    if (steps.isCancelled()) throw new DecodeError('cancelled', `after ${at} of ${samples.length} samples`);
    const some = samples.subarray(at, at + strip.length);
    toSpace(some, strip);
    steps.onBytes(new Uint8Array(strip.buffer, 0, some.byteLength));
  }
}

function shotOf({ shutter, aperture, iso_speed, timestamp }: RawFacts): Partial<Shot> {
  const positive = (value: number) => (Number.isFinite(value) && value > 0 ? value : null);
  return {
    exposureTime: positive(shutter),
    fNumber: positive(aperture),
    iso: positive(iso_speed),
    takenAt: positive(timestamp) === null ? null : new Date(timestamp * 1000).toISOString().slice(0, 19),
  };
}

/** The library throws numbers, texts or errors. */
function asDecodeError(error: unknown): DecodeError {
  if (error instanceof DecodeError) return error;
  return new DecodeError('damaged', error instanceof Error ? error.message : String(error));
}
