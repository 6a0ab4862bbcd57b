<script setup lang="ts">
/** Presets as cards, in the order that is theirs; those that are ticked are written together. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { PhPlus } from '@phosphor-icons/vue';
import Sortable from 'sortablejs';
import { onBeforeUnmount, onMounted, ref } from 'vue';
import { restOf } from '#codecs/deliver/formats/list.ts';
import { type Delivery, faultOf, type Preset, presetWith, readPreset } from '#codecs/deliver/preset.ts';
import type { DeliveredPicture } from '#core/finish/delivered.ts';
import { useDeliveries } from '../../stores/deliveries.ts';
import { useNotices } from '../../stores/notices.ts';
import { sayPreset, sayPresetMore, WHAT_LABELS } from './deliveryWords.ts';
import { useNames } from './useNames.ts';

defineProps<{ delivered: DeliveredPicture }>();
const deliveries = useDeliveries();
const names = useNames();
const notices = useNotices();

const NEW: { what: Delivery; name: string; hint: string; change: Partial<Preset> }[] = [
  { what: 'picture', name: 'Picture', hint: 'one flat file, of any format and size', change: { space: 'scene' } },
  { what: 'layers', name: 'Layers', hint: 'for other programs: OpenRaster, or a TIFF of pages', change: { pattern: '{scene} layers' } },
  { what: 'masks', name: 'Masks', hint: 'a grey picture of 16 bits each', change: { file: restOf('png'), pattern: '{scene} mask {item}' } },
  { what: 'frames', name: 'Frames', hint: 'aligned, each a file', change: { space: 'scene', pattern: '{scene} {item}' } },
];

/** Adds a preset under a name that no other has, and ticks it. */
function add(preset: Preset): void {
  const taken = new Set(deliveries.presets.map(({ name }) => name));
  const name = taken.has(preset.name) ? `${preset.name.slice(0, 70)} ${deliveries.presets.length + 1}` : preset.name;
  const added = { ...preset, name, id: `preset-${crypto.randomUUID()}` };
  deliveries.add(added);
  deliveries.choose(added.id, true);
}

const make = ({ what, name, change }: (typeof NEW)[number]): void => add(presetWith({ ...change, what, name }));

const file = ref<HTMLInputElement>();
async function read(): Promise<void> {
  const [chosen] = file.value?.files ?? [];
  if (!chosen || !file.value) return;
  try {
    add(readPreset(JSON.parse(await chosen.text())));
  } catch (error) {
    notices.tell(`${chosen.name} is no preset. Choose a file that “To a file” of a preset made.`, { tone: 'error', details: faultOf(error) });
  }
  // So that the same file can be chosen once more.
  file.value.value = '';
}

const list = ref<HTMLElement>();
let sorting: Sortable | undefined;
onMounted(() => {
  if (!list.value) return;
  sorting = Sortable.create(list.value, {
    draggable: '[data-preset]',
    filter: 'input',
    preventOnFilter: false,
    animation: 120,
    onEnd: ({ item, oldDraggableIndex: from, newDraggableIndex: to }) => {
      if (from === undefined || to === undefined || from === to) return;
      // Vue lays the cards itself: the order is data.
      const siblings = [...(list.value?.querySelectorAll('[data-preset]') ?? [])];
      item.remove();
      list.value?.insertBefore(item, siblings.filter((each) => each !== item)[from] ?? null);
      deliveries.move((item as HTMLElement).dataset.preset as string, to - from);
    },
  });
});
onBeforeUnmount(() => sorting?.destroy());

function onKey(event: KeyboardEvent, id: string): void {
  const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (by === undefined || !event.altKey) return;
  event.preventDefault();
  event.stopPropagation();
  deliveries.move(id, by);
}
</script>

<template>
  <div class="flex items-stretch">
    <section ref="list" class="flex min-w-0 flex-1 items-stretch gap-2 overflow-x-auto px-2 py-1.5 [scrollbar-width:thin]" aria-label="Presets" data-skip="Presets" tabindex="-1">
      <div
        v-for="preset in deliveries.presets" :key="preset.id" :data-preset="preset.id" class="flex w-44 shrink-0 flex-col rounded p-2"
        :class="deliveries.atHand === preset.id ? 'bg-raised shadow-[inset_0_3px_0_var(--color-verdigris)]' : 'bg-sunken'"
      >
        <div class="flex items-center gap-1.5">
          <input type="checkbox" class="accent-verdigris" :checked="deliveries.chosen.includes(preset.id)" :aria-label="`Write ${preset.name}`" title="Written together with the other ticked ones" @change="deliveries.choose(preset.id, ($event.target as HTMLInputElement).checked)" />
          <span class="min-w-0 flex-1 truncate font-semibold">{{ preset.name }}</span>
        </div>
        <button type="button" class="flex min-h-0 flex-1 flex-col items-start gap-0.5 pt-1 text-left" :aria-pressed="deliveries.atHand === preset.id" :aria-label="`Preset ${preset.name}`" title="Alt and an arrow key, or a drag, moves it" @click="deliveries.atHand = preset.id" @keydown="onKey($event, preset.id)">
          <span class="max-w-full truncate text-[12px]">{{ sayPreset(preset) }}</span>
          <span class="max-w-full truncate text-[11.5px] text-soft">{{ sayPresetMore(preset) }}</span>
          <span class="mt-auto max-w-full truncate text-[11px] text-soft" :title="names.nameOf(preset)">{{ names.nameOf(preset) }}</span>
        </button>
      </div>
      <button
        type="button" class="flex w-44 shrink-0 flex-col rounded p-2 text-left" :class="deliveries.atHand === null ? 'bg-raised shadow-[inset_0_3px_0_var(--color-verdigris)]' : 'bg-sunken'"
        :aria-pressed="deliveries.atHand === null" @click="deliveries.atHand = null"
      >
        <span class="font-semibold">The scene file</span>
        <span class="pt-1 text-[12px]">everything, to be opened again</span>
        <span class="text-[11.5px] text-soft">frames, masks, strokes, steps</span>
      </button>
    </section>
    <Menu as="div" class="relative flex py-1.5 pr-2">
      <MenuButton class="btn h-full w-17 flex-col justify-center gap-1 px-1 text-[12px]" title="Make a preset"><PhPlus :size="16" /> Preset…</MenuButton>
      <MenuItems class="absolute bottom-full right-2 z-30 mb-1 flex w-84 flex-col rounded bg-raised p-1 shadow-xl focus:outline-none">
        <MenuItem v-for="each in NEW" :key="each.what" v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="make(each)"><span class="w-20 shrink-0 font-semibold">{{ WHAT_LABELS[each.what] }}</span><span class="text-[11px] leading-tight text-soft">{{ each.hint }}</span></button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="file?.click()"><span class="w-20 shrink-0 font-semibold">From a file</span><span class="text-[11px] leading-tight text-soft">a preset that was written to one, here or elsewhere</span></button>
        </MenuItem>
      </MenuItems>
    </Menu>
    <input ref="file" type="file" accept=".json" class="hidden" aria-label="File of a preset" @change="read" />
  </div>
</template>
