import { encodeLight } from '#core/color/toWorking.ts';
import type { ReadingWish, Shot } from '#core/scene/scene.ts';
import { DecodeError } from './decodeError.ts';
import { assertSize, type DecodeSteps, type OpenPicture, STRIP_ROWS } from './picture.ts';
import type { RawDecoder, RawFacts, RawModule, RawSettings } from './rawModule.ts';

/** Bits of the sensor's orientation that swap width and height. */
const TURNED = 4;

/** Numbers of output spaces in the library. */
const [SRGB, BT2020] = [1, 8];

/** Sensors see more than sRGB holds. */
const spaceOf = ({ space }: ReadingWish) => (space === 'fitting' ? 'bt2020' : space);

/** Looks into a camera raw file. It is developed as little as possible: the camera's white balance, no brightening, linear
 * light in the primaries of the working space, then the sRGB curve.
 * @throws {DecodeError} */
export function openRaw(
  library: RawModule,
  bytes: Uint8Array,
  format: 'dng' | 'raw',
  reading: ReadingWish,
): OpenPicture {
  const raw = new library.LibRaw();
  try {
    // The library answers nothing at all when it cannot make sense of a file.
    raw.open(bytes.slice(), settingsOf(reading));
    const facts = raw.metadata(false);
    if (!facts) throw new DecodeError('damaged', 'the raw data make no sense');
    const turned = (facts.flip & TURNED) !== 0;
    const [width, height] = turned ? [facts.height, facts.width] : [facts.width, facts.height];
    assertSize(width, height);
    return {
      format,
      width,
      height,
      fileBits: 16,
      bits: 16,
      profile: null,
      headroom: 0,
      space: spaceOf(reading),
      exif: null,
      shot: shotOf(facts),
      decode: (steps) => decode(raw, width, height, steps),
      close: () => raw.delete(),
    };
  } catch (error) {
    raw.delete();
    throw asDecodeError(error);
  }
}

const settingsOf = ({ demosaic, space }: ReadingWish): RawSettings => ({
  outputBps: 16,
  gamm: [1, 1, 0, 0, 0, 0],
  noAutoBright: true,
  useCameraWb: true,
  outputColor: space === 'srgb' ? SRGB : BT2020,
  userQual: demosaic === 'fast' ? 0 : 3,
});

function decode(raw: RawDecoder, width: number, height: number, steps: DecodeSteps): void {
  let image: ReturnType<RawDecoder['imageData']>;
  try {
    image = raw.imageData();
  } catch (error) {
    throw asDecodeError(error);
  }
  if (image?.bits !== 16 || image.colors !== 3) throw new DecodeError('damaged', 'the raw data end too soon');
  if (image.width !== width || image.height !== height)
    throw new DecodeError('damaged', `${image.width} x ${image.height} pixels, not ${width} x ${height}`);
  const samples = new Uint16Array(image.data.buffer, image.data.byteOffset, width * height * 3);
  const strip = new Uint16Array(STRIP_ROWS * width * 3);
  steps.onStart();
  for (let at = 0; at < samples.length; at += strip.length) {
    if (steps.isCancelled()) throw new DecodeError('cancelled', `after ${at} of ${samples.length} samples`);
    const some = samples.subarray(at, at + strip.length);
    encodeLight(some, strip);
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
