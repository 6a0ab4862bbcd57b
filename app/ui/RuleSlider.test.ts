// @vitest-environment happy-dom
import { afterEach, describe, expect, it } from 'vitest';
import { type App, createApp, h, nextTick, reactive } from 'vue';
import RuleSlider from './RuleSlider.vue';

let app: App | undefined;
afterEach(() => {
  app?.unmount();
  document.body.innerHTML = '';
});

function mount(change: Record<string, unknown> = {}) {
  const log: [string, number][] = [];
  const props = reactive({
    label: 'Size',
    value: 100,
    min: 1,
    max: 10000,
    step: 1,
    usual: 400,
    geometric: true,
    ...change,
  });
  const box = document.createElement('div');
  document.body.append(box);
  app = createApp(() =>
    h(RuleSlider, {
      ...props,
      onPreview: (value: number) => log.push(['preview', value]),
      onCommit: (value: number) => log.push(['commit', value]),
    }),
  );
  app.mount(box);
  const range = box.querySelector('input[type=range]') as HTMLInputElement;
  const text = box.querySelector('input[type=text]') as HTMLInputElement;
  const label = box.querySelector('label') as HTMLLabelElement;
  return { log, range, text, label };
}

const send = (element: HTMLElement, event: string, key?: string) =>
  element.dispatchEvent(key ? new KeyboardEvent(event, { key }) : new Event(event));

describe('a number on a rule', () => {
  it('previews while dragged and commits once', () => {
    const { log, range } = mount();
    for (const at of ['600', '700']) {
      range.value = at;
      send(range, 'input');
    }
    send(range, 'change');
    expect(log).toEqual([
      ['preview', Math.round(10 ** 2.4)],
      ['preview', Math.round(10 ** 2.8)],
      ['commit', Math.round(10 ** 2.8)],
    ]);
  });

  it('forgets the rest of a drag after Escape, and takes the next one', () => {
    const { log, range } = mount();
    range.value = '600';
    send(range, 'input');
    send(range, 'keydown', 'Escape');
    range.value = '700';
    send(range, 'input');
    send(range, 'change');
    expect(log).toEqual([['preview', Math.round(10 ** 2.4)]]);
    send(range, 'pointerdown');
    send(range, 'change');
    expect(log.at(-1)).toEqual(['commit', Math.round(10 ** 2.8)]);
  });

  it('takes typed numbers within its bounds, and leaves nonsense alone', async () => {
    const { log, text } = mount({ shown: 100, min: 0, max: 1, step: 0.01, value: 0.5, geometric: false });
    expect(text.value).toBe('50');
    for (const typed of ['37,5', '900', 'abc', '']) {
      text.value = typed;
      send(text, 'input');
      await nextTick();
      send(text, 'blur');
      await nextTick();
    }
    expect(log).toEqual([
      ['commit', 0.38],
      ['commit', 1],
    ]);
  });

  it('steps by keys and is reset by a double press on its name', () => {
    const { log, range, label } = mount();
    send(range, 'keydown', 'ArrowRight');
    send(range, 'keydown', 'ArrowLeft');
    send(label, 'dblclick');
    expect(log).toEqual([
      ['commit', 110],
      ['commit', 91],
      ['commit', 400],
    ]);
  });
});
