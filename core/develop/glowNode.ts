import { TILE } from '../raster/size.ts';
import { keyOf, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import { publishPicture, readEncoded, writeFloats } from '../render/tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, tileOf, withTile } from '../render/tiles/renderContext.ts';

/** A light: see `Light`. */
interface GlowingLight {
  x: number;
  y: number;
  radius: number;
  strength: number;
  colour: readonly [number, number, number];
}

/** How much of a light is left at a share of its radius: as light from a small source falls in haze, with the square of the distance once that is a
 * quarter of the radius, and to nothing at the radius itself (common practice, no source). */
export function glowAt(share: number): number {
  if (share >= 1) return 0;
  const edge = 1 - share * share;
  return (edge * edge) / (1 + (4 * share) ** 2);
}

/** A picture with glowing lights laid over it in screen (W3C Compositing and Blending Level 1: 1 - (1 - b)(1 - s)) or by adding them
 * (Level 2, plus-lighter). What lies above white stays. */
export class GlowNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #lights: readonly GlowingLight[];
  readonly #mode: 'screen' | 'plus-lighter';

  constructor(source: TileNode, lights: readonly GlowingLight[], mode: 'screen' | 'plus-lighter') {
    const exact = source.unrounded ?? source;
    super(keyOf('glow', [mode, lights]), [exact]);
    this.#source = exact;
    this.#lights = lights.filter(({ strength }) => strength > 0);
    this.#mode = mode;
  }

  /** Where no light reaches, the picture's own. */
  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    return this.#near(spot).length === 0 ? this.#source.keyAt(spot, context) : super.keyOver(spot, context);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const near = this.#near(spot);
    if (near.length === 0) return tileOf(this.#source, spot, context);
    return withTile(this.#source, spot, context, (tile) =>
      context.scratch.lend(3, (red, green, blue) => {
        const planes = [red, green, blue] as const;
        readEncoded(tile, [red, green, blue], context);
        for (const light of near) this.#lay(light, planes, spot);
        return publishPicture(spot, key, context, { form: 'floats', isTransient: false }, (slots) =>
          writeFloats([red, green, blue], slots, context),
        );
      }),
    );
  }

  #lay({ x, y, radius, strength, colour }: GlowingLight, planes: readonly Float32Array[], spot: Spot): void {
    const step = 2 ** spot.level;
    const left = (spot.tx * TILE + 0.5) * step - x;
    const isScreen = this.#mode === 'screen';
    const [first, last] = this.#rowsOf(y, radius, spot);
    for (let row = first; row < last; row++) {
      const dy = (spot.ty * TILE + row + 0.5) * step - y;
      for (let column = 0, at = row * TILE; column < TILE; column++, at++) {
        const dx = left + column * step;
        const share = Math.sqrt(dx * dx + dy * dy) / radius;
        if (share >= 1) continue;
        const glow = 65535 * strength * glowAt(share);
        for (const [channel, plane] of planes.entries()) {
          const under = plane[at];
          const room = isScreen ? Math.max(0, 1 - under / 65535) : 1;
          plane[at] = under + glow * colour[channel] * room;
        }
      }
    }
  }

  #rowsOf(y: number, radius: number, { level, ty }: Spot): [number, number] {
    const rowAt = (at: number) => Math.min(TILE, Math.max(0, Math.round(at / 2 ** level) - ty * TILE));
    return [rowAt(y - radius - 2 ** level), rowAt(y + radius + 2 ** level)];
  }

  #near({ level, tx, ty }: Spot): readonly GlowingLight[] {
    const side = TILE * 2 ** level;
    return this.#lights.filter(({ x, y, radius }) => {
      const dx = Math.max(tx * side - x, 0, x - (tx + 1) * side);
      const dy = Math.max(ty * side - y, 0, y - (ty + 1) * side);
      return dx * dx + dy * dy < radius * radius;
    });
  }
}
