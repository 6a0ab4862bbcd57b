<script setup lang="ts">
/** Says what lies left of the divider. */
import { computed } from 'vue';
import { useBench } from '../../stores/bench.ts';
import { beforeChoices } from './beforeChoices.ts';

const props = defineProps<{ finish?: boolean }>();
const bench = useBench();
const words = computed(() => beforeChoices(props.finish, bench.since?.name).find(({ value }) => value === bench.state.beforeIs)?.label);
</script>

<template>
  <span class="absolute left-3 top-3 rounded bg-panel/90 px-2 py-0.5 text-[12px]">Before{{ words && `: ${words}` }}</span>
</template>
