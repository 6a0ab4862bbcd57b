<script setup lang="ts">
/** While it is held a card is shown by itself over the base. */
import { PhFlashlight } from '@phosphor-icons/vue';

defineProps<{ label: string }>();
const emit = defineEmits<{ hold: [isHeld: boolean] }>();

function press(event: PointerEvent): void {
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  emit('hold', true);
}
</script>

<template>
  <button
    type="button" class="rounded p-0.5 hover:bg-panel" data-no-drag :aria-label="`Alone while held: ${label}`" title="Alone over the base, while held (V)"
    @pointerdown="press" @pointerup="emit('hold', false)" @pointercancel="emit('hold', false)" @keydown.enter.prevent="emit('hold', true)" @keydown.space.prevent="emit('hold', true)" @keyup="emit('hold', false)" @blur="emit('hold', false)"
  >
    <PhFlashlight :size="13" />
  </button>
</template>
