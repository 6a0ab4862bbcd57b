import { ref } from 'vue';
import type { BrushPoint, BrushTool } from './brushTool.ts';
import type { Point } from './viewTransform.ts';

const HAS_RAW_UPDATES = 'onpointerrawupdate' in window;

type Mode = 'idle' | 'ready-to-pan' | 'pan' | 'paint';

interface PointerEffects {
  toScene: (event: PointerEvent) => Point;
  canPaint: () => boolean;
  brush: BrushTool;
  press: (point: BrushPoint, straight: boolean) => void;
  /** By CSS pixels. */
  pan: (dx: number, dy: number) => void;
  hover: (event: PointerEvent | undefined) => void;
}

/** Pointer and keys on the canvas: painting with the main button or the pen, panning with the middle button, with the
 * space bar held, or when there is nothing to paint on. Escape gives a stroke up. */
export function usePointer(effects: PointerEffects) {
  const mode = ref<Mode>('idle');
  let last: { x: number; y: number } | undefined;
  let isOver = false;

  function sample(event: PointerEvent): BrushPoint {
    const { x, y } = effects.toScene(event);
    return { x, y, pressure: event.pointerType === 'mouse' ? 0.5 : event.pressure, timeMs: event.timeStamp };
  }

  function onPointerDown(event: PointerEvent): void {
    const target = event.currentTarget as HTMLElement;
    target.parentElement?.focus({ preventScroll: true });
    if (mode.value === 'ready-to-pan' || event.button === 1 || (event.button === 0 && !effects.canPaint())) {
      mode.value = 'pan';
      last = { x: event.clientX, y: event.clientY };
    } else if (event.button === 0) {
      mode.value = 'paint';
      effects.press(sample(event), event.shiftKey);
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
    } else if (mode.value === 'paint' && !HAS_RAW_UPDATES) {
      paintAlong(event);
    }
  }

  /** The pointer as soon as the system knows of it, some milliseconds before the page is next drawn. */
  function onPointerRawUpdate(event: Event): void {
    if (mode.value === 'paint') paintAlong(event as PointerEvent);
  }

  function paintAlong(event: PointerEvent): void {
    const passed = event.getCoalescedEvents?.() ?? [];
    effects.brush.move((passed.length > 0 ? passed : [event]).map(sample));
  }

  function onPointerUp(): void {
    if (mode.value === 'paint') effects.brush.release();
    mode.value = 'idle';
    last = undefined;
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

  return { mode, onPointerDown, onPointerMove, onPointerRawUpdate, onPointerUp, onPointerLeave, onKey };
}

function isTextField(target: EventTarget | null): boolean {
  return target instanceof HTMLInputElement && target.type !== 'range';
}
