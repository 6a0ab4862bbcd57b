import { useBench } from '../stores/bench.ts';
import { useNotices } from '../stores/notices.ts';

/** In the browser's own storage: a pen has been seen. */
const STORED = 'lusket.pen';

/** Lets the pressure of a pen count when the first is seen, and says so.
 * @returns To be told of every pen. */
export function useFirstPen(): () => void {
  const bench = useBench();
  const notices = useNotices();
  let isKnown = localStorage.getItem(STORED) !== null;
  return () => {
    if (isKnown) return;
    isKnown = true;
    localStorage.setItem(STORED, 'seen');
    const { brush } = bench.state;
    if (brush.pressure === 'none') brush.pressure = 'strength';
    notices.tell(
      `The pressure of your pen sets the ${WORDS[brush.pressure]} of the brush. Touch, above the picture, has other ways.`,
      brush.pressure === 'strength'
        ? {
            action: {
              label: 'Let it set the size',
              run: () => {
                bench.state.brush.pressure = 'size';
              },
            },
          }
        : {},
    );
  };
}

const WORDS = { strength: 'strength', size: 'size', both: 'size and strength' } as const;
