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

  it('selects the number when it is clicked into, and gives the typing up with Escape', async () => {
    const { log, text, range } = mount();
    text.focus();
    expect([text.selectionStart, text.selectionEnd]).toEqual([0, 3]);
    text.setSelectionRange(1, 1);
    text.click();
    expect([text.selectionStart, text.selectionEnd]).toEqual([0, 3]);
    // From the second click on the caret stays where it is put.
    text.setSelectionRange(1, 1);
    text.click();
    expect(text.selectionStart).toBe(1);
    text.value = '7';
    send(text, 'input');
    await nextTick();
    let heard = false;
    document.body.addEventListener('keydown', () => {
      heard = true;
    });
    text.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
    await nextTick();
    expect([text.value, heard, document.activeElement === range]).toEqual(['100', false, true]);
    expect(log).toEqual([]);
  });

  it('has marks that a click takes', () => {
    const { log, label } = mount({
      min: 0.01,
      max: 1,
      step: 0.01,
      value: 0.5,
      geometric: false,
      shown: 100,
      unit: '%',
      marks: [0.1, 0.4],
    });
    const marks = [...(label.parentElement as HTMLElement).querySelectorAll('button')];
    expect(marks.map((mark) => mark.title)).toEqual(['10 %', '40 %']);
    marks[1].click();
    expect(log).toEqual([['commit', 0.4]]);
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

  it('is reset by a double press on its number, whatever was being typed there', () => {
    const { log, text } = mount();
    text.value = '25';
    send(text, 'input');
    send(text, 'dblclick');
    send(text, 'blur');
    expect(log).toEqual([['commit', 400]]);
  });
});
