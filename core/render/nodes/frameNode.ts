import { keyOf, type NodeKey } from '../../raster/tileKey.ts';
import { PLAIN_READING, type Reading, readingText } from '../../reading.ts';
import { type Extent, RenderError, type Spot, type TileNode } from '../tiles/renderContext.ts';

/** Key of the pixels of a file, as it is read. */
export function frameKey(sha256: string, reading: Reading = PLAIN_READING): NodeKey {
  return keyOf('frame', [sha256, readingText(reading)]);
}

/** The pixels of a frame as they were read: three 16-bit planes that are in memory already. */
export class FrameNode implements TileNode {
  readonly fixedKey: NodeKey;
  readonly name: string;
  readonly extent: Extent;

  /** @param extent - Of the frame: where its pixels lie before it is placed. */
  constructor(sha256: string, reading: Reading, name: string, extent: Extent) {
    this.extent = extent;
    this.fixedKey = frameKey(sha256, reading);
    this.name = name;
  }

  keyAt(): NodeKey {
    return this.fixedKey;
  }

  make({ level, tx, ty }: Spot): never {
    throw new RenderError('frame-missing', `${this.name}, level ${level}, tile ${tx}, ${ty}`);
  }
}
