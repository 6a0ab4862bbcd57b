import { z } from 'zod';
import { type FallProfile, PROFILE_STEPS } from '../kernels/gradient.ts';
import { gradientProfile } from '../masks/gradientProfile.ts';
import { TILE } from '../raster/size.ts';
import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { publishCoverage } from '../render/tiles/coverageTile.ts';
import {
  type Extent,
  keepBriefly,
  type RenderContext,
  RenderError,
  type Spot,
  type TileNode,
  withTile,
} from '../render/tiles/renderContext.ts';
import { NO_PICTURE } from '../render/tiles/valueTable.ts';
import { definePart } from './definePart.ts';
import { partBase, plainPart } from './partBase.ts';
import { nearPoint, ScenePoint } from './scenePoint.ts';

/** A fall along a line: all up to where it starts, nothing from where it ends, on lines at right angles to it. */
export const GradientPart = z.strictObject({
  kind: z.literal('gradient'),
  ...partBase,
  /** Scene points. */
  start: ScenePoint,
  end: ScenePoint,
  /** How it falls: evenly, or slowly at both ends. */
  profile: z.enum(['linear', 'smooth']),
  /** Where it has fallen by half, as a share of the way. */
  middle: z.number().min(0.05).max(0.95),
});
export type GradientPart = z.infer<typeof GradientPart>;

export const gradient = definePart({
  schema: GradientPart,
  begin: ({ size: { width, height } }): GradientPart => ({
    kind: 'gradient',
    ...plainPart('gradient'),
    start: { x: width / 2, y: height * 0.35 },
    end: { x: width / 2, y: height * 0.6 },
    profile: 'smooth',
    middle: 0.5,
  }),
  withNearPlaces: (part, near) => ({ ...part, start: nearPoint(part.start, near), end: nearPoint(part.end, near) }),
  build: (part, { extent }) => new GradientNode(part, extent),
  rows: [{ path: ['middle'], min: 0.05, max: 0.95, step: 0.01, unit: 'share', usual: 0.5 }],
});

const EVEN = keyOf('gradient, even', 1);

/** How far along a gradient the first pixel of a tile lies, and what a step to the right and down adds. */
interface Fall {
  start: number;
  across: number;
  down: number;
}

/** A gradient's fall at even steps, as a tile of its own: one thread makes it, all have it. */
class ProfileTile implements TileNode {
  readonly extent = NO_PICTURE;
  readonly fixedKey: NodeKey;
  readonly #part: GradientPart;

  constructor(part: GradientPart) {
    this.#part = part;
    this.fixedKey = keyOf('profile', [part.profile, part.middle]);
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make({ level, tx, ty }: Spot, key: NodeKey, { table }: RenderContext): PinnedTile {
    const slots = table.reserve(1);
    if (!slots) throw new RenderError('memory-full', 'a profile found no room');
    table.slab.halfPlane(slots[0]).set(gradientProfile(this.#part));
    return table.publish(key, level, tx, ty, { form: 'planes', slots });
  }
}

/** Coverage of a gradient. */
class GradientNode implements TileNode {
  readonly extent: Extent;
  readonly #part: GradientPart;
  readonly #key: NodeKey;
  /** How it falls when it does so neither evenly nor plainly smoothly. */
  readonly #bent: ProfileTile;

  constructor(part: GradientPart, extent: Extent) {
    this.extent = extent;
    this.#part = part;
    const { start, end, profile, middle } = part;
    this.#bent = new ProfileTile(part);
    this.#key = keyOf('gradient', [start, end, profile, middle]);
  }

  /** Tiles that it does not reach are alike: all or nothing. */
  keyAt(spot: Spot): NodeKey {
    const all = this.#evenValue(this.#fallAt(spot));
    return all === undefined ? this.#key : mixKeys(EVEN, all);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const fall = this.#fallAt(spot);
    const value = this.#evenValue(fall);
    if (value !== undefined) return keepBriefly(context, key, spot, { form: 'constant', slots: [], value });
    const { profile, middle } = this.#part;
    const fill = (along: FallProfile) =>
      context.scratch.lend(1, (out) => {
        context.kernels.fillGradient(out, fall.start, fall.across, fall.down, along);
        return publishCoverage(out, spot, key, context);
      });
    if (middle === 0.5) return fill(profile);
    return withTile(this.#bent, { level: 0, tx: 0, ty: 0 }, context, ({ slots }) =>
      fill(context.table.slab.halfPlane(slots[0]).subarray(0, PROFILE_STEPS + 1)),
    );
  }

  #fallAt({ level, tx, ty }: Spot): Fall {
    const { start, end } = this.#part;
    const [dx, dy] = [end.x - start.x, end.y - start.y];
    // A start and end in one place are an edge as sharp as a pixel allows.
    const length2 = Math.max(1e-6, dx * dx + dy * dy);
    const step = 2 ** level;
    const along = (x: number, y: number) => ((x - start.x) * dx + (y - start.y) * dy) / length2;
    return {
      start: along((tx * TILE + 0.5) * step, (ty * TILE + 0.5) * step),
      across: (dx / length2) * step,
      down: (dy / length2) * step,
    };
  }

  /** 65,535 or 0 where a whole tile lies before the fall or after it. */
  #evenValue({ start, across, down }: Fall): number | undefined {
    const corners = [0, 1, 2, 3].map((i) => start + across * (i & 1) * (TILE - 1) + down * (i >> 1) * (TILE - 1));
    if (Math.max(...corners) <= 0) return 65535;
    return Math.min(...corners) >= 1 ? 0 : undefined;
  }
}
