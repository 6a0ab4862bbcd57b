<script setup lang="ts">
/** Ways past what lies between: seen when they have the focus, first on every page. They name the areas that there are. */
import { ref } from 'vue';

const names = ref<string[]>(['Stage']);
const areas = () => [...document.querySelectorAll<HTMLElement>('[data-skip]')];

/** What a stage shows is known only once it is there. */
function look(): void {
  names.value = [...new Set(areas().flatMap(({ dataset }) => dataset.skip ?? []))];
}
function go(name: string): void {
  areas().find(({ dataset }) => dataset.skip === name)?.focus();
}
</script>

<template>
  <div class="fixed left-2 top-2 z-50 flex gap-1 not-focus-within:sr-only" role="navigation" aria-label="Skip to" @focusin="look">
    <button v-for="name in names" :key="name" type="button" class="btn h-8 bg-raised px-3 shadow-lg" @click="go(name)">Skip to: {{ name }}</button>
  </div>
</template>
