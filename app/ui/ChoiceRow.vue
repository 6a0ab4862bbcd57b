<script setup lang="ts" generic="T extends string">
/** A few choices in a row, one of them taken. */
import { RadioGroup, RadioGroupOption } from '@headlessui/vue';

defineProps<{ label: string; value: T; choices: readonly { value: T; label: string; hint?: string; disabled?: boolean }[] }>();
const emit = defineEmits<{ choose: [value: T] }>();
</script>

<template>
  <RadioGroup :model-value="value" :aria-label="label" class="flex rounded bg-sunken p-0.5" @update:model-value="(next: T) => emit('choose', next)">
    <RadioGroupOption
      v-for="choice in choices" :key="choice.value" v-slot="{ checked, disabled }" :value="choice.value" :disabled="choice.disabled" as="template"
    >
      <button
        type="button" class="h-6.5 flex-1 whitespace-nowrap rounded-sm px-2 text-center transition-colors duration-100"
        :class="checked ? 'bg-raised font-semibold text-ink shadow-[inset_0_-2px_0_var(--color-verdigris)]' : disabled ? 'text-soft opacity-50' : 'text-soft hover:bg-raised/60 hover:text-ink'" :title="choice.hint"
      >
        {{ choice.label }}
      </button>
    </RadioGroupOption>
  </RadioGroup>
</template>
