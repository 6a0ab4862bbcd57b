import { onBeforeUnmount, onMounted, type Ref } from 'vue';

/** Calls `onResize` whenever an element changes its size. */
export function useResizeObserver(element: Ref<HTMLElement | undefined>, onResize: () => void): void {
  const observer = new ResizeObserver(() => onResize());
  onMounted(() => element.value && observer.observe(element.value));
  onBeforeUnmount(() => observer.disconnect());
}
