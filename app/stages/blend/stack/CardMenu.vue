<script setup lang="ts">
/** What is done less often with a card. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { PhDotsThree } from '@phosphor-icons/vue';
import type { CardAction } from './useCard.ts';

defineProps<{ label: string; actions: readonly CardAction[] }>();
</script>

<template>
  <Menu as="div" class="relative flex">
    <MenuButton class="rounded p-0.5 hover:bg-panel" :aria-label="`More for ${label}`" title="Once more, grouped, elsewhere, or away"><PhDotsThree :size="13" /></MenuButton>
    <MenuItems class="fixed bottom-40 z-30 flex w-56 flex-col rounded bg-raised p-1 shadow-xl focus:outline-none">
      <MenuItem v-for="{ label: what, run } in actions" :key="what" v-slot="{ active }"><button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="run">{{ what }}</button></MenuItem>
    </MenuItems>
  </Menu>
</template>
