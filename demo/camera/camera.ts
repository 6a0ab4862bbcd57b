import { encodeSrgb } from '#core/color/srgb.ts';
import { type Matrix3, multiply3 } from '#core/raster/matrix3.ts';
import type { Size } from '#core/raster/size.ts';
import type { RadianceCanvas } from '../radiance/canvas.ts';

/** How the camera stood for one frame, against the first: shift in pixels at 2400 wide, turn in degrees. */
export interface Placement {
  shiftX: number;
  shiftY: number;
  turnDegrees: number;
  /** How much larger things are, 0.01 for one per cent. */
  zoom: number;
  /** How much larger things are at the right edge than in the middle, and at the lower edge: the camera leaned. */
  tiltX: number;
  tiltY: number;
}

/** A camera that has not moved. */
export const STILL: Placement = { shiftX: 0, shiftY: 0, turnDegrees: 0, zoom: 0, tiltX: 0, tiltY: 0 };

export interface ShotSettings {
  /** Stops against the exposure at which radiance 1 just fills the sensor. */
  ev: number;
  iso: number;
  placement: Placement;
  seed: number;
  /** What lay between camera and scene, or in the camera's white balance, if anything. */
  look?: Look;
  /** What lies on the sensor. */
  dust?: readonly Speck[];
}

/** A speck of dust that takes light: where it lies in shares of width and height, its radius in pixels at 2400 wide, and the share that it takes in
 * its middle. */
export interface Speck {
  u: number;
  v: number;
  radius: number;
  depth: number;
}

/** Channels times factors, and a veil: a share of light that is that of the air. */
export interface Look {
  cast: readonly [number, number, number];
  veil: { share: number; light: readonly [number, number, number] };
}

/** Nothing. */
export const CLEAR: Look = { cast: [1, 1, 1], veil: { share: 0, light: [0, 0, 0] } };

/** Electrons that fill a photosite at ISO 100, and read noise in electrons (common practice, no source). */
const FULL_WELL = 42000;
const READ_NOISE = 3.2;

/** Deviations of noise below which a place is sure not to be filled. */
const SURE = 3;

/** Deviation of light that one photosite's noise makes, in radiance; infinite where it may be filled. */
export function lightNoise(radiance: number, { ev, iso }: Pick<ShotSettings, 'ev' | 'iso'>): number {
  const full = FULL_WELL / (iso / 100);
  const electrons = radiance * 2 ** ev * full;
  const spread = Math.sqrt(electrons + READ_NOISE ** 2);
  return electrons + SURE * spread < full ? spread / (2 ** ev * full) : Number.POSITIVE_INFINITY;
}

/** Takes a picture of radiance: exposure, photon and read noise, saturation, and the sRGB curve unless the light itself is wanted.
 * @param size - Of the picture: the middle of the radiance, which has to reach beyond it as far as the camera moves.
 * @returns Interleaved RGB, 16 bits. */
export function expose(
  radiance: RadianceCanvas,
  shot: ShotSettings,
  progress: (share: number) => void,
  tones: 'srgb' | 'linear' = 'srgb',
  size: Size = radiance,
): Uint16Array {
  const { width, height } = size;
  const out = new Uint16Array(width * height * 3);
  const gain = 2 ** shot.ev;
  const full = FULL_WELL / (shot.iso / 100);
  const curve = tones === 'srgb' ? encodedTable() : undefined;
  const sampler = new Resampler(radiance, size, shot.placement);
  const light: [number, number, number] = [0, 0, 0];
  const { cast, veil } = shot.look ?? CLEAR;
  const seen = (value: number, channel: number) => cast[channel] * (value + veil.share * (veil.light[channel] - value));
  const shadow = shot.dust && shadowOf(shot.dust, size);
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      sampler.at(column, row, light);
      const pixel = row * width + column;
      const left = shadow?.(column, row) ?? 1;
      for (let channel = 0; channel < 3; channel++) {
        const electrons = Math.max(0, seen(light[channel], channel)) * left * gain * full;
        const spread = Math.sqrt(electrons + READ_NOISE * READ_NOISE);
        const read = (electrons + spread * gaussian(pixel * 3 + channel, shot.seed)) / full;
        const code = Math.min(65535, Math.max(0, Math.round(read * 65535)));
        out[pixel * 3 + channel] = curve ? curve[code] : code;
      }
    }
    if (row % 128 === 0) progress(row / height);
  }
  return out;
}

/** Share of light that specks leave: discs out of focus, whose outer thirds are soft (common practice, no source). */
function shadowOf(specks: readonly Speck[], { width, height }: Size): (column: number, row: number) => number {
  const scale = width / 2400;
  return (column, row) => {
    let left = 1;
    for (const { u, v, radius, depth } of specks) {
      const away = Math.hypot(column + 0.5 - u * width, row + 0.5 - v * height) / (radius * scale);
      left *= 1 - depth * Math.min(1, Math.max(0, 3 * (1 - away)));
    }
    return left;
  };
}

let table: Uint16Array | undefined;
function encodedTable(): Uint16Array {
  table ??= Uint16Array.from({ length: 65536 }, (_, code) => Math.round(65535 * encodeSrgb(code / 65535)));
  return table;
}

/** A number of a normal distribution that depends on place and seed alone; hashing leaves no pattern in it. */
function gaussian(index: number, seed: number): number {
  const a = hash(index * 2 + 1, seed);
  const b = hash(index * 2 + 2, seed ^ 0x5bd1e995);
  return Math.sqrt(-2 * Math.log((a + 1) / 4294967297)) * Math.cos((2 * Math.PI * b) / 4294967296);
}

/** Avalanche of MurmurHash3 (Appleby, public domain). */
function hash(value: number, seed: number): number {
  let h = Math.imul(value ^ seed, 0x85ebca6b);
  h ^= h >>> 13;
  h = Math.imul(h + seed, 0xc2b2ae35);
  h ^= h >>> 16;
  h = Math.imul(h, 0x27d4eb2f);
  return (h ^ (h >>> 15)) >>> 0;
}

/** Where a frame's pixel lies in the first frame: turned about the middle, seen from where the camera stood, then shifted; a
 * homography, in pixels. */
export function placeInFirst(
  column: number,
  row: number,
  size: { width: number; height: number },
  placement: Placement,
): [number, number] {
  const angle = (placement.turnDegrees * Math.PI) / 180;
  const scale = size.width / 2400;
  const [cx, cy] = [column + 0.5 - size.width / 2, row + 0.5 - size.height / 2];
  const { zoom, tiltX, tiltY, shiftX, shiftY } = placement;
  const nearer = (1 + zoom) * (1 + (tiltX * cx) / (size.width / 2) + (tiltY * cy) / (size.height / 2));
  return [
    size.width / 2 + (cx * Math.cos(angle) - cy * Math.sin(angle)) / nearer + shiftX * scale,
    size.height / 2 + (cx * Math.sin(angle) + cy * Math.cos(angle)) / nearer + shiftY * scale,
  ];
}

/** The same as a matrix between pixels, counted from the centre of the first one, row by row. */
export function placementMatrix(size: Size, placement: Placement): Matrix3 {
  const angle = (placement.turnDegrees * Math.PI) / 180;
  const [cx, cy] = [(size.width - 1) / 2, (size.height - 1) / 2];
  const scale = size.width / 2400;
  const { zoom, tiltX, tiltY } = placement;
  const third = [tiltX / (size.width / 2), tiltY / (size.height / 2), 1].map((value) => value * (1 + zoom));
  const [sx, sy] = [cx + placement.shiftX * scale, cy + placement.shiftY * scale];
  const fromMiddle = [
    ...[Math.cos(angle), -Math.sin(angle), 0].map((value, i) => value + sx * third[i]),
    ...[Math.sin(angle), Math.cos(angle), 0].map((value, i) => value + sy * third[i]),
    ...third,
  ];
  const toMiddle = [1, 0, -cx, 0, 1, -cy, 0, 0, 1];
  return multiply3(fromMiddle, toMiddle);
}

/** Catmull-Rom interpolation (Keys 1981, a = -0.5) of radiance under a placement. */
class Resampler {
  readonly #radiance: RadianceCanvas;
  readonly #size: Size;
  readonly #marginX: number;
  readonly #marginY: number;
  readonly #placement: Placement;
  readonly #still: boolean;

  constructor(radiance: RadianceCanvas, size: Size, placement: Placement) {
    this.#radiance = radiance;
    this.#size = size;
    this.#marginX = (radiance.width - size.width) / 2;
    this.#marginY = (radiance.height - size.height) / 2;
    this.#placement = placement;
    this.#still = Object.values(placement).every((value) => value === 0);
  }

  at(column: number, row: number, out: [number, number, number]): void {
    const { width, height, rgb } = this.#radiance;
    if (this.#still) {
      const at = ((row + this.#marginY) * width + column + this.#marginX) * 3;
      for (let channel = 0; channel < 3; channel++) out[channel] = rgb[at + channel];
      return;
    }
    const place = placeInFirst(column, row, this.#size, this.#placement);
    const [x, y] = [place[0] + this.#marginX, place[1] + this.#marginY];
    const [left, top] = [Math.floor(x - 0.5), Math.floor(y - 0.5)];
    const [wx, wy] = [cubic(x - 0.5 - left), cubic(y - 0.5 - top)];
    out[0] = out[1] = out[2] = 0;
    for (let j = 0; j < 4; j++) {
      const sy = Math.min(height - 1, Math.max(0, top + j - 1));
      for (let i = 0; i < 4; i++) {
        const sx = Math.min(width - 1, Math.max(0, left + i - 1));
        const at = (sy * width + sx) * 3;
        const weight = wx[i] * wy[j];
        for (let channel = 0; channel < 3; channel++) out[channel] += rgb[at + channel] * weight;
      }
    }
  }
}

function cubic(t: number): [number, number, number, number] {
  const t2 = t * t;
  const t3 = t2 * t;
  return [-0.5 * t + t2 - 0.5 * t3, 1 - 2.5 * t2 + 1.5 * t3, 0.5 * t + 2 * t2 - 1.5 * t3, -0.5 * t2 + 0.5 * t3];
}
