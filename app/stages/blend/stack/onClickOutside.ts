import { onBeforeUnmount, onMounted, type Ref } from 'vue';

/** Hears of presses outside an element while it is there. */
export function onClickOutside(element: Ref<HTMLElement | undefined>, heard: (event: PointerEvent) => void): void {
  const listen = (event: PointerEvent) => {
    if (element.value && !element.value.contains(event.target as Node)) heard(event);
  };
  onMounted(() => window.addEventListener('pointerdown', listen, true));
  onBeforeUnmount(() => window.removeEventListener('pointerdown', listen, true));
}
