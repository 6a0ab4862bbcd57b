import type { Frame } from '#core/scene/frame.ts';
import { useShortcuts } from '../../useShortcuts.ts';

interface SheetActions {
  choose: (id: string, choice: Frame['choice']) => void;
  base: (id: string) => void;
  mark: (id: string) => void;
  look: (id: string | undefined) => void;
  /** Whether the sheet is what is looked at. */
  isActive: () => boolean;
}

/** The frame that has the focus on the contact sheet. */
function focused(): HTMLElement | null {
  return document.activeElement?.closest<HTMLElement>('[data-frame]') ?? null;
}

/** Keys of the contact sheet, each for the frame that has the focus. */
export function useSheetKeys({ choose, base, mark, look, isActive }: SheetActions): void {
  const withFocus = (use: (id: string) => void) => () => {
    const id = focused()?.dataset.frame;
    if (id && isActive()) use(id);
  };
  useShortcuts({
    'frame.in': withFocus((id) => choose(id, 'pick')),
    'frame.perhaps': withFocus((id) => choose(id, 'maybe')),
    'frame.out': withFocus((id) => choose(id, 'out')),
    'frame.base': withFocus(base),
    'frame.mark': withFocus(mark),
    compare: () => {
      if (isActive()) look(focused()?.dataset.frame);
    },
  });
}

/** Moves the focus to the frame that lies in the direction of an arrow key. */
export function moveFocus(event: KeyboardEvent): void {
  const from = focused();
  if (!from || event.target instanceof HTMLInputElement) return;
  const direction = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (!direction) return;
  event.preventDefault();
  const [dx, dy] = direction;
  const middle = (card: HTMLElement) => {
    const { left, top, width, height } = card.getBoundingClientRect();
    return { x: left + width / 2, y: top + height / 2 };
  };
  const here = middle(from);
  let best: { card: HTMLElement; cost: number } | undefined;
  for (const card of document.querySelectorAll<HTMLElement>('[data-frame]')) {
    const { x, y } = middle(card);
    const along = (x - here.x) * dx + (y - here.y) * dy;
    const across = Math.abs((x - here.x) * dy) + Math.abs((y - here.y) * dx);
    const cost = along + 3 * across;
    if (card !== from && along > 4 && (!best || cost < best.cost)) best = { card, cost };
  }
  best?.card.focus();
}
