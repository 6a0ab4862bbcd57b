import alea from 'alea';
import { expect, it } from 'vitest';
import { planeOfNode, smallScene } from '../../../tests/smallScene.ts';
import { mapPoint } from '../../align/placement.ts';
import { PLAIN_LENS } from '../../raster/lens.ts';
import { invert3, type Matrix3 } from '../../raster/matrix3.ts';
import { sceneExtent } from '../tiles/renderContext.ts';
import { InsideNode } from './insideNode.ts';

const size = { width: 300, height: 270 };

it('a frame is where its placement says, whatever that is, and fades in over two pixels', () => {
  const { context } = smallScene(size, [() => [0, 0, 0]]);
  const random = alea('inside');
  const between = (from: number, to: number) => from + (to - from) * random();
  for (let run = 0; run < 60; run++) {
    const [turn, scale] = [run % 4 === 0 ? 0 : between(-3.2, 3.2), between(0.9, 2.5)];
    const [c, s] = [scale * Math.cos(turn), scale * Math.sin(turn)];
    const tilt = run % 3 === 0 ? between(-0.0005, 0.0005) : 0;
    const placement: Matrix3 = [c, -s, between(-200, 200), s, c, between(-200, 200), tilt, -tilt / 2, 1];
    const frame = { width: Math.round(between(40, 400)), height: Math.round(between(40, 400)) };
    const node = new InsideNode({ placement, local: null, lens: PLAIN_LENS }, frame, sceneExtent(size));
    const plane = planeOfNode(node, 0, 0, size, context);
    const toFrame = invert3(placement);
    let wrong = 0;
    for (let i = 0; i < plane.length; i++) {
      const { x, y } = mapPoint(toFrame, { x: i % size.width, y: Math.floor(i / size.width) });
      const way = Math.min(x, y, frame.width - 1 - x, frame.height - 1 - y);
      const expected = Math.round(65535 * Math.min(1, Math.max(0, way / 2)));
      if (Math.abs(plane[i] - expected) > 1) wrong++;
    }
    expect(wrong, `run ${run}`).toBe(0);
  }
});
