import type Vips from 'wasm-vips';
import { DecodeError } from './decodeError.ts';
import { isoDepth, isoProfileBytes } from './isoColour.ts';
import { assertSize } from './picture.ts';
import type { Keep, VipsModule } from './vipsModule.ts';

/** A picture in the HEIC decoder library. */
interface HeifImage {
  handle: unknown;
  get_width: () => number;
  get_height: () => number;
  free: () => void;
}

/** Decoded pixels in the library. */
interface HeifPixels {
  code?: unknown;
  image: unknown;
  channels?: (Rows & { id: unknown; width: number; bits_per_pixel: number })[];
}

interface Rows {
  data: Uint8Array;
  /** Bytes from one row to the next. */
  stride: number;
  height: number;
}

/** The HEIC decoder library, started. */
export interface HeifModule {
  HeifDecoder: new () => { decode: (bytes: Uint8Array) => HeifImage[] };
  heif_colorspace: { heif_colorspace_RGB: unknown };
  heif_chroma: { heif_chroma_interleaved_RGB: unknown; heif_chroma_interleaved_RRGGBB_LE: unknown };
  heif_channel: { heif_channel_interleaved: unknown };
  heif_js_decode_image2: (handle: unknown, space: unknown, chroma: unknown) => HeifPixels | Promise<HeifPixels>;
  heif_image_release: (image: unknown) => void;
}

/** Reads the first picture of a HEIC file into the general library, upright, in the file's own colours, with its profile.
 * @throws {DecodeError} */
export async function readHeic(heif: HeifModule, vips: VipsModule, bytes: Uint8Array, keep: Keep): Promise<Vips.Image> {
  const speak = hush();
  try {
    const picture = new heif.HeifDecoder().decode(bytes)[0];
    if (!picture) throw new DecodeError('damaged', 'there is no picture in it');
    try {
      assertSize(picture.get_width(), picture.get_height());
      const image = await decode(heif, vips, picture, isoDepth(bytes) > 8, keep);
      const profile = isoProfileBytes(bytes);
      if (profile) image.setBlob('icc-profile-data', profile as unknown as Vips.Blob);
      return image;
    } finally {
      picture.free();
    }
  } finally {
    speak();
  }
}

async function decode(
  heif: HeifModule,
  vips: VipsModule,
  { handle }: HeifImage,
  isDeep: boolean,
  keep: Keep,
): Promise<Vips.Image> {
  const { heif_chroma_interleaved_RGB, heif_chroma_interleaved_RRGGBB_LE } = heif.heif_chroma;
  const chroma = isDeep ? heif_chroma_interleaved_RRGGBB_LE : heif_chroma_interleaved_RGB;
  const pixels = await heif.heif_js_decode_image2(handle, heif.heif_colorspace.heif_colorspace_RGB, chroma);
  const plane = pixels?.channels?.find(({ id }) => id === heif.heif_channel.heif_channel_interleaved);
  if (!plane) throw new DecodeError('damaged', 'the picture in it cannot be decoded');
  try {
    const { width, height } = plane;
    const samples = tightRows(plane, width * (isDeep ? 6 : 3));
    if (!isDeep)
      return withColours(vips.Image.newFromMemory(samples, width, height, 3, vips.BandFormat.uchar), 'srgb', keep);
    const deep = new Uint16Array(samples.buffer);
    const full = 65535 / (2 ** plane.bits_per_pixel - 1);
    for (let i = 0; i < deep.length; i++) deep[i] = Math.round(deep[i] * full);
    return withColours(vips.Image.newFromMemory(deep, width, height, 3, vips.BandFormat.ushort), 'rgb16', keep);
  } finally {
    heif.heif_image_release(pixels.image);
  }
}

const withColours = (image: Vips.Image, interpretation: 'srgb' | 'rgb16', keep: Keep) =>
  keep(keep(image).copy({ interpretation }));

/** Copies rows out of the library's memory, without what fills them up. */
function tightRows({ data, stride, height }: Rows, row: number): Uint8Array {
  const out = new Uint8Array(row * height);
  for (let y = 0; y < height; y++) out.set(data.subarray(y * stride, y * stride + row), y * row);
  return out;
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
