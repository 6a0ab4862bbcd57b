import type { OutputSpace, WorkingSpace } from '#core/color/workingSpace.ts';
import { tilesIn } from '#core/raster/region.ts';
import type { Region, Size } from '#core/raster/size.ts';
import type { TileTable } from '#core/raster/tileTable.ts';
import type { Histogram } from '#core/render/readings.ts';
import type { LayerId, StrokeId } from '#core/scene/ids.ts';
import type { Scene } from '#core/scene/scene.ts';
import { EngineError } from './engineError.ts';
import { Lane } from './lanes.ts';
import type {
  CanvasSpace,
  DrawnTile,
  FromRenderer,
  Port,
  ProbeReading,
  Share,
  Ticket,
  ToRenderer,
  View,
  WantedTile,
} from './protocol.ts';

type RendererPort = Port<FromRenderer, ToRenderer>;

interface Waiting {
  /** Threads that have not finished yet. */
  open: number;
  take: (message: FromRenderer) => void;
  finish: () => void;
  fail: (error: Error) => void;
}

/** Render threads, and the requests that are under way in them. The pixels lie in memory that all share. */
export class Engine {
  readonly #ports: readonly RendererPort[];
  readonly #table: TileTable;
  readonly #waiting = new Map<number, Waiting>();
  readonly #strokes = new Set<StrokeId>();
  /** The widest space that canvases can have here. */
  canvasSpace: CanvasSpace = 'srgb';
  #tickets = 0;
  #spare: WeakRef<SharedArrayBuffer> | undefined;

  private constructor(ports: readonly RendererPort[], table: TileTable) {
    this.#ports = ports;
    this.#table = table;
    for (const port of ports) port.onMessage((message) => this.#take(message));
  }

  /** Starts the threads and waits until all are ready. They take the first arenas, one each. */
  static async start(
    ports: readonly RendererPort[],
    memory: WebAssembly.Memory,
    kernels: WebAssembly.Module,
    table: TileTable,
  ): Promise<Engine> {
    await Promise.all(
      ports.map(
        (port, arena) =>
          new Promise<void>((resolve) => {
            port.onMessage(() => resolve());
            port.post({ type: 'start', memory, kernels, arena });
          }),
      ),
    );
    return new Engine(ports, table);
  }

  /** Tells all threads the scene; later requests are answered from it.
   * @param selected - The layer that is worked on: what lies below it is kept mixed. */
  setScene(scene: Scene, selected?: LayerId): void {
    this.#toAll({ type: 'scene', scene, selected, canvasSpace: this.canvasOf(scene.workingSpace) });
  }

  /** The space that tiles of a scene are drawn in. */
  canvasOf(space: WorkingSpace): CanvasSpace {
    return space === 'srgb' ? 'srgb' : this.canvasSpace;
  }

  /** Tells all threads points of a stroke; more may follow. */
  addStrokePoints(id: StrokeId, points: Float32Array): void {
    this.#strokes.add(id);
    this.#toAll({ type: 'stroke', id, points });
  }

  /** Whether the threads know a stroke's points. */
  knowsStroke(id: StrokeId): boolean {
    return this.#strokes.has(id);
  }

  /** Makes earlier requests of a lane stale. */
  advance(lane: Lane): void {
    this.#table.slab.advanceLane(lane);
  }

  /** The number that makes requests of a lane current now; threads of other kinds compare it too. */
  current(lane: Lane): number {
    return this.#table.slab.lane(lane);
  }

  /** Draws tiles, telling of them as they come. Ends early, without the rest, when its lane goes on.
   * @throws {EngineError} */
  async draw(
    lane: Lane,
    view: View,
    level: number,
    tiles: readonly WantedTile[],
    onTiles: (tiles: DrawnTile[]) => void,
  ): Promise<void> {
    await this.#ask(
      lane,
      this.#shares(tiles.length).map((share) => (ticket) => ({ type: 'draw', view, level, tiles, share, ...ticket })),
      (message) => {
        if (message.type === 'drawn' && message.tiles.length > 0) onTiles(message.tiles);
      },
    );
  }

  /** Histogram of what a view shows at a level; undefined when it became stale.
   * @throws {EngineError} */
  async histogram(lane: Lane, view: View, level: number): Promise<Histogram | undefined> {
    let histogram: Histogram | undefined;
    await this.#askOne(
      lane,
      (ticket) => ({ type: 'histogram', view, level, ...ticket }),
      (message) => {
        if (message.type === 'histogram') histogram = message.histogram;
      },
    );
    return histogram;
  }

  /** What all frames, a layer's mask and the result hold at a scene pixel.
   * @throws {EngineError} */
  async probe(x: number, y: number, layerId: LayerId | null): Promise<ProbeReading | undefined> {
    let reading: ProbeReading | undefined;
    await this.#askOne(
      Lane.Readings,
      (ticket) => ({ type: 'probe', x, y, layerId, ...ticket }),
      (message) => {
        if (message.type === 'probed') reading = message.reading;
      },
    );
    return reading;
  }

  /** Renders the picture, or a part of it, at full size.
   * @param region - The part of it that is wanted, inside the picture.
   * @param space - What it comes in, encoded with the sRGB curve.
   * @returns Interleaved RGB, 16 bits, in shared memory; undefined when the export lane went on.
   * @throws {EngineError} */
  async render(
    size: Size,
    region: Region,
    space: OutputSpace,
    onProgress: (share: number) => void,
  ): Promise<Uint16Array | undefined> {
    const image = this.#imageOf(region.width * region.height * 6);
    const tiles = tilesIn(size, 0, region);
    const current = this.current(Lane.Export);
    let written = 0;
    await this.#ask(
      Lane.Export,
      this.#shares(tiles.length).map((share) => (ticket) => ({
        type: 'write',
        space,
        region,
        image,
        tiles,
        share,
        ...ticket,
      })),
      (message) => {
        if (message.type !== 'wrote') return;
        written += message.tiles;
        onProgress(written / tiles.length);
      },
    );
    return this.current(Lane.Export) === current ? new Uint16Array(image) : undefined;
  }

  /** Hands back a rendered picture that is no longer needed: the next one may lie where it lay, which saves the system
   * from clearing fresh memory. Nothing is held back when memory is wanted for other things. */
  giveBack(image: Uint16Array): void {
    this.#spare = new WeakRef(image.buffer as SharedArrayBuffer);
  }

  #imageOf(bytes: number): SharedArrayBuffer {
    const spare = this.#spare?.deref();
    this.#spare = undefined;
    return spare?.byteLength === bytes ? spare : new SharedArrayBuffer(bytes);
  }

  /** Ends the threads. */
  close(): void {
    for (const port of this.#ports) port.close();
  }

  #toAll(message: ToRenderer): void {
    for (const port of this.#ports) port.post(message);
  }

  /** One share of some tiles for each thread. */
  #shares(tiles: number): Share[] {
    const taken = new SharedArrayBuffer(tiles * 4);
    return this.#ports.map((_, thread) => ({ taken, thread, threads: this.#ports.length }));
  }

  /** Small questions go round the threads. */
  #askOne(lane: Lane, make: (ticket: Ticket) => ToRenderer, take: (message: FromRenderer) => void): Promise<void> {
    const chosen = this.#tickets % this.#ports.length;
    return this.#ask(
      lane,
      this.#ports.map((_, index) => (index === chosen ? make : undefined)),
      take,
    );
  }

  #ask(
    lane: Lane,
    makes: readonly (((ticket: Ticket) => ToRenderer) | undefined)[],
    take: (message: FromRenderer) => void,
  ): Promise<void> {
    const ticket = { ticket: ++this.#tickets, lane, current: this.current(lane) };
    return new Promise((finish, fail) => {
      const asked = makes.filter((make) => make !== undefined).length;
      this.#waiting.set(ticket.ticket, { open: asked, take, finish, fail });
      makes.forEach((make, index) => {
        if (make) this.#ports[index].post(make(ticket));
      });
    });
  }

  #take(message: FromRenderer): void {
    if (message.type === 'ready') return;
    const waiting = this.#waiting.get(message.ticket);
    if (!waiting) return;
    if (message.type === 'failed') {
      this.#waiting.delete(message.ticket);
      waiting.fail(new EngineError(message.code, message.detail));
      return;
    }
    waiting.take(message);
    if (message.done && --waiting.open === 0) {
      this.#waiting.delete(message.ticket);
      waiting.finish();
    }
  }
}
