import { describe, expect, it } from 'vitest';
import { randomDevelop } from '../../tests/randomDevelop.ts';
import { readSettings, SettingsFileError, writeSettings } from './settingsFile.ts';

const fails = (raw: unknown): string => {
  try {
    readSettings(typeof raw === 'string' ? raw : JSON.stringify(raw));
  } catch (error) {
    expect(error).toBeInstanceOf(SettingsFileError);
    return (error as Error).message;
  }
  return '';
};

describe('a file of settings', () => {
  it('is read as it was written, whatever the settings', () => {
    for (let seed = 0; seed < 20; seed++) {
      const set = { name: `Dämmerung ${seed}`, develop: JSON.parse(JSON.stringify(randomDevelop(`set ${seed}`))) };
      expect(readSettings(writeSettings(set))).toEqual(set);
    }
  });

  it('that is none, is newer, or holds what cannot be is refused with a sentence that says why', () => {
    expect(fails('exposure=1')).toContain('no JSON');
    expect(fails(null)).toContain('not a file of settings');
    expect(fails([1, 2])).toContain('not a file of settings');
    expect(fails({ name: 'x', develop: {} })).toContain('not a file of settings');
    expect(fails({ lusketSettings: 1, name: '', develop: {} })).toContain('not a file of settings');
    expect(fails({ lusketSettings: 2, name: 'x', develop: { glow: {} } })).toContain('newer');
    expect(fails({ lusketSettings: 1, name: 'x', develop: { glow: {} } })).toContain('glow');
    expect(fails({ lusketSettings: 1, name: 'x', develop: { exposure: { stops: 12 } } })).toContain('exposure');
    expect(fails({ lusketSettings: 1, name: 'x', develop: { exposure: { stops: 1, more: 2 } } })).toContain('exposure');
  });
});
