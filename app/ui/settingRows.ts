import type { SettingRow } from '#core/refinements/settingRow.ts';

const UNITS: Record<SettingRow['unit'], { unit: string; shown?: number }> = {
  px: { unit: 'px' },
  share: { unit: '%', shown: 100 },
  degrees: { unit: '°' },
  stops: { unit: 'EV' },
  times: { unit: '×' },
  power: { unit: '' },
  kelvin: { unit: 'K' },
  tint: { unit: '' },
  permille: { unit: '‰', shown: 1000 },
};

/** Words of rows by their paths, joined by points. */
export type RowWords = Readonly<Record<string, { label: string; title?: string }>>;

export const wordsOf = (words: RowWords, { path }: SettingRow): { label: string; title?: string } =>
  words[path.join('.')] ?? { label: path.join(' ') };

/** How a row's number is written. */
export const unitOf = ({ unit }: SettingRow): { unit: string; shown?: number } => UNITS[unit];

/** Rows that are of use with some settings. */
export const rowsFor = (rows: readonly SettingRow[], settings: object): SettingRow[] =>
  rows.filter(({ when }) => !when || (settings as Settings)[when.setting] === when.is);

type Settings = Record<string, unknown>;

/** A row's number among settings; the usual one where none is set. */
export function numberOf(settings: object, { path, usual }: SettingRow): number {
  const found = path.reduce<unknown>((now, name) => (now as Settings | undefined)?.[name], settings);
  return typeof found === 'number' ? found : usual;
}

/** What changes of settings when a row's number becomes `value`: the outermost setting, whole. */
export const changeOf = (settings: object, { path }: SettingRow, value: number): object =>
  changeAt(settings as Settings, path, value);

function changeAt(settings: Settings, [name, ...rest]: readonly string[], value: number): Settings {
  if (rest.length === 0) return { [name]: value };
  const inner = settings[name] as Settings;
  return { [name]: { ...inner, ...changeAt(inner, rest, value) } };
}
