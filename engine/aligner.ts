import type { Alignment } from '#core/align/alignment.ts';
import type { ChannelsApart } from '#core/align/findApart.ts';
import type { LocalGrid } from '#core/align/localFit.ts';
import type { PointPair } from '#core/align/pointPairs.ts';
import type { PairDistance } from '#core/checks/pairDistance.ts';
import type { Dust } from '#core/finish/findDust.ts';
import type { FoundLevel } from '#core/finish/findLevel.ts';
import type {
  AlignRequest,
  ApartRequest,
  DistanceRequest,
  DustRequest,
  FromAligner,
  LevelRequest,
  LocalFitRequest,
  SnapRequest,
} from './alignProtocol.ts';
import type { BackgroundThreads } from './backgroundThreads.ts';
import { Lane } from './lanes.ts';

/** Finds how frames lie on each other, in background threads. */
export class Aligner {
  readonly #threads: BackgroundThreads;

  constructor(threads: BackgroundThreads) {
    this.#threads = threads;
  }

  /** Places a frame on another; the pixels of both are in memory.
   * @throws {DecodeError} `cancelled` when its lane went on. */
  async align(request: AlignRequest, onProgress: (share: number) => void): Promise<Alignment> {
    const current = this.#threads.current(Lane.Align);
    const answer = await this.#threads
      .next()
      .ask({ type: 'align', current, ...request }, this.#threads.patience(), onProgress);
    return (answer as FromAligner & { type: 'aligned' }).alignment;
  }

  /** Finds how a placed frame still differs from the base from place to place.
   * @throws {DecodeError} `cancelled` when its lane went on. */
  async fitLocally(request: LocalFitRequest, onProgress: (share: number) => void): Promise<LocalGrid> {
    const current = this.#threads.current(Lane.Align);
    const answer = await this.#threads
      .next()
      .ask({ type: 'fit', current, ...request }, this.#threads.patience(), onProgress);
    return (answer as FromAligner & { type: 'fitted' }).local;
  }

  /** Finds how much larger than green the lens drew red and blue; undefined when too little of the picture tells.
   * @throws {DecodeError} `cancelled` when its lane went on. */
  async findApart(request: ApartRequest, onProgress: (share: number) => void): Promise<ChannelsApart | undefined> {
    const current = this.#threads.current(Lane.Align);
    const answer = await this.#threads
      .next()
      .ask({ type: 'apart', current, ...request }, this.#threads.patience(), onProgress);
    return (answer as FromAligner & { type: 'apart' }).apart;
  }

  /** Measures how far two pictures lie apart where they meet, see `pairDistance`. The memory of the sketches goes with them. */
  async distance(request: DistanceRequest): Promise<PairDistance | undefined> {
    const { own, taken, other, mask } = request;
    const memory = [own, taken, other, mask].flatMap((each) => (each ? [each.rgba.buffer as ArrayBuffer] : []));
    const answer = await this.#threads
      .next()
      .ask({ type: 'distance', ...request }, this.#threads.patience(), undefined, memory);
    return (answer as FromAligner & { type: 'distance' }).distance;
  }

  /** Finds what stands at one place of the sensor, see `findDust`. The memory of the sketches goes with them.
   * @throws {DecodeError} `cancelled` when its lane went on. */
  async findDust(request: DustRequest, onProgress: (share: number) => void): Promise<readonly Dust[]> {
    const current = this.#threads.current(Lane.Dust);
    const memory = request.frames.map(({ sketch }) => sketch.rgba.buffer as ArrayBuffer);
    const answer = await this.#threads
      .next()
      .ask({ type: 'dust', current, ...request }, this.#threads.patience(), onProgress, memory);
    return (answer as FromAligner & { type: 'dust' }).dust;
  }

  /** Finds by how much a picture is askew, see `findLevel`. The memory of the sketch goes with it. */
  async findLevel(request: LevelRequest): Promise<FoundLevel | undefined> {
    const memory = [request.sketch.rgba.buffer as ArrayBuffer];
    const answer = await this.#threads
      .next()
      .ask({ type: 'level', ...request }, this.#threads.patience(), undefined, memory);
    return (answer as FromAligner & { type: 'level' }).level;
  }

  /** Puts a pair of points exactly where both pictures look alike; undefined when nothing near it does. */
  async snap(request: SnapRequest): Promise<PointPair | undefined> {
    const answer = await this.#threads.next().ask({ type: 'snap', ...request }, this.#threads.patience());
    return (answer as FromAligner & { type: 'snapped' }).pair;
  }
}
