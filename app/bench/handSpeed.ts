/** A hand this quick, in screen pixels a millisecond, presses half as hard as one at rest. */
const HALF_AT = 0.9;
/** How much of each new speed is taken over: a pointer tells its speed in jerks. */
const TAKEN = 0.3;

/** A stand-in for a pen where there is none: a slow hand presses hard, a quick one lightly. */
export class HandSpeed {
  #last = { x: 0, y: 0, timeMs: 0 };
  #speed = 0;

  /** A stroke begins: lightly, since nothing is known of the hand yet. */
  begin(x: number, y: number, timeMs: number): void {
    this.#last = { x, y, timeMs };
    this.#speed = HALF_AT;
  }

  /** Pressure 0..1 at the next place of the hand, in screen pixels. */
  pressureAt(x: number, y: number, timeMs: number): number {
    const passed = timeMs - this.#last.timeMs;
    if (passed > 0) {
      const speed = Math.hypot(x - this.#last.x, y - this.#last.y) / passed;
      this.#speed += (speed - this.#speed) * TAKEN;
      this.#last = { x, y, timeMs };
    }
    return HALF_AT / (HALF_AT + this.#speed);
  }
}
