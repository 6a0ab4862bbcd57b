import type { FrameId } from '../../ids.ts';
import { isBent } from '../../raster/lens.ts';
import type { Frame } from '../../scene/frame.ts';
import type { Scene } from '../../scene/scene.ts';
import { BlackNode } from '../nodes/blackNode.ts';
import { CompositeNode } from '../nodes/compositeNode.ts';
import { type FrameGeometry, framePlace, isUnmoved, type Turning } from '../nodes/frameMap.ts';
import { FrameNode } from '../nodes/frameNode.ts';
import { coversScene, InsideNode } from '../nodes/insideNode.ts';
import { toSpace } from '../nodes/lightNode.ts';
import { MaskNode } from '../nodes/maskNode.ts';
import { WarpNode } from '../nodes/warpNode.ts';
import type { Extent, TileNode } from '../tiles/renderContext.ts';
import { developedNode } from './developedNode.ts';
import { geometryOf } from './frameGeometry.ts';
import { remember } from './maskBuilder.ts';

/** The frames of a scene as they are placed: as they were taken, and as they are developed. */
export class PlacedFrames {
  readonly #scene: Scene;
  readonly #extent: Extent;
  readonly #turned: Turning | undefined;
  readonly #frames = new Map<FrameId, TileNode>();
  readonly #developed = new Map<FrameId, TileNode>();
  readonly #bases = new Map<TileNode, TileNode>();

  /** @param extent - Of the scene, or of a picture in which it is turned.
   * @param turned - How. */
  constructor(scene: Scene, extent: Extent, turned?: Turning) {
    this.#scene = scene;
    this.#extent = extent;
    this.#turned = turned;
  }

  /** A frame as it is placed and developed. */
  frame(id: FrameId): TileNode {
    return remember(this.#developed, id, () => {
      const taken = this.taken(id);
      const frame = this.#frameOf(id);
      const place = framePlace(this.#geometryOf(frame), this.#extent.size, frame);
      return developedNode(taken, frame.develop, { space: this.#scene.workingSpace, place });
    });
  }

  /** A frame in the working space, as it was taken and is placed. */
  taken(id: FrameId): TileNode {
    return remember(this.#frames, id, () => {
      const frame = this.#frameOf(id);
      const geometry = this.#geometryOf(frame);
      const isMoved = !isUnmoved(geometry);
      const own = {
        size: { width: frame.width, height: frame.height },
        toScene: isMoved ? [...geometry.placement] : null,
      };
      const read = new FrameNode(frame.file.sha256, frame.reading, frame.file.name, own);
      const inScene = toSpace(read, frame.reading.space, this.#scene.workingSpace, true);
      return isMoved ? new WarpNode(inScene, geometry, this.#extent) : inScene;
    });
  }

  #geometryOf(frame: Frame): FrameGeometry {
    return { ...geometryOf(frame), turned: this.#turned };
  }

  #frameOf(id: FrameId): Frame {
    const frame = this.#scene.frames.find((each) => each.id === id);
    if (!frame) throw new RangeError(`The scene has no frame ${id}`);
    return frame;
  }

  /** The base as it is placed and developed, black beyond its edges. */
  get base(): TileNode {
    return this.baseOf(this.frame(this.#scene.base as FrameId));
  }

  /** The base, as it is read in some way, black beyond its edges. */
  baseOf(frame: TileNode): TileNode {
    return this.#insideOf(frame, this.#scene.base as FrameId);
  }

  /** A frame by itself. Straightened, it may have borders that are bent: nothing is drawn out there.
   * @param isTaken - As it was taken, rather than as it is developed. */
  shownFrame(id: FrameId, isTaken: boolean): TileNode {
    const frame = isTaken ? this.taken(id) : this.frame(id);
    return isBent(geometryOf(this.#frameOf(id)).lens) ? this.#insideOf(frame, id) : frame;
  }

  #insideOf(frame: TileNode, id: FrameId): TileNode {
    const inside = this.inside(id);
    if (!inside) return frame;
    return remember(this.#bases, frame, () => {
      const outside = new MaskNode([{ join: 'add', node: inside }], true, this.#extent);
      const beyond = { source: new BlackNode(this.#extent), mask: outside, opacity: 1 };
      return new CompositeNode(frame, [beyond], { isIntermediate: true });
    });
  }

  /** Where a placed frame is; undefined for one that covers the scene. */
  inside(id: FrameId): TileNode | undefined {
    const frame = this.#scene.frames.find((each) => each.id === id);
    if (!frame || coversScene(geometryOf(frame), this.#turned?.scene ?? this.#extent.size)) return undefined;
    return new InsideNode(this.#geometryOf(frame), frame, this.#extent);
  }
}
