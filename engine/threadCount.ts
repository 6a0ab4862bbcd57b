/** How many threads render: both of two cores, else all but the one that the page needs. */
export function threadCount(cores: number): number {
  return cores <= 2 ? 2 : cores - 1;
}
