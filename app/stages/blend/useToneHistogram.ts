import { type ComputedRef, computed } from 'vue';
import type { ItemId } from '#core/ids.ts';
import { newTonePart, type TonePart } from '#core/parts/tone.ts';
import { levelCount, levelForScale, type Size } from '#core/raster/size.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import { Lane } from '#engine/lanes.ts';
import { heightsOf } from '../../ui/histogramShape.ts';
import { useHistogram } from './useHistogram.ts';

/** About a third of a megapixel is counted: enough for every level. */
const COUNTED = 3e5;

/** The histogram of what a tone part reads, as a filled outline 256 wide.
 * @param height - Of the highest level. */
export function useToneHistogram(
  props: { seenFrom: ItemId; size: Size; tone: TonePart },
  height: number,
): ComputedRef<string> {
  // What is measured, as it is: light tones without a range.
  const measured = () => maskOfParts([{ ...newTonePart(props.tone.source), measure: props.tone.measure }]);
  const level = () =>
    levelForScale(Math.sqrt(COUNTED / (props.size.width * props.size.height)), levelCount(props.size));
  const request = () => ({ what: 'recipe', recipe: measured(), at: props.seenFrom }) as const;
  const histogram = useHistogram(Lane.Tones, request, level);
  return computed(() => {
    const tops = heightsOf(histogram.value?.tone).map(
      (top, i) => `L${i + 0.5} ${(height - top * (height - 4)).toFixed(1)}`,
    );
    return `M0 ${height}${tops.join('')}L256 ${height}Z`;
  });
}
