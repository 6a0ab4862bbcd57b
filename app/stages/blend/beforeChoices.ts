import type { Before } from '../../stores/benchState.ts';

/** What the picture can be compared with.
 * @param finish - Of the finishing steps, above the blend.
 * @param since - What the chosen step of the history is called, if one is. */
export const beforeChoices = (finish: boolean, since: string | undefined): { value: Before; label: string }[] => [
  { value: 'base', label: finish ? 'the blend' : 'the base alone' },
  { value: 'layer', label: finish ? 'without this step' : 'without this card' },
  ...(finish ? [] : [{ value: 'group' as const, label: 'without its group' }]),
  ...(since === undefined ? [] : [{ value: 'step' as const, label: since }]),
];
