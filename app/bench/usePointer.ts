import { ref } from 'vue';
import type { BrushPoint, BrushTool, Hand } from './brushTool.ts';
import { HandSpeed } from './handSpeed.ts';
import type { Point } from './viewTransform.ts';

const HAS_RAW_UPDATES = 'onpointerrawupdate' in window;

type Mode = 'idle' | 'ready-to-pan' | 'pan' | 'paint';

interface PointerEffects {
  toScene: (event: PointerEvent) => Point;
  canPaint: () => boolean;
  brush: BrushTool;
  press: (point: BrushPoint, straight: boolean, hand: Hand) => void;
  /** Whether the speed of the hand stands for a pen's pressure. */
  speedAsPen: () => boolean;
  /** By CSS pixels. */
  pan: (dx: number, dy: number) => void;
  hover: (event: PointerEvent | undefined) => void;
}

/** The button that a pen's other end is told as (W3C Pointer Events). */
const PEN_TURNED = 5;
/** A finger that has gone no further than this many CSS pixels may yet be the first of two. */
const MAY_BE_ONE_OF_TWO = 24;

/** Pointer and keys on the canvas: painting with the main button or the pen, panning with the middle button, with the
 * space bar held, or when there is nothing to paint on. Escape gives a stroke up. */
export function usePointer(effects: PointerEffects) {
  const mode = ref<Mode>('idle');
  let last: { x: number; y: number } | undefined;
  /** How far the pointer has gone with a stroke, in CSS pixels. */
  let gone = 0;
  let isOver = false;

  const hand = new HandSpeed();
  /** While Alt is held a stroke runs level or upright, whichever is nearer. */
  let lockedFrom: { x: number; y: number; level: boolean | undefined } | undefined;

  function sample(event: PointerEvent): BrushPoint {
    const { x, y } = effects.toScene(event);
    const pressure = effects.speedAsPen()
      ? hand.pressureAt(event.clientX, event.clientY, event.timeStamp)
      : isPen(event)
        ? event.pressure
        : 0.5;
    return { x, y, pressure, timeMs: event.timeStamp };
  }

  /** Keeps a point on the line that Alt locks the stroke to. */
  function locked(point: BrushPoint): BrushPoint {
    const from = lockedFrom;
    if (!from) return point;
    const [dx, dy] = [Math.abs(point.x - from.x), Math.abs(point.y - from.y)];
    if (from.level === undefined && Math.max(dx, dy) > 0) from.level = dx >= dy;
    return from.level === undefined || from.level ? { ...point, y: from.y } : { ...point, x: from.x };
  }

  function onPointerDown(event: PointerEvent): void {
    const target = event.currentTarget as HTMLElement;
    target.parentElement?.focus({ preventScroll: true });
    if (mode.value === 'ready-to-pan' || event.button === 1 || (event.button === 0 && !effects.canPaint())) {
      mode.value = 'pan';
      last = { x: event.clientX, y: event.clientY };
    } else if (event.button === 0 || (event.button === PEN_TURNED && isPen(event) && effects.canPaint())) {
      mode.value = 'paint';
      last = { x: event.clientX, y: event.clientY };
      gone = 0;
      hand.begin(event.clientX, event.clientY, event.timeStamp);
      const point = sample(event);
      lockedFrom = event.altKey ? { x: point.x, y: point.y, level: undefined } : undefined;
      effects.press(point, event.shiftKey, {
        isFelt: isPen(event) || effects.speedAsPen(),
        isTurned: event.button === PEN_TURNED,
      });
    } else {
      return;
    }
    target.setPointerCapture(event.pointerId);
    event.preventDefault();
  }

  function onPointerMove(event: PointerEvent): void {
    isOver = true;
    effects.hover(event);
    if (mode.value === 'pan' && last) {
      effects.pan(event.clientX - last.x, event.clientY - last.y);
      last = { x: event.clientX, y: event.clientY };
    } else if (mode.value === 'paint') {
      if (last) gone += Math.hypot(event.clientX - last.x, event.clientY - last.y);
      last = { x: event.clientX, y: event.clientY };
      if (!HAS_RAW_UPDATES) paintAlong(event);
    }
  }

  /** The pointer as soon as the system knows of it, some milliseconds before the page is next drawn. */
  function onPointerRawUpdate(event: Event): void {
    if (mode.value === 'paint') paintAlong(event as PointerEvent);
  }

  function paintAlong(event: PointerEvent): void {
    const passed = event.getCoalescedEvents?.() ?? [];
    effects.brush.move((passed.length > 0 ? passed : [event]).map((each) => locked(sample(each))));
  }

  function onPointerUp(): void {
    if (mode.value === 'paint') effects.brush.release();
    mode.value = 'idle';
    last = undefined;
  }

  /** A finger that did hardly anything is the first of two; what else was painted stays. */
  function onPointerCancel(): void {
    if (mode.value === 'paint' && gone < MAY_BE_ONE_OF_TWO) effects.brush.cancel();
    onPointerUp();
  }

  function onPointerLeave(): void {
    if (mode.value === 'ready-to-pan') mode.value = 'idle';
    if (mode.value !== 'idle') return;
    isOver = false;
    effects.hover(undefined);
  }

  function onKey(event: KeyboardEvent): void {
    // Over the picture the space bar moves it, whichever button was pressed last.
    if (event.code === 'Space' && isOver && !isTextField(event.target)) {
      event.preventDefault();
      if (event.type === 'keydown' && mode.value === 'idle') mode.value = 'ready-to-pan';
      if (event.type === 'keyup' && mode.value === 'ready-to-pan') mode.value = 'idle';
    }
    if (event.key === 'Escape' && event.type === 'keydown' && effects.brush.isPainting) {
      effects.brush.cancel();
      mode.value = 'idle';
    }
  }

  return {
    mode,
    onPointerDown,
    onPointerMove,
    onPointerRawUpdate,
    onPointerUp,
    onPointerCancel,
    onPointerLeave,
    onKey,
  };
}

const isPen = ({ pointerType }: PointerEvent): boolean => pointerType === 'pen';

function isTextField(target: EventTarget | null): boolean {
  return target instanceof HTMLInputElement && target.type !== 'range';
}
