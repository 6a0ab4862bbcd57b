import { setStencilOn } from '#core/scene/edits/stencils.ts';
import { useBench } from '../../stores/bench.ts';
import { strengthAfter } from '../../stores/benchState.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import { useShortcuts } from '../../useShortcuts.ts';

/** Keys of whoever looks at a picture and paints on masks: views, before and after, the brush, which mask is open.
 * @param resize - Makes the brush larger by a factor, where it is not the one that masks are painted with. */
export function useBenchKeys(of: {
  full: () => void;
  toggleBlink: (what: 'layer' | 'before') => void;
  resize?: (factor: number) => void;
}): void {
  const session = useSession();
  const bench = useBench();
  const tools = useMaskTools();

  const brush = () => bench.state.brush;
  const look = (to: typeof bench.state.look) => () => {
    bench.state.look = to;
  };
  const open = (mask: typeof bench.state.of) => () => {
    bench.state.of = mask;
  };
  function resize(factor: number): void {
    if (of.resize) of.resize(factor);
    else brush().size = Math.round(Math.min(4000, Math.max(1, brush().size * factor)));
  }
  function strengthen(steps: 1 | -1): void {
    brush().strength = strengthAfter(brush().strength, steps);
  }
  /** Where there is none the bench tells how one is made. */
  function toggleStencil(): void {
    const item = tools.stencilled;
    if (item?.stencil) session.dispatch(setStencilOn({ layerId: item.id, on: !item.stencilOn }));
    else bench.state.of = 'stencil';
  }

  useShortcuts({
    'look.picture': look('picture'),
    'look.grey': look('grey'),
    'look.overlay': look('overlay'),
    'look.edge': look('edge'),
    'look.layer': look('layer'),
    'look.limits': () => {
      bench.state.limits = !bench.state.limits;
    },
    'look.loupe': () => {
      bench.state.loupe = !bench.state.loupe;
    },
    'look.blink': () => of.toggleBlink('layer'),
    'before.blink': () => of.toggleBlink('before'),
    'before.divide': () => {
      bench.divides = !bench.divides;
    },
    before: (isHeld) => {
      bench.before = isHeld;
    },
    'look.alone': (isHeld) => {
      bench.tried = isHeld ? 'alone' : undefined;
    },
    'look.half': (isHeld) => {
      bench.tried = isHeld ? 'half' : undefined;
    },
    full: of.full,
    'brush.swap': () => {
      brush().effect = brush().effect === 'reveal' ? 'hide' : 'reveal';
    },
    'brush.soften': () => {
      brush().effect = brush().effect === 'soften' ? 'even' : 'soften';
    },
    'brush.smaller': () => resize(1 / 1.2),
    'brush.larger': () => resize(1.2),
    'brush.weaker': () => strengthen(-1),
    'brush.stronger': () => strengthen(1),
    'mask.mask': open('mask'),
    'mask.guard': open('guard'),
    'mask.stencil': open('stencil'),
    'mask.useStencil': toggleStencil,
    'mask.paint': () => {
      bench.state.paintsOn = bench.state.of;
    },
  });
}
