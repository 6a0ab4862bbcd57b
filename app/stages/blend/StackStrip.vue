<script setup lang="ts">
/** The stack as cards laid from the base upwards, left to right. */
import { computed, nextTick, ref, watch } from 'vue';
import type { Size } from '#core/raster/size.ts';
import { setBlendSpace } from '#core/scene/edits/stack.ts';
import { cardsOf } from '#core/scene/tree.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { frameLabel, itemLabel } from '../../frameLabel.ts';
import { useBench } from '../../stores/bench.ts';
import { useSession } from '../../stores/session.ts';
import LayMenu from './stack/LayMenu.vue';
import StackItems from './stack/StackItems.vue';

defineProps<{ size: Size }>();
const session = useSession();
const bench = useBench();

/** So many cards are found by their names rather than by looking. */
const MANY = 8;
const base = computed(() => session.scene.frames.find(({ id }) => id === session.scene.base));
const baseView = computed(() => base.value && ({ show: { what: 'frame', at: base.value.id } } as const));
const cards = computed(() => cardsOf(session.scene));
const strip = ref<HTMLElement>();
/** A wheel that turns one way only moves the strip along. */
function onWheel(event: WheelEvent): void {
  if (!strip.value || event.deltaX !== 0 || event.ctrlKey) return;
  strip.value.scrollLeft += event.deltaY;
  event.preventDefault();
}
/** However the card at hand was chosen, it comes into sight. */
watch(() => bench.state.layerId, async () => {
  await nextTick();
  strip.value?.querySelector('[data-chosen]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
});
/** The first card of that name is the one at hand. */
function takeFirst(): void {
  const text = bench.sought.trim().toLowerCase();
  const found = text && cards.value.find((item) => itemLabel(session.scene, item).toLowerCase().includes(text));
  if (found) bench.state.layerId = found.id;
  bench.sought = '';
}
</script>

<template>
  <div class="flex items-stretch">
    <section ref="strip" class="flex min-w-0 flex-1 items-stretch gap-2 overflow-x-auto scroll-px-2 px-2 py-1.5 [scrollbar-width:thin]" aria-label="Stack, from the base upwards" data-skip="Stack" tabindex="-1" @wheel="onWheel">
      <div v-if="base && baseView" class="flex w-28 shrink-0 flex-col rounded bg-sunken p-1.5">
        <TileThumb :size="size" :view="baseView" :side="110" class="min-h-6 w-full flex-1 rounded-sm" label="Base frame" />
        <div class="mt-1.5 flex justify-between font-semibold" :title="base.file.name"><span>Base</span><span>{{ frameLabel(session.scene, base.id) }}</span></div>
        <div class="truncate text-[11px] text-soft">{{ base.file.name }}</div>
      </div>
      <StackItems :items="session.scene.stack" :group="null" :size="size" />
    </section>
    <div class="flex flex-col gap-1.5 py-1.5 pr-2">
      <input v-if="cards.length > MANY" v-model="bench.sought" type="search" class="h-7 w-17 rounded bg-sunken px-1.5 text-[12px]" placeholder="Find" aria-label="Find a card by its name" @keydown.enter="takeFirst" @keydown.esc.stop="bench.sought = ''" />
      <LayMenu class="min-h-0 flex-1" :size="size" />
      <label class="flex w-17 flex-col pl-1 text-[11px] leading-3.5 text-soft" title="What layers mix: encoded values, as eyes see tones, or light itself">Mixes
        <select class="rounded-sm bg-transparent text-ink" aria-label="What layers mix" :value="session.scene.blendSpace" :disabled="session.readOnly" @change="session.dispatch(setBlendSpace({ blendSpace: ($event.target as HTMLSelectElement).value as 'encoded' | 'linear' }))">
          <option value="encoded">tones</option><option value="linear">light</option>
        </select>
      </label>
    </div>
  </div>
</template>
