<script setup lang="ts">
/** What will be written, where to, and how far it is. */
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useDeliveries } from '../../stores/deliveries.ts';
import ProgressLine from '../../ui/ProgressLine.vue';
import { sayList, sayTimeLeft } from './deliveryWords.ts';
import { useNames } from './useNames.ts';

const deliveries = useDeliveries();
const names = useNames();
const single = computed(() => (deliveries.together.length === 1 && names.isOneFile(deliveries.together[0]) ? names.nameOf(deliveries.together[0]) : undefined));
const label = computed(() => single.value ? `Write ${single.value}` : deliveries.together.length === 0 ? 'Write' : `Write ${deliveries.together.length} presets`);

const to = computed(() => sayList(deliveries.placesOf(deliveries.together)));

const now = ref(performance.now());
let clock: ReturnType<typeof setInterval> | undefined;
watch(() => deliveries.working !== undefined, (isWorking) => {
  clearInterval(clock);
  if (isWorking) clock = setInterval(() => { now.value = performance.now(); }, 500);
}, { immediate: true });
onBeforeUnmount(() => clearInterval(clock));
const text = computed(() => {
  const { working } = deliveries;
  if (!working) return '';
  const left = sayTimeLeft(working.share, now.value - working.startedAt);
  return `Writing ${Math.round(working.share * 100)} %${left ? `, ${left}` : ''}`;
});
</script>

<template>
  <div class="flex h-11 shrink-0 items-center gap-3 bg-panel px-3" role="toolbar" aria-label="Export">
    <ProgressLine v-if="deliveries.working" class="min-w-0 flex-1" :text="text" :share="deliveries.working.share" stoppable @stop="deliveries.stop" />
    <template v-else>
      <button type="button" class="btn btn-main" :disabled="deliveries.together.length === 0" :title="deliveries.together.length === 0 ? 'Tick a preset at the foot first' : 'Write the ticked presets'" @click="deliveries.write">{{ label }}</button>
      <span v-if="to" class="min-w-0 truncate text-soft">to {{ to }}</span>
    </template>
  </div>
</template>
