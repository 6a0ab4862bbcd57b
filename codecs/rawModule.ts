/** What is asked of the raw decoder library. */
export interface RawSettings {
  outputBps: 16;
  gamm: [number, number, number, number, number, number];
  noAutoBright: boolean;
  useCameraWb: boolean;
  /** 0: the sensor's own colours. 1: sRGB primaries. */
  outputColor: number;
  /** How colours are filled in between the sensor's pixels: 0 straight lines, 3 along edges. */
  userQual: 0 | 3;
  /** 0: what is brighter than the weakest colour's white is cut off. 1: all is darkened until nothing is, and colours clip where they do. 5: so
   * too, and colours that the sensor could not tell any more are rebuilt by the library. */
  highlight: 0 | 1 | 5;
}

/** A raw file in the decoder library. */
export interface RawDecoder {
  open: (bytes: Uint8Array, settings: RawSettings) => void;
  metadata: (full: boolean) => RawFacts | undefined;
  imageData: () => { width: number; height: number; colors: number; bits: number; data: Uint16Array } | undefined;
  delete: () => void;
}

export interface RawFacts {
  width: number;
  height: number;
  flip: number;
  shutter: number;
  aperture: number;
  iso_speed: number;
  /** Seconds since 1970, as if the camera's local time were universal. */
  timestamp: number;
  /** Colours that the sensor tells. */
  colors?: number;
  /** With all that is known: factors of the camera's white balance for red, green and blue, and what leads from the sensor's colours, so
   * balanced, to linear sRGB, row by row. */
  color_data?: { cam_mul: ArrayLike<number>; rgb_cam?: ArrayLike<ArrayLike<number>> };
}

/** The raw decoder library, started. */
export interface RawModule {
  LibRaw: new () => RawDecoder;
}
