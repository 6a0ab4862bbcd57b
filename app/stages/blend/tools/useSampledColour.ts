import { LayerId } from '#core/ids.ts';
import { addLayer, setContent } from '#core/scene/edits/stack.ts';
import { showsSomething } from '#core/scene/tree.ts';
import { useBench } from '../../../stores/bench.ts';
import { useMaskTools } from '../../../stores/maskTools.ts';
import { useNotices } from '../../../stores/notices.ts';
import { useSession } from '../../../stores/session.ts';

/** A colour from next door is laid faintly, many times (common practice, no source). */
const STRENGTH = 0.2;

/** While its key is held the brush takes the colour under it; then it paints that: on the colour at hand as long as nothing is painted there,
 * or on a new one, laid so that brightness stays. */
export function useSampledColour(): (isHeld: boolean) => void {
  const tools = useMaskTools();
  const session = useSession();
  const bench = useBench();
  const notices = useNotices();

  function take(colour: [number, number, number]): void {
    const { layer } = tools;
    if (layer && 'colour' in layer.content && !showsSomething(layer)) {
      session.dispatch(setContent({ layerId: layer.id, content: { colour } }));
    } else {
      const id = LayerId.parse(crypto.randomUUID());
      session.dispatch(addLayer({ id, content: { colour }, above: bench.state.layerId, mode: 'color' }));
      bench.state.layerId = id;
    }
    bench.state.brush.effect = 'reveal';
    bench.state.brush.strength = STRENGTH;
    notices.tell('The brush paints the colour that you took, faintly and in the mode “color”: brightness stays.');
  }

  return (isHeld) => {
    if (session.readOnly) return;
    if (isHeld) {
      tools.takesColour = take;
      tools.tool = 'colour';
    } else if (tools.tool === 'colour') tools.tool = 'brush';
  };
}
