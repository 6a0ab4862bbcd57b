import type { CheckName } from '#core/checks/checkedBlock.ts';
import { encodeSrgb } from '#core/color/srgb.ts';
import { type FrameId, LayerId } from '#core/ids.ts';
import { plainPart } from '#core/parts/partBase.ts';
import type { PicturePart } from '#core/parts/picture.ts';
import type { Size } from '#core/raster/size.ts';
import { PLAIN_READING } from '#core/reading.ts';
import { frameOfLayer, type Layer, newLayer } from '#core/scene/item.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import type { Scene } from '#core/scene/scene.ts';
import { expose, type Look, type Placement, STILL } from '../demo/camera/camera.ts';
import { paintBanks } from '../demo/radiance/banks.ts';
import { average, RadianceCanvas } from '../demo/radiance/canvas.ts';
import { paintLake, WATERLINE } from '../demo/radiance/lake.ts';
import { paintLarches } from '../demo/radiance/larches.ts';
import { paintLookout } from '../demo/radiance/lookout.ts';
import { paintRidges } from '../demo/radiance/ridges.ts';
import { paintShore } from '../demo/radiance/shore.ts';
import { paintSky } from '../demo/radiance/sky.ts';
import { loadPixels, madeFrame, type SmallScene, smallScene } from './smallScene.ts';

/** A view whose light is known, frames of it, and how much of each pixel is sky. */
export interface Studio {
  size: Size;
  made: SmallScene;
  light: RadianceCanvas;
  /** The mask through which the dark frame gives the sky, and none of the land, to each pixel: what careful work comes near to. */
  ideal: Float32Array;
  /** How many masks were loaded. */
  masks: number;
}

/** Frames of the studio, by what they are for. */
export const SHOTS = { dark: 0, base: 1, bright: 2, moved: 3, warm: 4, shifted: 5 } as const;

const MOVED: Placement = { ...STILL, shiftX: 14, shiftY: 6 };
const WARM: Look = { cast: [1.4, 1, 0.68], veil: { share: 0, light: [0, 0, 0] } };
const TAKEN: { ev: number; iso?: number; placement?: Placement; look?: Look }[] = [
  { ev: -0.5 },
  { ev: 0.7 },
  { ev: 2.2 },
  { ev: -0.5, placement: MOVED },
  { ev: 0.7, look: WARM },
  { ev: -4, iso: 1600 },
];

const quiet = () => undefined;

/** Draws the light of the demo's lake and photographs it; the middle exposure is the base, all layers above it are left out. */
export function openStudio(width: number): Studio {
  const size = { width, height: Math.round((width * 2) / 3) };
  const [light, wanted] = [1, 2 ** (TAKEN[SHOTS.dark].ev - TAKEN[SHOTS.base].ev)].map((sky) => drawView(size, sky));
  const frames = TAKEN.map(({ ev, iso = 100, placement = STILL, look }, index) =>
    expose(light, { ev, iso, placement, look, seed: 51 + index * 7 }, quiet),
  );
  const made = smallScene(
    size,
    frames.map((pixels) => (x: number, y: number) => {
      const at = (y * width + x) * 3;
      return [pixels[at], pixels[at + 1], pixels[at + 2]];
    }),
    2048 * 2 ** 20,
  );
  const base = made.frameIds[SHOTS.base];
  const known = made.scene.frames.map((frame, index) => ({ ...frame, shot: { ...frame.shot, ev: TAKEN[index].ev } }));
  const scene: Scene = { ...made.scene, base, frames: known, stack: [] };
  return { size, made: { ...made, scene }, light, ideal: idealMask(light, wanted), masks: 0 };
}

const encodedAt = (light: number, ev: number): number => encodeSrgb(Math.min(1, Math.max(0, light * 2 ** ev)));

/** What has to be mixed of the dark frame so that each pixel is its share of land as the base has it, and its share of sky as the dark frame has
 * it: mixed pixels of an edge are brighter in the base than their share, or blown. */
function idealMask({ rgb, width, height }: RadianceCanvas, wanted: RadianceCanvas): Float32Array {
  const [dark, base] = [TAKEN[SHOTS.dark].ev, TAKEN[SHOTS.base].ev];
  return Float32Array.from({ length: width * height }, (_, i) => {
    if (i >= WATERLINE * height * width) return reflected(Math.floor(i / width) / height);
    const [whole, aim] = [rgb[i * 3 + 1], wanted.rgb[i * 3 + 1]];
    const [over, under, wish] = [encodedAt(whole, dark), encodedAt(whole, base), encodedAt(aim, base)];
    return under - over < 0.01 ? 0 : Math.min(1, Math.max(0, (under - wish) / (under - over)));
  });
}

/** What is taken of the dark frame for the lake, so that what it mirrors is not blown there; a share of the picture's height down. */
const reflected = (down: number): number =>
  0.75 * smoothStep(WATERLINE, WATERLINE + 0.1, down) * (1 - smoothStep(0.7, 0.95, down));

/** Light of the view without what a lens does to it, its sky times a factor. */
function drawView({ width, height }: Size, factor: number): RadianceCanvas {
  const canvas = new RadianceCanvas(width * FINER, height * FINER);
  paintSky(canvas, quiet);
  for (let i = 0; i < canvas.rgb.length; i++) canvas.rgb[i] *= factor;
  paintRidges(canvas, WATERLINE, quiet);
  paintBanks(canvas, WATERLINE);
  paintLookout(canvas);
  paintLarches(canvas);
  paintLake(canvas, quiet);
  paintShore(canvas, quiet);
  return average(canvas, FINER);
}

/** Light is drawn so many times finer each way. */
const FINER = 2;

export type MaskAt = (x: number, y: number) => number;

/** A layer that shows a frame of the studio through a mask that is known. */
export function layerThrough(studio: Studio, shot: number, maskAt: MaskAt): Layer {
  const { made, size } = studio;
  const index = 100 + studio.masks++;
  const frame = madeFrame(index, size);
  loadPixels(made.loader, { ...frame, reading: { ...PLAIN_READING } }, (x, y) => {
    const value = Math.round(65535 * Math.min(1, Math.max(0, maskAt(x, y))));
    return [value, value, value];
  });
  const file = { sha256: frame.file.sha256, name: 'mask', bytes: 1 };
  const part: PicturePart = { kind: 'picture', ...plainPart('picture'), file, scaleTo: null };
  return { ...newLayer(LayerId.parse(`layer-${index}`), made.frameIds[shot] as FrameId), mask: maskOfParts([part]) };
}

/** A fault that was planted: which check should find it, where, and how strongly it was planted. */
export interface Planted {
  check: CheckName;
  name: string;
  /** 0..1. */
  strength: number;
  /** Middle and radius in pixels. */
  x: number;
  y: number;
  radius: number;
  scene: Scene;
  /** The same without the fault. */
  without: Scene;
}

export const smoothStep = (from: number, to: number, at: number): number => {
  const t = Math.min(1, Math.max(0, (at - from) / (to - from)));
  return t * t * (3 - 2 * t);
};

/** A soft disc of coverage. */
export const disc =
  (x0: number, y0: number, radius: number, soft: number): MaskAt =>
  (x, y) =>
    1 - smoothStep(radius * (1 - soft), radius, Math.hypot(x - x0, y - y0));

/** The base under layers; frames that none shows are left out, but for those that are asked for. */
function sceneOf({ made }: Studio, stack: Layer[], others: readonly number[] = []): Scene {
  const used = [made.scene.base, ...stack.map(frameOfLayer), ...others.map((shot) => made.frameIds[shot])];
  return { ...made.scene, stack, frames: made.scene.frames.filter(({ id }) => used.includes(id)) };
}

/** The ideal mask of the sky, or of a pixel beside. */
export const skyAt =
  ({ ideal, size }: Studio): MaskAt =>
  (x, y) =>
    ideal[
      Math.min(size.height - 1, Math.max(0, Math.round(y))) * size.width +
        Math.min(size.width - 1, Math.max(0, Math.round(x)))
    ];

/** Scenes that were blended well: nothing should be found in them. */
export function wellBlended(studio: Studio): { name: string; scene: Scene }[] {
  const { width, height } = studio.size;
  const sky = skyAt(studio);
  const by = (shot: number, maskAt: MaskAt) => layerThrough(studio, shot, maskAt);
  const run = (from: number, to: number, at: number) => smoothStep(from * height, to * height, at);
  return [
    { name: 'sky along its edge', scene: sceneOf(studio, [by(SHOTS.dark, sky)]) },
    { name: 'sky along its edge, at 80 %', scene: sceneOf(studio, [by(SHOTS.dark, (x, y) => 0.8 * sky(x, y))]) },
    {
      name: 'sky, more to one side',
      scene: sceneOf(studio, [by(SHOTS.dark, (x, y) => (0.6 + 0.4 * smoothStep(0, width, x)) * sky(x, y))]),
    },
    {
      name: 'sky, less above',
      scene: sceneOf(studio, [by(SHOTS.dark, (x, y) => (0.5 + 0.5 * run(0, 0.3, y)) * sky(x, y))]),
    },
    { name: 'sky by a wide run', scene: sceneOf(studio, [by(SHOTS.dark, (_, y) => 1 - run(0.15, 0.75, y))]) },
    {
      name: 'sky, and shore opened',
      scene: sceneOf(studio, [by(SHOTS.dark, sky), by(SHOTS.bright, (_, y) => 0.35 * run(0.68, 1, y))]),
    },
    {
      name: 'sky, and its reflection once more',
      scene: sceneOf(studio, [
        by(SHOTS.dark, (x, y) => Math.max(sky(x, y), 0.5 * run(0.5, 0.58, y) * (1 - run(0.6, 0.9, y)))),
      ]),
    },
    {
      name: 'sky, land a little opened',
      scene: sceneOf(studio, [
        by(SHOTS.dark, sky),
        by(SHOTS.bright, (x, y) => 0.2 * (1 - sky(x, y)) * (1 - run(0.5, 0.8, y))),
      ]),
    },
  ];
}

/** How strongly faults are planted, as a share of the whole. */
const STRENGTHS = [0.25, 0.4, 0.6, 0.8, 1];

type Recipe = (studio: Studio, strength: number) => Omit<Planted, 'check' | 'name' | 'strength' | 'without'>;

/** Where the sky ends at a column, in pixels from above. */
function skylineAt(studio: Studio, x: number): number {
  const sky = skyAt(studio);
  for (let y = 0; y < studio.size.height; y++) if (sky(x, y) < 0.5) return y;
  return 0;
}

/** The sky's mask moved up or down over some columns: a bright rim, or a dark one. */
const movedEdge =
  (share: number, by: number): Recipe =>
  (studio, strength) => {
    const { width } = studio.size;
    const sky = skyAt(studio);
    const x0 = share * width;
    const here = (x: number) => strength * (1 - smoothStep(0.05 * width, 0.08 * width, Math.abs(x - x0)));
    const mask: MaskAt = (x, y) => {
      const k = here(x);
      const edge = by > 0 ? Math.min(sky(x, y), sky(x, y + by)) : Math.max(sky(x, y), sky(x, y + by));
      return (1 - k) * sky(x, y) + k * edge;
    };
    return {
      x: x0,
      y: skylineAt(studio, x0),
      radius: 0.09 * width,
      scene: sceneOf(studio, [layerThrough(studio, SHOTS.dark, mask)]),
    };
  };

/** A soft border instead of the edge, as a brush leaves it. */
const softEdge =
  (share: number, radius: number): Recipe =>
  (studio, strength) => {
    const { width } = studio.size;
    const sky = skyAt(studio);
    const x0 = share * width;
    const line = skylineAt(studio, x0);
    const mask: MaskAt = (x, y) => {
      const k = strength * (1 - smoothStep(0.05 * width, 0.08 * width, Math.abs(x - x0)));
      return (1 - k) * sky(x, y) + k * sky(x, y) * smoothStep(0, radius, line - y);
    };
    return {
      x: x0,
      y: line - radius / 2,
      radius: 0.09 * width,
      scene: sceneOf(studio, [layerThrough(studio, SHOTS.dark, mask)]),
    };
  };

/** A blotch of another frame over a sky that is in order.
 * @param most - Coverage at full strength. */
const blotch =
  (shot: number, [sx, sy]: readonly [number, number], radius: number, soft: number, most = 1): Recipe =>
  (studio, strength) => {
    const { width, height } = studio.size;
    const [x0, y0, r] = [sx * width, sy * height, radius * width];
    const spot = disc(x0, y0, r, soft);
    const layers = [
      layerThrough(studio, SHOTS.dark, skyAt(studio)),
      layerThrough(studio, shot, (x, y) => strength * most * spot(x, y)),
    ];
    return { x: x0, y: y0, radius: r, scene: sceneOf(studio, layers) };
  };

/** The same, lifted to the base's light, with a frame that is quieter there. */
const lifted =
  (place: readonly [number, number]): Recipe =>
  (studio, strength) => {
    const made = blotch(SHOTS.shifted, place, 0.08, 0.4)(studio, strength);
    const id = studio.made.frameIds[SHOTS.shifted];
    const stops = TAKEN[SHOTS.base].ev - TAKEN[SHOTS.shifted].ev;
    const frames = made.scene.frames.map((frame) =>
      frame.id === id ? { ...frame, develop: { exposure: { stops } } } : frame,
    );
    return { ...made, scene: { ...made.scene, frames } };
  };

/** A hole in the sky's mask. */
const hole =
  ([sx, sy]: readonly [number, number], radius: number, soft: number): Recipe =>
  (studio, strength) => {
    const { width, height } = studio.size;
    const [x0, y0, r] = [sx * width, sy * height, radius * width];
    const [sky, spot] = [skyAt(studio), disc(x0, y0, r, soft)];
    const layer = layerThrough(studio, SHOTS.dark, (x, y) => sky(x, y) * (1 - strength * spot(x, y)));
    return { x: x0, y: y0, radius: r, scene: sceneOf(studio, [layer]) };
  };

/** Darks lifted through a mask that follows them in all detail. */
const pulledTogether =
  (sx: number, sy: number): Recipe =>
  (studio, strength) => {
    const { width, height } = studio.size;
    const [x0, y0, r] = [sx * width, sy * height, 0.1 * width];
    const spot = disc(x0, y0, r, 0.5);
    const { rgb } = studio.light;
    const mask: MaskAt = (x, y) => {
      const tone = Math.min(1, Math.max(0, rgb[(y * width + x) * 3 + 1])) ** (1 / 2.2);
      const follows = 1 - smoothStep(0.06, 0.34, tone);
      return spot(x, y) * ((1 - strength) * 0.5 + strength * follows);
    };
    return { x: x0, y: y0, radius: r, scene: sceneOf(studio, [layerThrough(studio, SHOTS.bright, mask)]) };
  };

/** A part of the land lifted beyond the sky above it. */
const liftedLand =
  (sx: number): Recipe =>
  (studio, strength) => {
    const { width, height } = studio.size;
    const sky = skyAt(studio);
    const x0 = sx * width;
    const line = skylineAt(studio, x0);
    const land: MaskAt = (x, y) =>
      strength *
      (1 - sky(x, y)) *
      (1 - smoothStep(0.08 * width, 0.14 * width, Math.abs(x - x0))) *
      (1 - smoothStep(0.7 * height, 0.8 * height, y));
    return {
      x: x0,
      y: (line + 0.6 * height) / 2,
      radius: 0.16 * width,
      scene: sceneOf(studio, [layerThrough(studio, SHOTS.dark, sky), layerThrough(studio, SHOTS.bright, land)]),
    };
  };

/** A layer whose frame lies some pixels off and does not cover the picture there. */
const bareBorder: Recipe = (studio, strength) => {
  const { height } = studio.size;
  const by = Math.round(2 + 30 * strength);
  const layer = layerThrough(studio, SHOTS.dark, () => 1);
  const scene = sceneOf(studio, [layer]);
  const id = studio.made.frameIds[SHOTS.dark];
  const matrix = [1, 0, by, 0, 1, 0, 0, 0, 1];
  const placement = {
    matrix,
    model: 'hand' as const,
    verdict: null,
    reason: null,
    residualPx: null,
    agreement: null,
    stops: null,
  };
  const frames = scene.frames.map((frame) => (frame.id === id ? { ...frame, placement } : frame));
  return { x: by / 2, y: height / 2, radius: height, scene: { ...scene, frames } };
};

const FAMILIES: Record<CheckName, Record<string, Recipe>> = {
  rims: {
    'mask 3 px off the ridge': movedEdge(0.25, 3),
    'mask 6 px off the ridge': movedEdge(0.45, 6),
    'mask 14 px off the ridge': movedEdge(0.4, 14),
    'mask 6 px into the land': movedEdge(0.3, -6),
    'mask 16 px into the land': movedEdge(0.15, -16),
    'soft brush, 30 px': softEdge(0.3, 30),
    'soft brush, 60 px': softEdge(0.35, 60),
  },
  seams: {
    'soft hole in the sky': hole([0.25, 0.16], 0.03, 0.6),
    'hard hole in the sky': hole([0.45, 0.14], 0.05, 0.15),
    'blotch in the lake': blotch(SHOTS.dark, [0.45, 0.66], 0.04, 0.3),
  },
  flat: {
    'lifted shore, left': pulledTogether(0.2, 0.86),
    'lifted shore, right': pulledTogether(0.72, 0.88),
  },
  light: { 'lifted land, left': liftedLand(0.25), 'lifted land, middle': liftedLand(0.5) },
  ghosts: {
    'larches moved': blotch(SHOTS.moved, [0.85, 0.5], 0.06, 0.9, 0.5),
    'shore moved': blotch(SHOTS.moved, [0.3, 0.9], 0.08, 0.9, 0.5),
  },
  noise: { 'dark frame lifted, shore': lifted([0.3, 0.85]), 'dark frame lifted, lake': lifted([0.5, 0.62]) },
  limits: {
    'blown sky': blotch(SHOTS.bright, [0.62, 0.27], 0.06, 0.3),
    'blocked shore': blotch(SHOTS.shifted, [0.4, 0.92], 0.07, 0.3),
  },
  colours: {
    'warm patch in the sky': blotch(SHOTS.warm, [0.3, 0.15], 0.06, 0.3),
    'warm patch in the lake': blotch(SHOTS.warm, [0.5, 0.65], 0.05, 0.3),
  },
  bare: { 'frame moved aside': bareBorder },
};

/** Faults planted into a blend that is otherwise in order, weak before strong.
 * @param strengths - Shares of the whole, 0..1. */
export function* planted(
  studio: Studio,
  checks: readonly CheckName[],
  strengths: readonly number[] = STRENGTHS,
): Generator<Planted> {
  for (const check of checks)
    for (const [name, recipe] of Object.entries(FAMILIES[check])) {
      const without = recipe(studio, 0).scene;
      for (const strength of strengths) yield { check, name, strength, without, ...recipe(studio, strength) };
    }
}
