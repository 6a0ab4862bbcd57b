import { expect, it } from 'vitest';
import { computed, ref } from 'vue';
import { idleTool } from '../../../../tests/idleTool.ts';
import type { ScenePoint } from '../../../stores/maskTools.ts';
import { scribbleTool } from './scribbleTool.ts';

it('a press is not lost when the hint changes before it ends', () => {
  const waiting = ref(true);
  const taken: (readonly ScenePoint[])[] = [];
  const tool = computed(() =>
    scribbleTool(
      () => (waiting.value ? 'wait' : 'now'),
      idleTool,
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
