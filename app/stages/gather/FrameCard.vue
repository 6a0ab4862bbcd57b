<script setup lang="ts">
/** One frame: picture, name, size and exposure; choose it as base or take it out. */
import { PhX } from '@phosphor-icons/vue';
import { computed } from 'vue';
import type { Frame } from '#core/scene/scene.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { sayBytes, sayEv, sayExposureTime } from '../../wording.ts';

const props = defineProps<{ frame: Frame; /** Stops against the middle frame. */ ev: number | null; isBase: boolean; lit: boolean }>();
const emit = defineEmits<{ choose: []; remove: [] }>();

const exposure = computed(() => {
  const { exposureTime, fNumber, iso } = props.frame.shot;
  const parts = [exposureTime && sayExposureTime(exposureTime), fNumber && `f/${fNumber}`, iso && `ISO ${iso}`].filter(Boolean);
  return parts.length > 0 ? parts.join(' · ') : 'No exposure data in the file';
});
const takenAt = computed(() => props.frame.shot.takenAt?.replace('T', ' ') ?? '');
const view = computed(() => ({ kind: 'frame', frameId: props.frame.id }) as const);
</script>

<template>
  <li class="overflow-hidden rounded-md bg-panel transition-shadow duration-100" :class="{ 'ring-2 ring-verdigris': isBase, 'ring-2 ring-on-surround': lit && !isBase }" :data-testid="`frame-${frame.file.name}`">
    <TileThumb :size="frame" :view="view" :side="420" class="aspect-3/2 w-full" :label="frame.file.name" />
    <div class="flex gap-3 p-2.5">
      <div class="min-w-0 flex-1">
        <div class="flex items-baseline gap-2">
          <span class="truncate font-semibold">{{ frame.file.name }}</span>
          <span class="ml-auto shrink-0 text-base font-semibold">{{ ev === null ? '' : `${sayEv(ev)} EV` }}</span>
        </div>
        <div class="text-soft">{{ exposure }}</div>
        <div class="text-[12px] text-soft">{{ frame.width }} × {{ frame.height }} · {{ frame.bits }} bit · {{ sayBytes(frame.file.bytes) }}</div>
        <div class="text-[12px] text-soft">{{ takenAt }}</div>
      </div>
    </div>
    <div class="flex gap-2 px-2.5 pb-2.5">
      <button type="button" class="btn h-7 flex-1 justify-center" :class="{ 'btn-main': isBase }" :aria-pressed="isBase" @click="emit('choose')">{{ isBase ? 'Base of the stack' : 'Make it the base' }}</button>
      <button type="button" class="btn h-7" aria-label="Remove frame" title="Take it out of the scene" @click="emit('remove')"><PhX :size="14" /></button>
    </div>
  </li>
</template>
