import { expect, it } from 'vitest';
import { computed, ref } from 'vue';
import type { ScenePoint } from '../../../stores/maskTools.ts';
import { scribbleTool } from './scribbleTool.ts';

const context = {
  perPixel: () => 2,
  preview: () => undefined,
  commit: () => undefined,
  closeDrag: () => undefined,
  end: () => undefined,
};

it('a press is not lost when the hint changes before it ends', () => {
  const waiting = ref(true);
  const taken: (readonly ScenePoint[])[] = [];
  const tool = computed(() =>
    scribbleTool(
      () => (waiting.value ? 'wait' : 'now'),
      context,
      (path) => taken.push(path),
    ),
  );
  expect(tool.value.hint).toBe('wait');
  tool.value.press({ x: 3, y: 4 });
  waiting.value = false;
  expect(tool.value.hint).toBe('now');
  tool.value.release();
  expect(taken).toEqual([[{ x: 3, y: 4 }]]);
});
