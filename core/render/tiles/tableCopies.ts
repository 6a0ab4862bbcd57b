import type { Arena } from '../../raster/arena.ts';

/** Values of a table: one for each of 16 bits. */
export const TABLE_VALUES = 65536;

/** Tables that a thread has in one piece at a time, as kernels want them; a mask of eight refined parts has two each. */
const MOST_COPIES = 20;

interface TableCopy {
  name: string;
  values: Uint16Array;
  /** How many are using it at the moment. */
  users: number;
}

/** Tables that a thread used last, each in one piece. */
export class TableCopies {
  readonly #arena: Arena;
  /** The latest last. */
  readonly #copies: TableCopy[] = [];

  constructor(arena: Arena) {
    this.#arena = arena;
  }

  /** Calls `use` with the copy of a name, filled first when it is not there. One that is in use is never overwritten. */
  lend<T>(name: string, fill: (values: Uint16Array) => void, use: (values: Uint16Array) => T): T {
    const copy = this.#take(name) ?? this.#filled(name, fill);
    this.#copies.push(copy);
    copy.users++;
    try {
      return use(copy.values);
    } finally {
      copy.users--;
    }
  }

  #take(name: string): TableCopy | undefined {
    const at = this.#copies.findIndex((copy) => copy.name === name);
    return at < 0 ? undefined : this.#copies.splice(at, 1)[0];
  }

  #filled(name: string, fill: (values: Uint16Array) => void): TableCopy {
    const idle = this.#copies.length < MOST_COPIES ? -1 : this.#copies.findIndex(({ users }) => users === 0);
    const values = idle < 0 ? this.#arena.samples(TABLE_VALUES) : this.#copies.splice(idle, 1)[0].values;
    // While it is filled it is on no list, so nobody else can have it.
    let filled = '';
    try {
      fill(values);
      filled = name;
    } finally {
      if (!filled) this.#copies.unshift({ name: '', values, users: 0 });
    }
    return { name, values, users: 0 };
  }
}
