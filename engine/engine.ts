import type { OutputSpace, WorkingSpace } from '#core/color/workingSpace.ts';
import type { ItemId, StrokeId } from '#core/ids.ts';
import { tilesIn } from '#core/raster/region.ts';
import type { Region, Size } from '#core/raster/size.ts';
import type { TileTable } from '#core/raster/tileTable.ts';
import type { CheckScope } from '#core/render/plan/blendLook.ts';
import type { Ends } from '#core/render/plan/findEnds.ts';
import type { Histogram } from '#core/render/plan/readings.ts';
import type { PictureRequest, RenderRequest, Turned } from '#core/render/plan/request.ts';
import type { WrittenForm } from '#core/render/plan/writing.ts';
import { type Patch, patchOf } from '#core/scene/patch.ts';
import type { Scene } from '#core/scene/scene.ts';
import { stripUnrendered } from '#core/scene/stripUnrendered.ts';
import { EngineError } from './engineError.ts';
import { Lane } from './lanes.ts';
import type {
  CanvasSpace,
  CheckedJob,
  DrawnTile,
  FromRenderer,
  Port,
  Samples,
  Share,
  Ticket,
  ToRenderer,
  View,
  WantedJob,
  WantedTile,
} from './protocol.ts';
import { SpentTiles } from './spentTiles.ts';
import { Thread } from './thread.ts';

/** What is written, and where to. */
export interface WrittenPicture {
  of: RenderRequest;
  /** What covers it, as a fourth channel: a plane that lies as it does. */
  covers?: RenderRequest;
  /** The held scene that it is of; the one at hand, if none is told. */
  held?: number;
  /** The whole picture's, at full size. */
  size: Size;
  /** The part that is wanted, in pixels of the level. */
  region: Region;
  level?: number;
  forms: readonly WrittenForm[];
}

type RenderThread = Thread<ToRenderer, FromRenderer>;

/** How long a thread may compute without a word: a tile takes seconds at the most. */
const PATIENCE_MS = 60_000;

/** What starts render threads: their channels, and what they all work with. */
export interface EngineStart {
  spawn: (index: number) => Port<FromRenderer, ToRenderer>;
  threads: number;
  memory: WebAssembly.Memory;
  kernels: WebAssembly.Module;
  table: TileTable;
  patienceMs?: number;
}

/** Render threads, and the requests that are under way in them. The pixels lie in memory that all share. */
export class Engine {
  readonly #threads: readonly RenderThread[];
  readonly #table: TileTable;
  readonly #patienceMs: number;
  /** What all threads know, for one that takes the place of another. */
  readonly #strokes = new Map<StrokeId, Float32Array[]>();
  #scene: Scene | undefined;
  #other: Scene | undefined;
  readonly #held = new Map<number, Scene>();
  #selected: ItemId | undefined;
  readonly #replaced = new Set<() => void>();
  /** The widest space that canvases can have here. */
  canvasSpace: CanvasSpace = 'srgb';
  #tickets = 0;
  #spare: WeakRef<SharedArrayBuffer> | undefined;
  readonly #spentTiles = new SpentTiles();

  private constructor({ spawn, threads, memory, kernels, table, patienceMs = PATIENCE_MS }: EngineStart) {
    this.#table = table;
    this.#patienceMs = patienceMs;
    this.#threads = Array.from(
      { length: threads },
      (_, arena) =>
        new Thread<ToRenderer, FromRenderer>({
          spawn: () => spawn(arena),
          start: { memory, kernels, arena },
          greet: (post) => this.#greet(post),
          onReplaced: () => {
            for (const tell of this.#replaced) tell();
          },
        }),
    );
  }

  /** Starts the threads and waits until all are ready. They take the first arenas, one each.
   * @throws {EngineError} `thread-failed` */
  static async start(start: EngineStart): Promise<Engine> {
    const engine = new Engine(start);
    await engine.whenReady();
    return engine;
  }

  /** Resolves when all threads are ready, after some were replaced.
   * @throws {EngineError} `thread-failed` when one has been given up. */
  async whenReady(): Promise<void> {
    await Promise.all(this.#threads.map((thread) => thread.ready()));
  }

  /** Names who is told when a thread has been replaced: what it was asked for is to be asked for again.
   * @returns What takes the name off. */
  onReplaced(tell: () => void): () => void {
    this.#replaced.add(tell);
    return () => this.#replaced.delete(tell);
  }

  #greet(post: (message: ToRenderer) => void): void {
    for (const [id, pieces] of this.#strokes) for (const points of pieces) post({ type: 'stroke', id, points });
    if (this.#scene) post(this.#sceneMessage({ value: this.#scene }));
    if (this.#other) post({ type: 'other', scene: this.#other });
    for (const [id, scene] of this.#held) post({ type: 'hold', id, scene });
  }

  /** Tells all threads the scene, as far as it decides pixels and has changed; later requests are answered from it.
   * @param selected - The layer that is worked on: what lies below it is kept mixed. */
  setScene(scene: Scene, selected?: ItemId): void {
    const before = this.#scene;
    this.#scene = stripUnrendered(scene);
    this.#selected = selected;
    this.#toAll(this.#sceneMessage(patchOf(before, this.#scene)));
    // Whatever made a thread fail again and again may be gone with the scene before.
    for (const thread of this.#threads) thread.retry();
  }

  /** Tells all threads the scene that requests for `other` mean; undefined for none. */
  setOther(scene: Scene | undefined): void {
    this.#other = scene && stripUnrendered(scene);
    this.#toAll({ type: 'other', scene: this.#other });
  }

  /** Keeps a scene to be written, whatever becomes of the one at hand meanwhile.
   * @returns What names it, until it is let go. */
  hold(scene: Scene): number {
    const id = ++this.#tickets;
    const held = stripUnrendered(scene);
    this.#held.set(id, held);
    this.#toAll({ type: 'hold', id, scene: held });
    return id;
  }

  letGo(id: number): void {
    this.#held.delete(id);
    this.#toAll({ type: 'hold', id, scene: undefined });
  }

  #sceneMessage(patch: Patch | undefined): ToRenderer {
    const canvasSpace = this.canvasOf(this.#scene?.workingSpace ?? 'srgb');
    return { type: 'scene', patch, selected: this.#selected, canvasSpace };
  }

  /** The space that tiles of a scene are drawn in. */
  canvasOf(space: WorkingSpace): CanvasSpace {
    return space === 'srgb' ? 'srgb' : this.canvasSpace;
  }

  /** Tells all threads points of a stroke; more may follow. */
  addStrokePoints(id: StrokeId, points: Float32Array): void {
    const pieces = this.#strokes.get(id);
    if (pieces) pieces.push(points);
    else this.#strokes.set(id, [points]);
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
   * @param onTiles - Copies what it wants to keep: the memory is drawn into again.
   * @throws {EngineError} */
  async draw(
    lane: Lane,
    view: View,
    level: number,
    tiles: readonly WantedTile[],
    onTiles: (tiles: DrawnTile[]) => void,
  ): Promise<void> {
    // Which thread comes to draw how many nobody knows: what is left over comes back.
    const each = Math.min(tiles.length, Math.ceil(this.#spentTiles.count / this.#threads.length));
    await this.#ask(
      lane,
      this.#shares(tiles.length).map((share) => (ticket) => {
        const spent = this.#spentTiles.take(each);
        return { type: 'draw', view, level, tiles, spent, share, ...ticket };
      }),
      (message) => {
        if (message.type !== 'drawn') return;
        this.#spentTiles.keep(message.spent);
        if (message.tiles.length === 0) return;
        onTiles(message.tiles);
        this.#spentTiles.keepOf(message.tiles);
      },
    );
  }

  /** Histogram of what a request names at a level; undefined when it became stale.
   * @throws {EngineError} */
  async histogram(lane: Lane, of: RenderRequest, level: number): Promise<Histogram | undefined> {
    let histogram: Histogram | undefined;
    await this.#askOne(
      lane,
      (ticket) => ({ type: 'histogram', of, level, ...ticket }),
      (message) => {
        if (message.type === 'histogram') histogram = message.histogram;
      },
    );
    return histogram;
  }

  /** Values between which all but a share of a picture's pixels lie, see `findEnds`; undefined when it became stale.
   * @throws {EngineError} */
  async ends(lane: Lane, of: RenderRequest, level: number, share: number): Promise<Ends | undefined> {
    let ends: Ends | undefined;
    await this.#askOne(
      lane,
      (ticket) => ({ type: 'ends', of, level, share, ...ticket }),
      (message) => {
        if (message.type === 'ends') ends = message.ends;
      },
    );
    return ends;
  }

  /** Measures parts of the blend, telling of them as they come. Ends early, without the rest, when its lane goes on.
   * @param jobs - Coarse before fine, as they are to be measured.
   * @throws {EngineError} */
  async check(jobs: readonly WantedJob[], scope: CheckScope, onJobs: (jobs: CheckedJob[]) => void): Promise<void> {
    await this.#ask(
      Lane.Checks,
      this.#shares(jobs.length).map((share) => (ticket) => ({ type: 'check', jobs, scope, share, ...ticket })),
      (message) => {
        if (message.type === 'checked' && message.jobs.length > 0) onJobs(message.jobs);
      },
    );
  }

  /** What requests name, at a scene pixel; undefined when it became stale.
   * @throws {EngineError} */
  async probe(of: readonly RenderRequest[], x: number, y: number): Promise<Samples | undefined> {
    let samples: Samples | undefined;
    await this.#askOne(
      Lane.Readings,
      (ticket) => ({ type: 'probe', of, x, y, ...ticket }),
      (message) => {
        if (message.type === 'probed') samples = message.samples;
      },
    );
    return samples;
  }

  /** Renders a picture, or a part of it, at full size or at a coarser level, whose pixels the region then counts.
   * @param of - The picture.
   * @param region - The part of it that is wanted, inside the picture.
   * @param space - What it comes in, encoded with the sRGB curve.
   * @returns Interleaved RGB, 16 bits, in shared memory; undefined when the export lane went on.
   * @throws {EngineError} */
  async render(
    of: PictureRequest & Turned,
    size: Size,
    region: Region,
    space: OutputSpace,
    onProgress: (share: number) => void,
    { level = 0, lane = Lane.Export }: { level?: number; lane?: Lane } = {},
  ): Promise<Uint16Array | undefined> {
    const image = this.#imageOf(region.width * region.height * 6);
    const forms = [{ space, kind: 'codes', image } as const];
    const done = await this.write({ of, size, region, level, forms }, onProgress, lane);
    return done ? new Uint16Array(image) : undefined;
  }

  /** Renders a picture, or a plane, or a part of it, in several forms at once, made from the same tiles.
   * @returns False when its lane went on before it was done.
   * @throws {EngineError} */
  async write(
    { of, covers, held, size, region, level = 0, forms }: WrittenPicture,
    onProgress: (share: number) => void = () => undefined,
    lane: Lane = Lane.Export,
  ): Promise<boolean> {
    const tiles = tilesIn(size, level, region);
    const current = this.current(lane);
    let written = 0;
    await this.#ask(
      lane,
      this.#shares(tiles.length).map((share) => (ticket) => ({
        type: 'write',
        of,
        covers,
        held,
        forms,
        region,
        level,
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
    return this.current(lane) === current;
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
    for (const thread of this.#threads) thread.end();
  }

  #toAll(message: ToRenderer): void {
    for (const thread of this.#threads) thread.post(message);
  }

  /** One share of some tiles for each thread. */
  #shares(tiles: number): Share[] {
    const taken = new SharedArrayBuffer(tiles * 4);
    return this.#threads.map((_, thread) => ({ taken, thread, threads: this.#threads.length }));
  }

  /** Small questions go round the threads. */
  #askOne(lane: Lane, make: (ticket: Ticket) => ToRenderer, take: (message: FromRenderer) => void): Promise<void> {
    const chosen = this.#tickets % this.#threads.length;
    return this.#ask(
      lane,
      this.#threads.map((_, index) => (index === chosen ? make : undefined)),
      take,
    );
  }

  #ask(
    lane: Lane,
    makes: readonly (((ticket: Ticket) => ToRenderer) | undefined)[],
    take: (message: FromRenderer) => void,
  ): Promise<void> {
    const ticket = { ticket: ++this.#tickets, lane, current: this.current(lane) };
    const asked = this.#threads.filter((_, index) => makes[index]);
    return new Promise((finish, reject) => {
      let open = asked.length;
      const fail = (error: EngineError) => {
        for (const thread of asked) thread.done(ticket.ticket);
        reject(error);
      };
      this.#threads.forEach((thread, index) => {
        const answer = (message: FromRenderer) => {
          if (message.type === 'failed') fail(new EngineError(message.code, message.detail));
          else if (message.type !== 'ready' && message.type !== 'alive') {
            take(message);
            if (!message.done) return;
            thread.done(message.ticket);
            if (--open === 0) finish();
          }
        };
        const make = makes[index];
        if (!make) return;
        const message = make(ticket);
        const transfer = message.type === 'draw' ? [...message.spent] : undefined;
        thread.ask(ticket.ticket, message, { patienceMs: this.#patienceMs, take: answer, fail }, transfer);
      });
    });
  }
}
