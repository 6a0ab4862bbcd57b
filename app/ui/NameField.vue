<script setup lang="ts">
/** A name that is edited in place: what is being typed is kept, whatever changes around it, and handed over at the end. */
import { ref, watch } from 'vue';

const props = defineProps<{ value: string; label: string; most: number; /** Whether it may be empty. */ empty?: boolean }>();
const emit = defineEmits<{ commit: [name: string] }>();

const typed = ref(props.value);
const typing = ref(false);
watch(() => props.value, (value) => { if (!typing.value) typed.value = value; });

function finish(): void {
  typing.value = false;
  const name = typed.value.trim();
  if (name !== props.value && (name !== '' || props.empty)) emit('commit', name);
  // The name comes back when it is taken; one that is not leaves the old one.
  typed.value = name === '' ? props.value : name;
}

function giveUp(event: Event): void {
  typed.value = props.value;
  (event.target as HTMLInputElement).blur();
}
</script>

<template>
  <input
    v-model="typed" type="text" :aria-label="label" :maxlength="most" @focus="typing = true" @input="typing = true" @blur="finish"
    @keydown.enter="($event.target as HTMLInputElement).blur()" @keydown.esc.stop="giveUp"
  />
</template>
