import { EngineError } from './engineError.ts';
import type { ThreadStart } from './kernelModule.ts';
import type { Port } from './protocol.ts';

/** Every thread's first message, and what it answers when it can work. */
type StartMessage = { type: 'start' } & ThreadStart;
interface Answer {
  type: string;
  ticket?: number;
}

/** What a thread is asked to do, and who waits for it. */
interface Work<In> {
  /** Milliseconds that it may go on without a word. */
  patienceMs: number;
  take: (message: In) => void;
  fail: (error: EngineError) => void;
}

interface ThreadPlace<Out, In> {
  spawn: () => Port<In, Out | StartMessage>;
  start: Omit<ThreadStart, 'takesOver'>;
  /** What a new thread is told before any work. */
  greet?: (post: (message: Out) => void) => void;
  /** Another thread has taken the place of one that failed. */
  onReplaced?: () => void;
}

/** How long a thread may take to start. */
const START_MS = 60_000;
/** How often in a row a thread may fail before it is ready. One that fails later is started anew as often as it is asked. */
const MOST_STARTS = 8;

/** A thread's place in the engine. Whatever happens to the thread that has it (it does not start, throws, dies, or gives no sign of
 * life), who waits for it is told by a named error, and another thread takes the place. */
export class Thread<Out, In extends Answer> {
  readonly #place: ThreadPlace<Out, In>;
  readonly #work = new Map<number, Work<In>>();
  /** What it is told once it is ready. */
  #unsent: [Out, ArrayBuffer[] | undefined][] = [];
  #port: Port<In, Out | StartMessage> | undefined;
  #isReady = false;
  #isClosing = false;
  #isEnded = false;
  #watch: ReturnType<typeof setTimeout> | undefined;
  /** Starts since it was ready last. */
  #starts = 0;
  #whenReady: (() => void)[] = [];

  constructor(place: ThreadPlace<Out, In>) {
    this.#place = place;
    this.#start(false);
  }

  /** How much it has been asked for and has not answered. */
  get waiting(): number {
    return this.#work.size;
  }

  /** Resolves when it is ready for work.
   * @throws {EngineError} `thread-failed` when it has been given up. */
  async ready(): Promise<void> {
    if (this.#isGivenUp) throw new EngineError('thread-failed', 'it does not start');
    if (!this.#isReady) await new Promise<void>((resolve) => this.#whenReady.push(resolve));
    if (this.#isGivenUp) throw new EngineError('thread-failed', 'it does not start');
  }

  /** Tells it something that needs no answer. */
  post(message: Out, transfer?: ArrayBuffer[]): void {
    if (this.#isReady) this.#port?.post(message, transfer);
    else if (!this.#isGivenUp) this.#unsent.push([message, transfer]);
  }

  /** Asks for something; answers go to `work` until {@link done} is called with the ticket. */
  ask(ticket: number, message: Out, work: Work<In>, transfer?: ArrayBuffer[]): void {
    if (this.#isGivenUp || this.#isEnded) {
      work.fail(new EngineError('thread-failed', this.#isEnded ? 'it was ended' : 'it does not start'));
      return;
    }
    this.#work.set(ticket, work);
    if (this.#work.size === 1) this.#wait();
    this.post(message, transfer);
  }

  /** Something that was asked for is done. */
  done(ticket: number): void {
    this.#work.delete(ticket);
    this.#wait();
  }

  /** Puts another thread in this one's place, whatever it does; who waits is told.
   * @param code - Why. */
  replace(code: string, detail: string): void {
    if (this.#isEnded) return;
    clearTimeout(this.#watch);
    const port = this.#port;
    this.#port = undefined;
    this.#isReady = false;
    this.#unsent = [];
    // Whoever ends it on purpose does not count its starts.
    if (code === 'cancelled') this.#starts = 0;
    this.#failAll(new EngineError(code, detail));
    // One that is being ended still has its arena: nobody else starts on that before it is gone.
    if (this.#isClosing) return;
    this.#isClosing = true;
    void (port?.close() ?? Promise.resolve()).then(() => {
      this.#isClosing = false;
      if (this.#isEnded) return;
      if (this.#isGivenUp) this.#tellReady();
      else this.#start(true);
    });
  }

  /** Ends the thread for good; who waits is told.
   * @param code - Why. */
  end(code = 'cancelled'): void {
    clearTimeout(this.#watch);
    this.#isEnded = true;
    void this.#port?.close();
    this.#failAll(new EngineError(code, 'the thread was ended'));
    this.#tellReady();
  }

  /** Lets a thread that was given up try once more: what made it fail may be gone. */
  retry(): void {
    if (!this.#isGivenUp || this.#isEnded || this.#port) return;
    this.#starts = 0;
    this.#start(true);
  }

  get #isGivenUp(): boolean {
    return this.#starts >= MOST_STARTS && !this.#isReady;
  }

  #start(takesOver: boolean): void {
    this.#starts++;
    let port: Port<In, Out | StartMessage>;
    try {
      port = this.#place.spawn();
    } catch (error) {
      this.replace('thread-failed', (error as Error).message);
      return;
    }
    this.#port = port;
    const isOurs = () => this.#port === port;
    port.onFailure((detail) => isOurs() && this.replace('thread-failed', detail));
    port.onMessage((message) => {
      if (!isOurs()) return;
      if (message.type === 'ready') this.#begin(port, takesOver);
      else this.#take(message);
    });
    port.post({ type: 'start', ...this.#place.start, takesOver });
    this.#watch = setTimeout(() => isOurs() && this.replace('thread-failed', 'it did not start'), START_MS);
  }

  #begin(port: Port<In, Out | StartMessage>, takesOver: boolean): void {
    clearTimeout(this.#watch);
    this.#place.greet?.((message) => port.post(message));
    this.#isReady = true;
    this.#starts = 0;
    for (const [message, transfer] of this.#unsent.splice(0)) port.post(message, transfer);
    this.#wait();
    this.#tellReady();
    if (takesOver) this.#place.onReplaced?.();
  }

  #tellReady(): void {
    for (const tell of this.#whenReady.splice(0)) tell();
  }

  #take(message: In): void {
    this.#wait();
    if (message.ticket !== undefined) this.#work.get(message.ticket)?.take(message);
  }

  #failAll(error: EngineError): void {
    const waiting = [...this.#work.values()];
    this.#work.clear();
    for (const { fail } of waiting) fail(error);
  }

  /** Waits for the next word, as long as there is something to wait for. */
  #wait(): void {
    if (!this.#isReady) return;
    clearTimeout(this.#watch);
    const [atHand] = this.#work.values();
    if (!atHand) return;
    const { patienceMs } = atHand;
    this.#watch = setTimeout(() => this.replace('stuck', `${Math.round(patienceMs / 1000)} s`), patienceMs);
  }
}
