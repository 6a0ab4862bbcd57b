import type { Size } from '../raster/size.ts';
import { CHECKS, type CheckName, type Found } from './checkedBlock.ts';

/** A place worth looking at: the strongest finding there, and how far others like it reach around. */
export interface Visit extends Found {
  /** Names it as long as nothing changes there. */
  id: string;
  /** Half the side of the square that it takes up, in scene pixels. */
  radius: number;
  /** Share of the picture that findings of it cover. */
  area: number;
}

/** What makes findings a visit: how strong the strongest has to be, on the finest level or on coarser ones, which single twigs do not reach, and
 * how many cells like it there have to be. */
const LEAST: Record<CheckName, { strength: number; wide?: number; cells: number }> = {
  rims: { strength: 3.2, wide: 2.2, cells: 5 },
  seams: { strength: 2, cells: 6 },
  flat: { strength: 1.3, cells: 6 },
  light: { strength: 2, cells: 3 },
  ghosts: { strength: 1.9, cells: 3 },
  noise: { strength: 1, cells: 6 },
  limits: { strength: 1.5, cells: 8 },
  colours: { strength: 1.7, cells: 3 },
  bare: { strength: 1, cells: 2 },
};

/** Findings this near to a stronger one, of the longest side, are the same place. */
const SAME_PLACE = 0.06;

/** More places of one check are not told: whoever has so many mends the cause. */
const MOST_VISITS = 40;

/** Places to visit, by check as they are listed, the worst first. */
export function visitsOf(found: readonly Found[], size: Size): Visit[] {
  const bare = found.filter(({ check }) => check === 'bare');
  // Along an edge that is bare there are seams and rims as well: one place is told once.
  const rest = found.filter((each) => !ALONG_MASKS.has(each.check) || !bare.some((edge) => isNear(each, edge)));
  return CHECKS.flatMap((check) =>
    visitsOfOne(
      rest.filter((each) => each.check === check),
      check,
      size,
    ),
  );
}

const ALONG_MASKS: ReadonlySet<CheckName> = new Set(['rims', 'seams', 'colours', 'flat', 'ghosts']);

const isNear = (a: Found, b: Found): boolean =>
  a.item === b.item && Math.max(Math.abs(a.x - b.x), Math.abs(a.y - b.y)) < 4 * (a.reach + b.reach);

function visitsOfOne(found: readonly Found[], check: CheckName, size: Size): Visit[] {
  const near = SAME_PLACE * Math.max(size.width, size.height);
  const rest = [...found].sort((a, b) => b.strength - a.strength || a.y - b.y || a.x - b.x);
  const least = LEAST[check];
  const finest = Math.min(...found.map(({ reach }) => reach));
  // Of wide places fewer are as much.
  const needed = (reach: number) => Math.max(2, Math.ceil((least.cells * finest) / reach));
  const visits: Visit[] = [];
  const taken = new Uint8Array(rest.length);
  for (const [index, seed] of rest.entries()) {
    if (visits.length >= MOST_VISITS) break;
    const isWide = seed.reach > finest && least.wide !== undefined;
    if (taken[index] || seed.strength < (isWide ? (least.wide as number) : least.strength)) continue;
    const like: Found[] = [];
    for (let i = index; i < rest.length; i++) {
      const each = rest[i];
      if (taken[i] || Math.hypot(each.x - seed.x, each.y - seed.y) > near + seed.reach) continue;
      // Weaker ones of other kinds there are what the same cause does to its other side.
      taken[i] = 1;
      if (each.kind === seed.kind) like.push(each);
    }
    const alike = like.filter(({ reach }) => reach === seed.reach);
    if (alike.length >= needed(seed.reach)) visits.push(visitOf(seed, alike, size));
  }
  return visits;
}

function visitOf(seed: Found, alike: readonly Found[], { width, height }: Size): Visit {
  const radius =
    Math.max(...alike.map(({ x, y }) => Math.max(Math.abs(x - seed.x), Math.abs(y - seed.y)))) + seed.reach;
  const area = (alike.length * (2 * seed.reach) ** 2) / (width * height);
  const place = [seed.x, seed.y].map((at) => Math.round(at / seed.reach)).join(' ');
  return { ...seed, id: `${seed.check} ${seed.kind ?? ''} ${place} ${seed.reach}`, radius, area };
}
