import { type Ref, ref } from 'vue';
import { trustIn } from '#core/checks/limits.ts';
import { sketchLevel } from '#core/checks/sketch.ts';
import { lmsMatrix, oklchOf } from '#core/color/oklab.ts';
import { compileSteps } from '#core/color/pointSteps.ts';
import { decodeSrgb } from '#core/color/srgb.ts';
import { whiteOfGrey } from '#core/color/whitePoint.ts';
import { findVeil } from '#core/develop/findVeil.ts';
import { ADJUSTMENTS, stepsBefore } from '#core/develop/list.ts';
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

/** What a spot of the picture is clicked for: to become grey, to tell a hue that is changed, or the light of a veil. */
export type SpotUse = 'grey' | 'hue' | 'veil';

/** Reads a spot of the picture for an adjustment of the frame at hand. */
export function useSpotPick(frame: Ref<Frame | undefined>, developing: Developing) {
  const session = useSession();
  const engines = useEngine();
  const notices = useNotices();
  /** What the next click is for. */
  const wants = ref<SpotUse>();

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
    const planes = light.map((value) => Float32Array.of(value));
    compileSteps(stepsBefore('colour', of.develop, space), space)([planes[0], planes[1], planes[2]]);
    const { h } = oklchOf(lmsMatrix(space), [planes[0][0], planes[1][0], planes[2][0]]);
    const { ranges } = { ...ADJUSTMENTS.colour.rest, ...of.develop.colour };
    const range = { centre: Math.round(h), width: 15, shoulder: 25, turn: 0, saturation: 0.2, lightness: 0 };
    developing.commit('colour', { ranges: [...ranges, range] }, of);
  }

  return { wants, pick, findVeilOf };
}
