import type { BaseChange } from '#core/scene/baseChange.ts';

/** What changes with another base, a sentence each.
 * @param names - Of the new base and of the present one. */
export function sayBaseChange(
  { setAside, comeBack, readers, isPlaced }: BaseChange,
  { base, former }: { base: string; former: string },
): string[] {
  const lines: string[] = [];
  if (setAside.length > 0)
    lines.push(
      `The layer of ${base} is set aside with its mask. It comes back, in its place, when another frame is the base.`,
    );
  if (comeBack.length > 0) lines.push(`The layer of ${former} comes back with its mask.`);
  else if (former) lines.push(`${former}, the base so far, becomes a hidden layer.`);
  if (readers > 0)
    lines.push(
      readers === 1
        ? `One mask reads the tones of the base: it will read those of ${base}.`
        : `${readers} masks read the tones of the base: they will read those of ${base}.`,
    );
  if (isPlaced)
    lines.push(
      `All frames stay aligned. ${base} may not reach the edges of the picture: what it leaves bare is black, until you crop to the common area.`,
    );
  return lines;
}
