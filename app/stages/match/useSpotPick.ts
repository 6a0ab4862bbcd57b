import { type Ref, ref } from 'vue';
import { trustIn } from '#core/checks/limits.ts';
import { sketchLevel } from '#core/checks/sketch.ts';
import { lmsMatrix, oklchOf } from '#core/color/oklab.ts';
import { decodeSrgb, encodeSrgb } from '#core/color/srgb.ts';
import { whiteOfGrey } from '#core/color/whitePoint.ts';
import { findVeil } from '#core/develop/findVeil.ts';
import { ADJUSTMENTS } from '#core/develop/list.ts';
import { spotLight } from '#core/develop/spotLight.ts';
import { smoothCurve } from '#core/masks/greyCurve.ts';
import type { Size } from '#core/raster/size.ts';
import type { Frame } from '#core/scene/frame.ts';
import { sceneSize } from '#core/scene/scene.ts';
import type { Point } from '../../bench/viewTransform.ts';
import { canvasSpaceOf } from '../../drawing/canvasSpace.ts';
import { drawnView } from '../../drawing/drawnView.ts';
import { useEngine } from '../../stores/engine.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import type { Developing } from './useDevelop.ts';

type Rgb = [number, number, number];

/** Pixels around a click that are averaged: so far apart, so many each way. */
const APART = 2;
const REACH = 2;
/** How many of them have to hold a colour. */
const LEAST = 13;

/** What a spot of the picture is clicked for: to become grey, to tell a hue that is changed, the light of a veil, or a tone of the curve. */
export type SpotUse = 'grey' | 'hue' | 'veil' | 'curve';
export type CurveName = keyof (typeof ADJUSTMENTS)['curve']['rest'];

const STRAIGHT = [
  { x: 0, y: 0 },
  { x: 1, y: 1 },
];
/** Points of a curve lie so far apart, and so many of them there are at most. */
const NEAREST = 0.02;
const MOST_POINTS = 16;

/** Reads a spot of the picture for an adjustment of the frame at hand. */
export function useSpotPick(frame: Ref<Frame | undefined>, developing: Developing) {
  const session = useSession();
  const engines = useEngine();
  const notices = useNotices();
  /** What the next click is for. */
  const wants = ref<SpotUse>();
  /** The curve that is at hand. */
  const curveOver = ref<CurveName>('all');

  /** Light of a few pixels of the frame as it was taken; undefined where it is clipped, or too dark to have a colour. */
  async function lightAt(at: Point, size: Size, of: Frame): Promise<Rgb | undefined> {
    const { engine } = await engines.start();
    const sum: Rgb = [0, 0, 0];
    let usable = 0;
    for (let dy = -REACH; dy <= REACH; dy++)
      for (let dx = -REACH; dx <= REACH; dx++) {
        const x = Math.min(size.width - 1, Math.max(0, at.x + dx * APART));
        const y = Math.min(size.height - 1, Math.max(0, at.y + dy * APART));
        const [rgb] = (await engine.probe([{ what: 'frame', at: of.id, taken: true }], x, y)) ?? [];
        if (!rgb || trustIn(Math.max(...rgb)) < 1) continue;
        usable++;
        for (const channel of [0, 1, 2]) sum[channel] += decodeSrgb(rgb[channel] / 65535);
      }
    if (usable < LEAST || Math.min(...sum) <= 0) return undefined;
    return [sum[0] / usable, sum[1] / usable, sum[2] / usable];
  }

  /** @param at - In pixels of the scene; beyond it nothing is picked. */
  async function pick(at: Point, size: Size): Promise<void> {
    const [of, what] = [frame.value, wants.value];
    if (!of || !what || at.x < 0 || at.y < 0 || at.x >= size.width || at.y >= size.height) return;
    wants.value = undefined;
    try {
      const light = await lightAt(at, size, of);
      if (!light)
        notices.tell('That spot is clipped or too dark to have a colour. Click one of middle brightness.', {
          tone: 'error',
        });
      else if (what === 'grey') setWhite(light, of);
      else if (what === 'hue') addHue(light, of);
      else if (what === 'curve') addPoint(light, of);
      else setVeil(light, of);
    } catch (error) {
      notices.tellError(error);
    }
  }

  function setWhite(light: Rgb, of: Frame): void {
    const { kelvin, tint } = whiteOfGrey(light, session.scene.workingSpace);
    developing.commit('whiteBalance', { kelvin: Math.round(kelvin), tint: Number(tint.toFixed(1)) }, of);
  }

  /** Takes a veil of this light away, by half where nothing was done to it yet. */
  function setVeil(light: Rgb, of: Frame): void {
    const [red, green, blue] = light.map((value) => Number(Math.min(4, Math.max(0.02, value)).toFixed(4)));
    const amount = of.develop.haze?.amount ?? 0.5;
    developing.commit('haze', { amount, veil: { red, green, blue } }, of);
  }

  /** Takes for the veil what is bright throughout its surroundings. */
  async function findVeilOf(of: Frame): Promise<void> {
    const { engine } = await engines.start();
    const { workingSpace } = session.scene;
    const size = sceneSize(session.scene);
    const drawn =
      size && (await drawnView(engine, { show: { what: 'frame', at: of.id, taken: true } }, size, sketchLevel(size)));
    const light = drawn && findVeil(drawn.rgba, drawn, canvasSpaceOf(workingSpace), workingSpace);
    if (light) setVeil(light, of);
    else
      notices.tell('No veil is to be found: the frame is still being read, or black. Try again, or click it.', {
        tone: 'error',
      });
  }

  /** Adds a range around the hue that the spot has when colours come to be changed. */
  function addHue(light: Rgb, of: Frame): void {
    const space = session.scene.workingSpace;
    const { h } = oklchOf(lmsMatrix(space), [...spotLight(light, of.develop, 'colour', space)]);
    const { ranges } = { ...ADJUSTMENTS.colour.rest, ...of.develop.colour };
    const range = { centre: Math.round(h), width: 15, shoulder: 25, turn: 0, saturation: 0.2, lightness: 0 };
    developing.commit('colour', { ranges: [...ranges, range] }, of);
  }

  /** Sets a point on the curve that is at hand, at the tone that the spot has when it comes to it. */
  function addPoint(light: Rgb, of: Frame): void {
    const space = session.scene.workingSpace;
    const rgb = spotLight(light, of.develop, 'curve', space);
    const name = curveOver.value;
    const encoded = rgb.map((value) => encodeSrgb(Math.min(1, Math.max(0, value))));
    const values: Record<CurveName, number> = {
      all: (encoded[0] + 2 * encoded[1] + encoded[2]) / 4,
      ...{ red: encoded[0], green: encoded[1], blue: encoded[2] },
      lightness: oklchOf(lmsMatrix(space), [...rgb]).l,
    };
    const x = Math.min(1, Math.max(0, values[name]));
    const before = { ...ADJUSTMENTS.curve.rest, ...of.develop.curve }[name] as { x: number; y: number }[];
    const points = before.length >= 2 ? before : STRAIGHT;
    if (points.some((point) => Math.abs(point.x - x) < NEAREST) || points.length >= MOST_POINTS) {
      notices.tell('The curve has a point at that tone already: move it in the panel.');
      return;
    }
    const y = smoothCurve(points)(x);
    const added = { x: Number(x.toFixed(4)), y: Number(y.toFixed(4)) };
    developing.commit('curve', { [name]: [...points, added].toSorted((a, b) => a.x - b.x) }, of);
  }

  return { wants, curveOver, pick, findVeilOf };
}
