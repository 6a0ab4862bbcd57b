<script setup lang="ts">
/** An upright that divides a picture in two: dragged, or moved by arrow keys. */
const share = defineModel<number>({ required: true });

const put = (at: number) => { share.value = Math.min(1, Math.max(0, at)); };

function onDown(event: PointerEvent): void {
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
}

function onMove(event: PointerEvent): void {
  const bar = event.currentTarget as HTMLElement;
  if (!bar.hasPointerCapture(event.pointerId)) return;
  const { left, width } = (bar.parentElement as HTMLElement).getBoundingClientRect();
  put((event.clientX - left) / width);
}
</script>

<template>
  <button
    type="button" class="pointer-events-auto absolute inset-y-0 w-4 -translate-x-1/2 cursor-ew-resize" :style="{ left: `${share * 100}%` }"
    role="slider" aria-label="Divider" :aria-valuenow="Math.round(share * 100)" aria-valuemin="0" aria-valuemax="100"
    @pointerdown.stop="onDown" @pointermove.stop="onMove" @keydown.left.stop.prevent="put(share - 0.02)" @keydown.right.stop.prevent="put(share + 0.02)"
  >
    <span class="mx-auto block h-full w-0.5 bg-verdigris" />
  </button>
</template>
