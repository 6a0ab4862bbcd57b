import { describe, expect, it } from 'vitest';
import { FrameId, ItemId } from '#core/ids.ts';
import { kindOf, PART_KINDS } from '#core/parts/list.ts';
import { AT_REST, REFINEMENTS, Refinements } from '#core/refinements/list.ts';
import { changeOf, numberOf, rowsFor, unitOf } from '../../ui/settingRows.ts';
import { PART_WORDS, REFINEMENT_GROUPS } from './rowWords.ts';

const pathsOf = (rows: readonly { path: readonly string[] }[]) => rows.map(({ path }) => path.join('.')).sort();

describe('rows of settings', () => {
  it('have words, each once, for every refinement', () => {
    const worded = REFINEMENT_GROUPS.flatMap(({ words }) => Object.keys(words)).sort();
    expect(worded).toEqual(pathsOf(REFINEMENTS.flatMap(({ rows }) => rows)));
  });

  it.each(PART_KINDS)('have words for the part of kind %s', (kind) => {
    expect(Object.keys(PART_WORDS[kind]).sort()).toEqual(pathsOf(kindOf({ kind }).rows));
  });

  it('lead to settings: both ends and what a reset gives are as the schema allows', () => {
    for (const { rows } of REFINEMENTS)
      for (const row of rows)
        for (const value of [row.min, row.max, row.usual]) {
          const settings = Refinements.parse({ ...AT_REST, ...changeOf(AT_REST, row, value) });
          expect(numberOf(settings, row)).toBe(value);
        }
    const beginnings = {
      size: { width: 600, height: 400 },
      base: FrameId.parse('a'),
      frame: FrameId.parse('b'),
      otherMask: { item: ItemId.parse('b') },
    };
    for (const kind of PART_KINDS) {
      const { begin, rows, schema } = kindOf({ kind });
      const part = begin?.(beginnings);
      if (!part) continue;
      for (const row of rows)
        for (const value of [row.min, row.max, row.usual])
          expect(numberOf(schema.parse({ ...part, ...changeOf(part, row, value) }) as object, row)).toBe(value);
    }
  });

  it('are left out where they are of no use', () => {
    const { rows } = kindOf({ kind: 'difference' });
    const shown = (mode: string) => pathsOf(rowsFor(rows, { mode }));
    expect(shown('any')).toEqual(['from', 'shoulder', 'stops']);
    expect(shown('lights')).toEqual(['around', 'from', 'shoulder']);
  });

  it('change one number of several and leave the others', () => {
    const row = REFINEMENTS.flatMap(({ rows }) => rows).find(({ path }) => path[1] === 'gamma');
    expect(row && changeOf(AT_REST, row, 2)).toEqual({ levels: { ...AT_REST.levels, gamma: 2 } });
    expect(row && unitOf(row).unit).toBe('');
  });
});
