import alea from 'alea';
import { describe, expect, it } from 'vitest';
import { loadPixels, madeFrame, type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { encodeSrgb } from '../color/srgb.ts';
import { IDENTITY3 } from '../raster/matrix3.ts';
import { frameKey } from '../render/nodes/frameNode.ts';
import { compilePlan, type RenderPlan } from '../render/plan/plan.ts';
import type { TileNode } from '../render/tiles/renderContext.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { placeFrames, setLocalFit } from '../scene/edits/placing.ts';
import { AlignCancelled } from './cancelled.ts';
import { arrowsOf, farthest, fitLocally, type LocalGrid, moveOfGrid } from './localFit.ts';
import { compose, type Point, shiftMatrix } from './placement.ts';
import { TileSource } from './tileSource.ts';

const size = { width: 1000, height: 660 };
const random = alea('leaves');
/** Smooth waves of many directions and sizes, which can be read anywhere between pixels. */
const WAVES = Array.from({ length: 26 }, () => {
  const angle = random() * Math.PI * 2;
  const length = 7 * 20 ** random();
  return { x: Math.cos(angle) / length, y: Math.sin(angle) / length, phase: random() * 7, height: length / 26 };
});
const SUM = WAVES.reduce((sum, { height }) => sum + height * height, 0) ** 0.5;
const lightAt = (x: number, y: number) =>
  0.15 *
  2 **
    ((1.6 *
      WAVES.reduce(
        (sum, wave) => sum + wave.height * Math.sin(2 * Math.PI * (wave.x * x + wave.y * y) + wave.phase),
        0,
      )) /
      SUM);

/** How far things stand from where a flat world would have them: a near bough in the wind on the left, nothing on the right. */
const blown = ({ x, y }: Point): Point => {
  const share = Math.exp(-(((x - 300) / 180) ** 2) - ((y - 320) / 160) ** 2);
  return { x: 3.4 * share, y: -1.6 * share };
};
const grey = (light: number): [number, number, number] => {
  const value = Math.round(65535 * encodeSrgb(Math.min(1, light)));
  return [value, value, value];
};
const base: PixelSource = (x, y) => grey(lightAt(x, y));
/** A stop darker, and a place of the base is seen where the wind has blown it to. */
const frame: PixelSource = (x, y) => {
  // The base's place whose move leads here, found in a few rounds.
  let at = { x, y };
  for (let i = 0; i < 5; i++) at = { x: x + blown(at).x, y: y + blown(at).y };
  return grey(lightAt(at.x, at.y) / 2);
};

const made = smallScene(size, [frame, base, base]);
const [moved, still] = made.frameIds;
const sourceOf = (id: typeof moved) => {
  const { file, reading } = made.scene.frames.find((each) => each.id === id) as (typeof made.scene.frames)[0];
  return new TileSource(made.table, frameKey(file.sha256, reading), size);
};
const fitted = fitLocally(sourceOf(still), sourceOf(moved), IDENTITY3, { limit: 8 });
const render = (local: LocalGrid | null) => {
  const scene = applyEdit(
    made.scene,
    setLocalFit({ frameId: moved, local: local && { ...local, dx: [...local.dx], dy: [...local.dy] } }),
  );
  return planeOfNode(
    (compilePlan(scene) as RenderPlan).node({ what: 'frame', at: moved }) as TileNode,
    0,
    0,
    size,
    made.context,
  );
};

describe('a local fit', () => {
  it('finds what the wind has moved, and leaves alone what it has not', () => {
    const around = moveOfGrid(fitted, size, { x: 300, y: 320 });
    expect(Math.hypot(around.x - 3.4, around.y + 1.6)).toBeLessThan(0.4);
    expect(farthest(fitted)).toBeLessThan(4);
    const far = moveOfGrid(fitted, size, { x: 850, y: 100 });
    expect(Math.hypot(far.x, far.y)).toBeLessThan(0.05);
  });

  it('brings the frame onto the base when it is shown, and is off by default', () => {
    const wanted = (x: number, y: number) => 65535 * encodeSrgb(lightAt(x, y) / 2);
    const error = (plane: Uint16Array) => {
      let sum = 0;
      for (let y = 240; y < 400; y++)
        for (let x = 220; x < 380; x++) sum += Math.abs(plane[y * size.width + x] - wanted(x, y)) / 65535 / (160 * 160);
      return sum;
    };
    expect(made.scene.frames.every(({ local }) => local === null)).toBe(true);
    const [before, after] = [render(null), render(fitted)].map(error);
    expect(after).toBeLessThan(before / 4);
  });

  it('has no seams between tiles', () => {
    const [own, plain] = [
      render(fitted),
      render({ ...fitted, dx: fitted.dx.map(() => 0), dy: fitted.dy.map(() => 0) }),
    ];
    const jump = (plane: Uint16Array, x: number) => {
      let sum = 0;
      for (let y = 260; y < 380; y++) sum += Math.abs(plane[y * size.width + x] - plane[y * size.width + x - 1]);
      return sum;
    };
    // As even across the edge of a tile as the picture itself is there.
    expect(jump(own, 256) / jump(own, 250)).toBeLessThan(2 * Math.max(1, jump(plain, 256) / jump(plain, 250)));
  });

  it('that moves nothing is the frame as it is', () => {
    const nothing = { ...fitted, dx: fitted.dx.map(() => 0), dy: fitted.dy.map(() => 0) };
    const [own, plain] = [render(nothing), render(null)];
    let worst = 0;
    for (let i = 0; i < own.length; i += 7) worst = Math.max(worst, Math.abs(own[i] - plain[i]));
    expect(worst).toBeLessThanOrEqual(1);
  });

  it('is limited in size', () => {
    expect(farthest(fitLocally(sourceOf(still), sourceOf(moved), IDENTITY3, { limit: 1 }))).toBeLessThan(1);
  });

  it('goes on from a placement, and belongs to it', () => {
    const shifted = made.scene.frames[0];
    const own = madeFrame(77, size);
    loadPixels(made.loader, own, (x, y) => frame(x + 6, y - 4));
    const source = new TileSource(made.table, frameKey(own.file.sha256, own.reading), size);
    const found = fitLocally(sourceOf(still), source, shiftMatrix(6, -4), { limit: 8 });
    const around = moveOfGrid(found, size, { x: 300, y: 320 });
    expect(Math.hypot(around.x - 3.4, around.y + 1.6)).toBeLessThan(0.4);
    const local = { ...found, dx: [...found.dx], dy: [...found.dy] };
    const placement = {
      matrix: [...compose(shiftMatrix(2, 1))],
      model: 'hand' as const,
      verdict: null,
      reason: null,
      residualPx: null,
      agreement: null,
      stops: null,
    };
    const fit = applyEdit(made.scene, setLocalFit({ frameId: shifted.id, local }));
    expect(applyEdit(fit, placeFrames({ frameIds: [shifted.id], placement })).frames[0].local).toBeNull();
  });

  it('tells where its arrows are, and can be stopped', () => {
    const arrows = arrowsOf(fitted, size);
    expect(arrows).toHaveLength(fitted.columns * fitted.rows);
    expect(arrows.at(-1)?.at).toEqual({ x: size.width - 1, y: size.height - 1 });
    expect(() =>
      fitLocally(sourceOf(still), sourceOf(moved), IDENTITY3, { limit: 8, isCancelled: () => true }),
    ).toThrow(AlignCancelled);
  });
});
