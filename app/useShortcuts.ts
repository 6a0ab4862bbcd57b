import { tinykeys } from 'tinykeys';
import { onBeforeUnmount, onMounted } from 'vue';
import { HELD, SHORTCUTS, type ShortcutAction } from './shortcuts.ts';

/** Inputs that take no text take no keys away from shortcuts either. */
const WITHOUT_TEXT = ['range', 'checkbox', 'radio', 'file'];

const isTyping = ({ target }: Event): boolean =>
  target instanceof HTMLInputElement && !WITHOUT_TEXT.includes(target.type);

/** Space and Enter press the button that has the focus; they are no shortcuts then. */
const isPressing = ({ target }: Event, keys: string): boolean =>
  (keys === 'Space' || keys === 'Enter') && (target instanceof HTMLButtonElement || target instanceof HTMLInputElement);

/** Binds shortcuts while a component is shown. An action that answers to release as well is told `false` then. */
export function useShortcuts(actions: Partial<Record<ShortcutAction, (pressed: boolean) => void>>): void {
  const bound = SHORTCUTS.filter(({ action }) => actions[action]);
  const bind = (event: 'keydown' | 'keyup', wanted: readonly (typeof SHORTCUTS)[number][]) =>
    tinykeys(
      window,
      Object.fromEntries(
        wanted.map(({ keys, action }) => [
          keys,
          (e: KeyboardEvent) => {
            if (isTyping(e) || isPressing(e, keys) || (e.repeat && HELD.has(action))) return;
            e.preventDefault();
            actions[action]?.(event === 'keydown');
          },
        ]),
      ),
      { event },
    );
  let unbind: (() => void)[] = [];
  onMounted(() => {
    unbind = [
      bind('keydown', bound),
      bind(
        'keyup',
        bound.filter(({ action }) => HELD.has(action)),
      ),
    ];
  });
  onBeforeUnmount(() => {
    for (const each of unbind) each();
  });
}
