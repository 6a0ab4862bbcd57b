import { describe, expect, it } from 'vitest';
import { nodeOf, resultOf } from '../../tests/renderScene.ts';
import { type PixelSource, planeOfNode, smallScene } from '../../tests/smallScene.ts';
import { moveOfGrid } from '../align/localFit.ts';
import { compose, mapPoint, shiftMatrix } from '../align/placement.ts';
import { decodeSrgb, encodeSrgb } from '../color/srgb.ts';
import { bentPlace, type Lens, middleOf } from '../raster/lens.ts';
import { invert3, type Matrix3 } from '../raster/matrix3.ts';
import { levelSize } from '../raster/size.ts';
import { withTile } from '../render/tiles/renderContext.ts';
import { developFrames } from '../scene/edits/developing.ts';
import { setBase } from '../scene/edits/frames.ts';
import { applyEdit } from '../scene/edits/index.ts';
import { placeFrames, setLocalFit } from '../scene/edits/placing.ts';
import type { Scene } from '../scene/scene.ts';
import { ADJUSTMENTS } from './list.ts';

const size = { width: 420, height: 300 };
/** Waves no finer than six pixels: band-limited, so that they can be read between pixels. */
const waves: PixelSource = (x, y) => {
  const value =
    30000 + 9000 * Math.sin(x / 2.1 + y / 9) + 8000 * Math.cos(y / 1.9 - x / 7) + 4000 * Math.sin((x + y) / 31);
  return [value, value * 0.9, 60000 - value];
};
const rounded: PixelSource = (x, y) => waves(x, y).map(Math.round) as unknown as ReturnType<PixelSource>;
const made = smallScene(size, [rounded, rounded]);
const [first, base] = made.frameIds;

type Change = Parameters<typeof developFrames>[0]['change'];
const develop = (scene: Scene, change: Change) => applyEdit(scene, developFrames({ frameIds: [first], change }));
const bent = (k1: number, k2 = 0, k3 = 0) => ({ ...ADJUSTMENTS.lens.rest, k1, k2, k3 });
const apart = (red: number, blue: number) => ({ ...ADJUSTMENTS.fringes.rest, red, blue });
const turned: Matrix3 = compose(
  shiftMatrix(-210, -150),
  [Math.cos(0.02), -Math.sin(0.02), 0, Math.sin(0.02), Math.cos(0.02), 0, 1e-5, -2e-5, 1],
  shiftMatrix(213.3, 146.6),
);
const place = (scene: Scene) =>
  applyEdit(
    scene,
    placeFrames({
      frameIds: [first],
      placement: {
        ...{ matrix: [...turned], model: 'similarity', verdict: 'good', reason: null },
        ...{ residualPx: 0, agreement: 1, stops: 0 },
      },
    }),
  );
const local = {
  columns: 3,
  rows: 3,
  dx: [0.4, -0.3, 0.6, 0, 0.5, -0.2, 0.3, 0.1, -0.4],
  dy: [0.1, 0.5, -0.2, -0.4, 0, 0.3, 0.2, -0.3, 0.4],
};
const planes = (scene: Scene, level = 0) => {
  const node = resultOf(applyEdit(scene, setBase({ frameId: first })));
  return [0, 1, 2].map((plane) => planeOfNode(node, plane, level, levelSize(size, level), made.context));
};

/** What the waves are where a pixel of the scene was taken: its place bent, moved, placed, and drawn larger by channel. */
function plainly(lens: Lens, placement: Matrix3, moved: typeof local | null, x: number, y: number): number[] {
  const at = bentPlace(lens, size, { x, y });
  const move = moved ? moveOfGrid(moved, size, at) : { x: 0, y: 0 };
  const inFrame = mapPoint(invert3(placement), { x: at.x - move.x, y: at.y - move.y });
  const middle = middleOf(size);
  return [1 + lens.red, 1, 1 + lens.blue].map(
    (scale, channel) =>
      waves(middle.x + scale * (inFrame.x - middle.x), middle.y + scale * (inFrame.y - middle.y))[channel],
  );
}

/** Largest difference from what is worked out plainly, as a share of full scale. */
function worst(scene: Scene, lens: Lens, placement: Matrix3, moved: typeof local | null): number {
  const found = planes(scene);
  const margin = 26;
  let most = 0;
  for (let y = margin; y < size.height - margin; y += 3)
    for (let x = margin; x < size.width - margin; x += 5)
      for (const [channel, value] of plainly(lens, placement, moved, x, y).entries())
        most = Math.max(most, Math.abs(found[channel][y * size.width + x] - value));
  return most / 65535;
}

const PLAIN: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];

describe('a lens that is straightened', () => {
  const lens: Lens = { bend: [-0.05, 0.012, -0.003], red: 0, blue: 0 };

  it('shows what lies where each pixel was taken', () => {
    expect(worst(develop(made.scene, { lens: bent(-0.05, 0.012, -0.003) }), lens, PLAIN, null)).toBeLessThan(0.002);
  });

  it('together with channels laid on each other, a placement and moves from place to place', () => {
    const all = { bend: lens.bend, red: 0.004, blue: -0.003 };
    const developed = develop(place(made.scene), { lens: bent(-0.05, 0.012, -0.003), fringes: apart(0.004, -0.003) });
    expect(worst(developed, all, turned, null)).toBeLessThan(0.002);
    const further = applyEdit(developed, setLocalFit({ frameId: first, local }));
    // The grid is taken at the corners of tiles, of which there are few in so small a picture.
    expect(worst(further, all, turned, local)).toBeLessThan(0.03);
  });

  it('is resampled once with its placement: fine waves keep their contrast as if it were placed alone', () => {
    const spread = (plane: ArrayLike<number>) => {
      const values: number[] = [];
      for (let y = 100; y < 200; y++) for (let x = 150; x < 270; x++) values.push(plane[y * size.width + x]);
      const mean = values.reduce((all, each) => all + each, 0) / values.length;
      return Math.sqrt(values.reduce((all, each) => all + (each - mean) ** 2, 0) / values.length);
    };
    const alone = spread(planes(place(made.scene))[0]);
    const both = spread(planes(develop(place(made.scene), { lens: bent(-0.01), fringes: apart(0.001, 0) }))[0]);
    expect(both / alone).toBeGreaterThan(0.99);
    expect(both / alone).toBeLessThan(1.01);
  });

  it('looks alike at a coarser level', () => {
    const scene = develop(place(made.scene), { lens: bent(-0.05, 0.01), fringes: apart(0.003, 0) });
    const [fine, coarse] = [planes(scene)[0], planes(scene, 1)[0]];
    const { width } = levelSize(size, 1);
    for (let y = 20; y < 130; y += 7)
      for (let x = 20; x < 190; x += 7) {
        const at = 2 * y * size.width + 2 * x;
        const mean = (fine[at] + fine[at + 1] + fine[at + size.width] + fine[at + size.width + 1]) / 4;
        expect(Math.abs(coarse[y * width + x] - mean)).toBeLessThan(2500);
      }
  });

  it('at rest leaves every bit, placed or not', () => {
    for (const scene of [made.scene, place(made.scene)]) {
      const rest = develop(scene, { lens: ADJUSTMENTS.lens.rest, fringes: ADJUSTMENTS.fringes.rest });
      expect(nodeOf(rest, { what: 'frame', at: first }).fixedKey).toEqual(
        nodeOf(scene, { what: 'frame', at: first }).fixedKey,
      );
    }
  });

  it('leaves nothing smeared where it draws borders in: the base is black there, a layer shows the base', () => {
    const pincushion = applyEdit(develop(made.scene, { lens: bent(0.1) }), setBase({ frameId: first }));
    const red = planeOfNode(resultOf(pincushion), 0, 0, size, made.context);
    expect([red[0], red[size.width - 1], red[(size.height - 1) * size.width]]).toEqual([0, 0, 0]);
    // By itself, and as it was taken, neither: its floats begin with black.
    for (const taken of [false, true]) {
      const alone = nodeOf(develop(made.scene, { lens: bent(0.1) }), { what: 'frame', at: first, taken });
      const [corner] = withTile(alone, { level: 0, tx: 0, ty: 0 }, made.context, ({ form, slots }) => {
        expect(form).toBe('floats');
        return made.table.slab.halfPlane(slots[0]);
      });
      expect(corner).toBe(0);
    }
    const barrel = applyEdit(develop(made.scene, { lens: bent(-0.1) }), setBase({ frameId: first }));
    expect(planeOfNode(resultOf(barrel), 0, 0, size, made.context)[0]).toBeGreaterThan(5000);
    expect(base).not.toBe(first);
  });
});

describe('corners that are lifted', () => {
  it('gain light by even powers of their distance from the middle, as far as they were taken from it', () => {
    const corners = { stops: 1.5, late: 0.4 };
    const scene = develop(made.scene, { lens: { ...bent(-0.05), corners } });
    const [straight, lifted] = [develop(made.scene, { lens: bent(-0.05) }), scene].map((each) => {
      const node = resultOf(applyEdit(each, setBase({ frameId: first })));
      return [0, 1, 2].map((plane) => planeOfNode(node, plane, 0, size, made.context));
    });
    const middle = middleOf(size);
    for (const [x, y] of [
      [0, 0],
      [419, 299],
      [210, 150],
      [300, 40],
      [17, 222],
    ]) {
      const at = bentPlace({ bend: [-0.05, 0, 0], red: 0, blue: 0 }, size, { x, y });
      const squared = ((at.x - middle.x) ** 2 + (at.y - middle.y) ** 2) / middle.radius ** 2;
      const gain = 1 + (2 ** 1.5 - 1) * squared * (0.6 + 0.4 * squared);
      for (const channel of [0, 1, 2]) {
        const i = y * size.width + x;
        const wanted = 65535 * Math.min(1, encodeSrgb(decodeSrgb(straight[channel][i] / 65535) * gain));
        expect(Math.abs(lifted[channel][i] - wanted)).toBeLessThan(1.5);
      }
    }
  });
});
