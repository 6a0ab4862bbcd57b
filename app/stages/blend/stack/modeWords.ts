import { MODE_GROUPS, type ModeGroup, type ModeName } from '#core/modes/list.ts';

/** Columns of the board, and what they do to the picture. */
export const MODE_COLUMNS: readonly { title: string; groups: readonly ModeGroup[] }[] = [
  { title: 'plain', groups: ['plain'] },
  { title: 'darken', groups: ['darken'] },
  { title: 'lighten', groups: ['lighten'] },
  { title: 'contrast', groups: ['contrast'] },
  { title: 'compare', groups: ['compare'] },
  { title: 'colour', groups: ['colour'] },
];

/** All modes in the order of the board, column by column. */
export const MODE_ORDER: readonly ModeName[] = MODE_COLUMNS.flatMap(({ groups }) =>
  groups.flatMap((group) => [...MODE_GROUPS[group]]),
);

/** The mode some steps further on the board; at its ends it stays. */
export const modeAfter = (mode: ModeName, steps: number): ModeName =>
  MODE_ORDER[Math.min(MODE_ORDER.length - 1, Math.max(0, MODE_ORDER.indexOf(mode) + steps))];
