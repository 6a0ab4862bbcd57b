/** What a pattern of file names may name. */
export interface NameFacts {
  scene: string;
  preset: string;
  /** When the base frame was taken, `2025-10-12T06:41:07`; null where no camera told. */
  takenAt: string | null;
  width: number;
  height: number;
  /** Of a layer, a mask or a frame that is written by itself. */
  item?: string;
  /** Its number, from 1 on. */
  number?: number;
}

export const NAME_PARTS = ['scene', 'preset', 'date', 'time', 'width', 'height', 'item', 'number'] as const;

/** Longest name that is made, without its ending: file systems take 255 bytes. */
const LONGEST = 120;

/** Signs that file systems forbid, and those that no name shows. */
const FORBIDDEN = /[\\/:*?"<>|\p{Cc}]+/gu;
/** Names that one file system keeps for itself, whatever their ending. */
const KEPT = /^(con|prn|aux|nul|com\d|lpt\d)$/i;

/** A name that every file system takes: forbidden signs become a dash, and nothing leads out of the folder. */
export function safeName(name: string): string {
  const plain = name.replace(FORBIDDEN, '-').replace(/^[. ]+|[. ]+$/g, '');
  const short = Array.from(plain).slice(0, LONGEST).join('').trimEnd();
  if (short === '') return 'picture';
  return KEPT.test(short) ? `${short}-` : short;
}

/** Words in braces that a pattern has and that mean nothing. */
export const unknownParts = (pattern: string): string[] =>
  [...pattern.matchAll(/\{([^{}]*)\}/g)].map(([, name]) => name).filter((name) => !isPart(name));

const isPart = (name: string): name is (typeof NAME_PARTS)[number] => (NAME_PARTS as readonly string[]).includes(name);

/** The name of a file, without its ending. Words in braces that are not known stay as they are. */
export function fileNameOf(pattern: string, facts: NameFacts): string {
  const [date, time] = (facts.takenAt ?? '').split('T');
  const values: Record<(typeof NAME_PARTS)[number], string> = {
    scene: facts.scene,
    preset: facts.preset,
    date: date || 'undated',
    time: (time ?? '').slice(0, 8).replaceAll(':', '-'),
    width: String(facts.width),
    height: String(facts.height),
    item: facts.item ?? '',
    number: facts.number === undefined ? '' : String(facts.number).padStart(2, '0'),
  };
  const filled = pattern.replace(/\{([^{}]*)\}/g, (whole, name: string) => (isPart(name) ? values[name] : whole));
  return safeName(filled.replace(/[ -]+$/, ''));
}

/** A name that is not taken yet: `shore`, `shore 2`.
 * @param taken - Whole names, in small letters.
 * @param ending - What follows it, with its point. */
export function freeName(name: string, taken: ReadonlySet<string>, ending = ''): string {
  for (let number = 1; ; number++) {
    const tried = number === 1 ? name : `${name} ${number}`;
    if (!taken.has((tried + ending).toLowerCase())) return tried;
  }
}
