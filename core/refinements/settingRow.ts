/** A number that an editor shows as a row: where it lies among the settings, and what it may be. Words are the application's. */
export interface SettingRow {
  /** Names of the setting, from the outside inwards: `levels`, `black`. */
  readonly path: readonly string[];
  readonly min: number;
  readonly max: number;
  readonly step: number;
  /** What it is counted in; a share is shown as per cent. */
  readonly unit: 'px' | 'share' | 'degrees' | 'stops' | 'times' | 'power' | 'kelvin' | 'tint' | 'permille';
  readonly usual: number;
  /** Equal steps of the hand multiply, rather than add. */
  readonly geometric?: boolean;
  /** It is of use only where another setting has one value. */
  readonly when?: { readonly setting: string; readonly is: string };
  /** It is of use only while its refinement does something. */
  readonly isDetail?: boolean;
}
