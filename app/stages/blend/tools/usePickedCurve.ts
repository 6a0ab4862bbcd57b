import { lmsMatrix, oklchOf } from '#core/color/oklab.ts';
import { decodeSrgb } from '#core/color/srgb.ts';
import type { ADJUSTMENTS } from '#core/develop/list.ts';
import { smoothCurve } from '#core/masks/greyCurve.ts';
import { setAdjustment } from '#core/scene/edits/stack.ts';
import { sceneSize } from '#core/scene/scene.ts';
import { useEngine } from '../../../stores/engine.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useSession } from '../../../stores/session.ts';
import type { PickedCurve } from './curveTool.ts';

type Curves = (typeof ADJUSTMENTS)['curve']['rest'];

/** The curve of the adjustment at hand, and tones of what lies below it. */
export function usePickedCurve(): PickedCurve {
  const tools = useMaskTools();
  const session = useSession();
  const engines = useEngine();
  const points = () => (tools.item?.item === 'adjustment' ? (tools.item.settings as Curves)[tools.curveOver] : []);

  return {
    points,
    valueOf: (x) => (points().length >= 2 ? smoothCurve(points())(x) : x),
    preview: (moved) => {
      if (tools.item)
        session.dispatch(
          setAdjustment({ id: tools.item.id, change: { [tools.curveOver]: moved.map(({ x, y }) => ({ x, y })) } }),
          'mask bench',
        );
    },
    toneAt: async ({ x, y }) => {
      const size = sceneSize(session.scene);
      if (!tools.item || !size || x < 0 || y < 0 || x >= size.width || y >= size.height) return undefined;
      const { engine } = await engines.start();
      const [rgb] =
        (await engine.probe([{ what: 'source', source: 'below', at: tools.item.id }], Math.floor(x), Math.floor(y))) ??
        [];
      if (!rgb) return undefined;
      const [r, g, b] = rgb.map((value) => value / 65535);
      const light: [number, number, number] = [decodeSrgb(r), decodeSrgb(g), decodeSrgb(b)];
      return {
        all: (r + 2 * g + b) / 4,
        red: r,
        green: g,
        blue: b,
        lightness: oklchOf(lmsMatrix(session.scene.workingSpace), light).l,
      }[tools.curveOver];
    },
  };
}
