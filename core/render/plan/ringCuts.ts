import { StrongComponents } from '../../scene/strongComponents.ts';

/** What masks of a ring refer to. */
interface RingEdges {
  /** Masks that one refers to by links. */
  links: (from: string) => readonly string[];
  /** Masks that are followed from one. */
  followed: (from: string) => readonly string[];
}

/** References that are not followed when a ring of masks is seen from one of them: its own references are followed, and theirs, but none that leads
 * to it again; of further rings among those no reference is followed, since which of them came first would be chance.
 * @param key - The mask that it is seen from.
 * @returns Each as `from>to`. */
export function ringCuts(key: string, members: ReadonlySet<string>, { links, followed }: RingEdges): Set<string> {
  const within = [...members].flatMap((from) => links(from).flatMap((to) => (members.has(to) ? [{ from, to }] : [])));
  const cut = new Set(within.filter(({ to }) => to === key).map(({ from, to }) => `${from}>${to}`));
  cut.add(`${asRoot(key)}>${key}`);
  const rest = new StrongComponents((from) =>
    followed(from).filter((to) => members.has(to) && !cut.has(`${from}>${to}`)),
  );
  const ringOf = new Map<string, number>();
  let count = 0;
  for (const member of members)
    for (const group of rest.from(member)) {
      count++;
      if (group.length > 1) for (const each of group) ringOf.set(each, count);
    }
  for (const { from, to } of within)
    if (ringOf.has(from) && ringOf.get(from) === ringOf.get(to)) cut.add(`${from}>${to}`);
  return cut;
}

/** Name of the mask that a ring is seen from. */
export const asRoot = (key: string): string => `${key}, seen from itself`;
