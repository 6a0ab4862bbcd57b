import { DecodeError } from './decodeError.ts';
import { assertSize, type DecodeSteps, type OpenPicture, STRIP_ROWS } from './picture.ts';

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

/** Looks into a HEIC file. The library turns it upright and hands out 8 bits.
 * @throws {DecodeError} */
export function openHeic(library: HeifModule, bytes: Uint8Array): OpenPicture {
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
  const decode = async (steps: DecodeSteps) => handOut(await pixelsOf(image, width, height), width, steps);
  return {
    format: 'heic',
    width,
    height,
    fileBits: 8,
    bits: 8,
    profile: null,
    headroom: 0,
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

/** Hands out RGBA as RGB. */
function handOut(rgba: Uint8ClampedArray, width: number, steps: DecodeSteps): void {
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
    steps.onBytes(strip.subarray(0, at));
  }
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
