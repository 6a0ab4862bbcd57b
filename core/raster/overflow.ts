/** Where planes go that memory has no room for, and come back from. */
export interface Overflow {
  /** Stores the planes of some slots at a place, waiting until it is done.
   * @param place - Counted from 0; what was there before is overwritten.
   * @returns Whether there was room. */
  write(place: number, slots: readonly number[]): boolean;
  /** Reads the planes at a place into slots, waiting until it is done.
   * @returns Whether they could be read. */
  read(place: number, slots: readonly number[]): boolean;
}

/** Places that an overflow has at most: 96 KiB each, 12 GiB in all. */
export const OVERFLOW_PLACES = 131_072;
