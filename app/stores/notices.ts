import { defineStore } from 'pinia';
import { ref } from 'vue';

export interface Notice {
  id: number;
  tone: 'plain' | 'error';
  text: string;
  action?: { label: string; run: () => void };
}

const PLAIN_MS = 6000;
/** A notice with a way back, or about a failure, stays longer. */
const LONG_MS = 12000;

/** Short messages at the edge of the window. */
export const useNotices = defineStore('notices', () => {
  const list = ref<Notice[]>([]);
  let last = 0;

  function dismiss(id: number): void {
    list.value = list.value.filter((notice) => notice.id !== id);
  }

  function tell(text: string, options: Partial<Pick<Notice, 'tone' | 'action'>> & { onGone?: () => void } = {}): void {
    const { tone = 'plain', action, onGone } = options;
    const id = ++last;
    const own = action && {
      label: action.label,
      run: () => {
        dismiss(id);
        action.run();
      },
    };
    list.value = [...list.value, { id, tone, text, action: own }];
    setTimeout(
      () => {
        dismiss(id);
        onGone?.();
      },
      tone === 'error' || action ? LONG_MS : PLAIN_MS,
    );
  }

  return { list, tell, dismiss };
});
