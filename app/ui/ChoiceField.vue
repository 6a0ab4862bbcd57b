<script setup lang="ts" generic="T extends string">
/** A choice out of a list too long for a row. */
defineProps<{ label: string; value: T; choices: readonly { value: T; label: string }[]; /** The name is told to screen readers only. */ quiet?: boolean }>();
const emit = defineEmits<{ choose: [value: T] }>();
</script>

<template>
  <label class="flex min-w-0 items-center gap-2">
    <span v-if="!quiet" class="shrink-0 text-soft">{{ label }}</span>
    <select class="field h-6.5 min-w-0 flex-1 px-1" :aria-label="label" :value="value" @change="emit('choose', ($event.target as HTMLSelectElement).value as T)">
      <option v-for="choice in choices" :key="choice.value" :value="choice.value">{{ choice.label }}</option>
    </select>
  </label>
</template>
