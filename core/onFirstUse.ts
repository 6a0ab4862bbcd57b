/** Something that is made when it is first asked for. */
export function onFirstUse<T extends object>(make: () => T): () => T {
  let made: T | undefined;
  return () => {
    made ??= make();
    return made;
  };
}
