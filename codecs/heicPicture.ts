import type { ReadingWish } from '#core/scene/scene.ts';
import { planColours, type SampleMap } from './colourPlan.ts';
import { DecodeError } from './decodeError.ts';
import { isoProfile } from './isoColour.ts';
import { assertSize, type DecodeSteps, type OpenPicture, STRIP_ROWS } from './picture.ts';
import { bytesOf, samplesOf } from './rowPlan.ts';

/** A picture in the HEIC decoder library. */
interface HeifImage {
  get_width: () => number;
  get_height: () => number;
  display: (
    target: { data: Uint8ClampedArray; width: number; height: number },
    done: (filled: { data: Uint8ClampedArray } | null) => void,
  ) => void;
  free: () => void;
}

/** The HEIC decoder library, started. */
export interface HeifModule {
  HeifDecoder: new () => { decode: (bytes: Uint8Array) => HeifImage[] };
}

/** Looks into a HEIC file. The library turns it upright and hands out 8 bits in the file's own colours.
 * @throws {DecodeError} */
export function openHeic(library: HeifModule, bytes: Uint8Array, reading: ReadingWish): OpenPicture {
  const profile = isoProfile(bytes);
  if (profile && profile.kind !== 'matrix') throw new DecodeError('unsupported', `the profile ${profile.name}`);
  const { space, map } = planColours(profile, reading);
  const image = firstImage(library, bytes);
  if (!image) throw new DecodeError('damaged', 'there is no picture in it');
  const [width, height] = [image.get_width(), image.get_height()];
  const close = () => image.free();
  try {
    assertSize(width, height);
  } catch (error) {
    close();
    throw error;
  }
  const decode = async (steps: DecodeSteps) => handOut(await pixelsOf(image, width, height), width, map, steps);
  return {
    format: 'heic',
    width,
    height,
    fileBits: 8,
    bits: map ? 16 : 8,
    profile: profile?.name ?? null,
    headroom: 0,
    space,
    exif: null,
    shot: {},
    decode,
    close,
  };
}

function firstImage(library: HeifModule, bytes: Uint8Array): HeifImage | undefined {
  const speak = hush();
  try {
    return new library.HeifDecoder().decode(bytes)[0];
  } finally {
    speak();
  }
}

function pixelsOf(image: HeifImage, width: number, height: number): Promise<Uint8ClampedArray> {
  return new Promise((resolve, reject) => {
    const target = { data: new Uint8ClampedArray(width * height * 4), width, height };
    const speak = hush();
    image.display(target, (filled) => {
      speak();
      if (filled) resolve(filled.data);
      else reject(new DecodeError('damaged', 'the picture in it cannot be decoded'));
    });
  });
}

/** Hands out RGBA as RGB, its colours mapped. */
function handOut(rgba: Uint8ClampedArray, width: number, map: SampleMap | undefined, steps: DecodeSteps): void {
  const strip = new Uint8Array(STRIP_ROWS * width * 3);
  steps.onStart();
  for (let from = 0; from < rgba.length; from += STRIP_ROWS * width * 4) {
    if (steps.isCancelled()) throw new DecodeError('cancelled', `after ${from} of ${rgba.length} samples`);
    const to = Math.min(rgba.length, from + STRIP_ROWS * width * 4);
    let at = 0;
    for (let i = from; i < to; i += 4) {
      strip[at++] = rgba[i];
      strip[at++] = rgba[i + 1];
      strip[at++] = rgba[i + 2];
    }
    steps.onBytes(map ? mapped(strip.subarray(0, at), map) : strip.subarray(0, at));
  }
}

function mapped(pixels: Uint8Array, map: SampleMap): Uint8Array {
  const samples = samplesOf(pixels, 8);
  map(samples);
  return bytesOf(samples);
}

/** The library writes what it has to say to the console, where it would mix with the output of programs.
 * @returns What lets others write again. */
function hush(): () => void {
  const { log } = console;
  console.log = () => undefined;
  return () => {
    console.log = log;
  };
}
