import { keyOf, mixKeys, type NodeKey } from '../raster/tileKey.ts';
import type { PinnedTile } from '../raster/tileTable.ts';
import { DerivedNode } from '../render/nodes/derivedNode.ts';
import { type Area, areaAround, keyOfArea, placeIn, wantedIn, withArea } from '../render/tiles/neighbourhood.ts';
import { publishPicture, readEncoded, writeFloats } from '../render/tiles/pictureTile.ts';
import { type RenderContext, type Spot, type TileNode, withWanted } from '../render/tiles/renderContext.ts';
import { CHANNELS, type Channel, ChannelNode } from './channelNode.ts';

/** Half the windows, in pixels of the level that is drawn: noise is a matter of pixels. Colour noise lies in larger blotches. */
const RADIUS = { brightness: 3, red: 5, blue: 5 } as const;
/** The variance that is thought to be noise against the one measured: windows' own variances scatter. */
const SURELY = 1.4;

/** A picture without noise: in windows around each place a channel is drawn to its mean, by the share of its variance that noise is
 * (Lee 1980); the lines of all windows around a place are averaged (He, Sun and Tang 2010, "Guided image filtering"). */
export class QuietNode extends DerivedNode {
  readonly #source: TileNode;
  readonly #channels: readonly { channel: Channel; node: TileNode; deviation: number }[];

  /** @param deviations - Of what is to be taken out, encoded, 0..1, at full size; coarser levels have averaged it. */
  constructor(source: TileNode, { brightness, colour }: { brightness: number; colour: number }) {
    const channels = CHANNELS.map((channel) => ({
      channel,
      node: new ChannelNode(source, channel),
      // Differences are halved.
      deviation: channel === 'brightness' ? brightness : colour,
    })).filter(({ deviation }) => deviation > 0);
    super(keyOf('quiet', [brightness, colour]), [source, ...channels.map(({ node }) => node)]);
    this.#source = source;
    this.#channels = channels;
  }

  protected override keyOver(spot: Spot, context: RenderContext): NodeKey {
    const around = this.#channels.map(({ channel, node }) =>
      keyOfArea(this.seed, node, this.#areaOf(spot, channel), context),
    );
    return mixKeys(this.seed, this.#source.keyAt(spot, context), ...around);
  }

  make(spot: Spot, key: NodeKey, context: RenderContext): PinnedTile {
    const { scratch, kernels } = context;
    const around = this.#channels.flatMap(({ channel, node }) => wantedIn(node, this.#areaOf(spot, channel)));
    return withWanted([{ node: this.#source, spot }, ...around], context, ([tile]) =>
      scratch.lend(6, (brightness, red, blue, r, g, b) => {
        const changes = { brightness, red, blue };
        for (const channel of CHANNELS) {
          const own = this.#channels.find((each) => each.channel === channel);
          if (own) this.#findChange(own, changes[channel], spot, context);
          else changes[channel].fill(0);
        }
        readEncoded(tile, [r, g, b], context);
        kernels.addChannels([brightness, red, blue], [r, g, b]);
        return publishPicture(spot, key, context, { form: 'floats', extent: this.extent }, (slots) =>
          writeFloats([r, g, b], slots, context),
        );
      }),
    );
  }

  /** By how much a channel changes, in steps of 16 bits. */
  #findChange(
    { channel, node, deviation }: { channel: Channel; node: TileNode; deviation: number },
    out: Float32Array,
    spot: Spot,
    context: RenderContext,
  ): void {
    const area = this.#areaOf(spot, channel);
    const { side } = area;
    const { kernels } = context;
    const limit = SURELY * (deviation / 2 ** spot.level) ** 2;
    const find = (...[plane, slope, offset, spare]: Float32Array[]) => {
      const mean = (from: Float32Array, to: Float32Array) =>
        kernels.windowMean(from, to, spare, side, side, RADIUS[channel]);
      mean(plane, offset);
      kernels.squares(plane, slope);
      mean(slope, slope);
      kernels.quietLines(slope, offset, limit);
      mean(slope, slope);
      mean(offset, offset);
      const { x, y } = placeIn(area, spot);
      kernels.changeByLines(plane, slope, offset, side, x + y * side, out);
    };
    withArea([node], area, context, 3, find, () => {
      out.fill(0);
    });
  }

  /** At the level that is drawn, whatever it is. */
  #areaOf(spot: Spot, channel: Channel): Area {
    const radius = RADIUS[channel];
    return areaAround(spot, this.extent.size, radius * 2 ** spot.level, radius, () => 2 * radius + 1);
  }
}
