import { type Matrix3, times3 } from '../raster/matrix3.ts';
import { TILE, TILE_SAMPLES } from '../raster/size.ts';
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

/** A place of the scene, counted from its corner as lights are, from one of a picture in which it is turned. */
function inScene(toScene: Matrix3, x: number, y: number): [x: number, y: number] {
  // Matrices count from the centre of the first pixel.
  const [u, v, w] = times3(toScene, [x - 0.5, y - 0.5, 1]);
  return [u / w + 0.5, v / w + 0.5];
}

/** A picture with glowing lights laid over it in screen (W3C Compositing and Blending Level 1: 1 - (1 - b)(1 - s)) or by adding them
 * (Level 2, plus-lighter). What lies above white stays. */
export class GlowNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #lights: readonly GlowingLight[];
  readonly #mode: 'screen' | 'plus-lighter';
  readonly #toScene: Matrix3 | undefined;

  /** @param toScene - From the picture's pixels to those of the scene, where that is turned. */
  constructor(
    source: TileNode,
    lights: readonly GlowingLight[],
    mode: 'screen' | 'plus-lighter',
    toScene: Matrix3 | undefined,
  ) {
    const exact = source.unrounded ?? source;
    super(keyOf('glow', [mode, lights, ...(toScene ? [toScene] : [])]), [exact]);
    this.#toScene = toScene;
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
        return publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
          writeFloats([red, green, blue], slots, context),
        );
      }),
    );
  }

  #lay(light: GlowingLight, planes: readonly Float32Array[], spot: Spot): void {
    const { x, y, radius } = light;
    const step = 2 ** spot.level;
    const [left, top] = [spot.tx * TILE, spot.ty * TILE];
    const toScene = this.#toScene;
    if (toScene) {
      for (let at = 0; at < TILE_SAMPLES; at++) {
        const [sceneX, sceneY] = inScene(
          toScene,
          (left + (at % TILE) + 0.5) * step,
          (top + Math.floor(at / TILE) + 0.5) * step,
        );
        this.#layAt(light, planes, at, sceneX - x, sceneY - y);
      }
      return;
    }
    const [first, last] = this.#rowsOf(y, radius, spot);
    for (let row = first; row < last; row++)
      for (let column = 0, at = row * TILE; column < TILE; column++, at++)
        this.#layAt(light, planes, at, (left + 0.5) * step - x + column * step, (top + row + 0.5) * step - y);
  }

  /** @param dx - How far the pixel lies from the light. */
  #layAt(
    { radius, strength, colour }: GlowingLight,
    planes: readonly Float32Array[],
    at: number,
    dx: number,
    dy: number,
  ): void {
    const share = Math.sqrt(dx * dx + dy * dy) / radius;
    if (share >= 1) return;
    const glow = 65535 * strength * glowAt(share);
    for (const [channel, plane] of planes.entries()) {
      const under = plane[at];
      const room = this.#mode === 'screen' ? Math.max(0, 1 - under / 65535) : 1;
      plane[at] = under + glow * colour[channel] * room;
    }
  }

  #rowsOf(y: number, radius: number, { level, ty }: Spot): [number, number] {
    const rowAt = (at: number) => Math.min(TILE, Math.max(0, Math.round(at / 2 ** level) - ty * TILE));
    return [rowAt(y - radius - 2 ** level), rowAt(y + radius + 2 ** level)];
  }

  #near(spot: Spot): readonly GlowingLight[] {
    const [left, top, right, bottom] = this.#boundsOf(spot);
    return this.#lights.filter(({ x, y, radius }) => {
      const dx = Math.max(left - x, 0, x - right);
      const dy = Math.max(top - y, 0, y - bottom);
      return dx * dx + dy * dy < radius * radius;
    });
  }

  /** What a tile takes up of the scene, at most. */
  #boundsOf({ level, tx, ty }: Spot): [left: number, top: number, right: number, bottom: number] {
    const side = TILE * 2 ** level;
    const toScene = this.#toScene;
    if (!toScene) return [tx * side, ty * side, (tx + 1) * side, (ty + 1) * side];
    const corners = [0, 1, 2, 3].map((corner) =>
      inScene(toScene, (tx + (corner & 1)) * side, (ty + (corner >> 1)) * side),
    );
    const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
    return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  }
}
