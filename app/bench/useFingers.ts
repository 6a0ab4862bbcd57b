import { type Ref, watch } from 'vue';
import { Fingers, type Grip } from './fingers.ts';

const EVENTS = ['pointerdown', 'pointermove', 'pointerrawupdate', 'pointerup', 'pointercancel'] as const;

/** Lets two fingers zoom and move the picture in a box, whatever tool lies over it; the tools hear only of a finger that works.
 * @param zoom - Does it, in CSS pixels of the page.
 * @param penSeen - A pen came near. */
export function useFingers(box: Ref<HTMLElement | undefined>, zoom: (grip: Grip) => void, penSeen?: () => void): void {
  /** Where the finger that works was put down. */
  let target: EventTarget | null = null;
  let isOwn = false;
  const fingers = new Fingers((id) => {
    isOwn = true;
    target?.dispatchEvent(new PointerEvent('pointercancel', { pointerId: id, pointerType: 'touch', bubbles: true }));
    isOwn = false;
  }, zoom);

  function heed(event: Event): void {
    if (isOwn || !(event instanceof PointerEvent)) return;
    if (event.pointerType === 'pen') {
      fingers.pen(event.timeStamp);
      penSeen?.();
    }
    if (event.pointerType !== 'touch') return;
    if (!works(event)) {
      event.stopPropagation();
      event.preventDefault();
    }
  }

  function works(event: PointerEvent): boolean {
    const finger = { id: event.pointerId, x: event.clientX, y: event.clientY, timeMs: event.timeStamp };
    switch (event.type) {
      case 'pointerdown': {
        const isWorking = fingers.press(finger, event.isPrimary);
        if (isWorking) target = event.target;
        return isWorking;
      }
      case 'pointermove':
        return fingers.move(finger);
      // It tells of places that a move tells of too.
      case 'pointerrawupdate':
        return fingers.works(finger.id);
      default:
        return fingers.release(finger.id);
    }
  }

  watch(
    box,
    (now, before) => {
      for (const kind of EVENTS) {
        before?.removeEventListener(kind, heed, { capture: true });
        now?.addEventListener(kind, heed, { capture: true });
      }
    },
    { immediate: true, flush: 'post' },
  );
}
