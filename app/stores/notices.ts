import { defineStore } from 'pinia';
import { ref } from 'vue';
import { detailsOf, sayError } from '../wording.ts';

export interface Notice {
  id: number;
  tone: 'plain' | 'error';
  text: string;
  /** What a report needs, for those who want to see it. */
  details?: string;
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

  function tell(
    text: string,
    options: Partial<Pick<Notice, 'tone' | 'action' | 'details'>> & { onGone?: () => void } = {},
  ): void {
    const { tone = 'plain', action, details, onGone } = options;
    // What is being said need not be said again.
    if (!action && list.value.some((notice) => notice.text === text)) return;
    const id = ++last;
    const own = action && {
      label: action.label,
      run: () => {
        dismiss(id);
        action.run();
      },
    };
    list.value = [...list.value, { id, tone, text, details, action: own }];
    setTimeout(
      () => {
        dismiss(id);
        onGone?.();
      },
      tone === 'error' || action ? LONG_MS : PLAIN_MS,
    );
  }

  /** Tells of a failure: a sentence, and the details for a report. */
  function tellError(error: unknown): void {
    tell(sayError(error), { tone: 'error', details: detailsOf(error) });
  }

  return { list, tell, tellError, dismiss };
});
