<script setup lang="ts">
/** What can be laid in the stack, above the card at hand. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { PhPlus } from '@phosphor-icons/vue';
import { computed, ref } from 'vue';
import { ItemId, LayerId } from '#core/ids.ts';
import type { Size } from '#core/raster/size.ts';
import { addAdjustment, addLayer } from '#core/scene/edits/stack.ts';
import type { Frame } from '#core/scene/frame.ts';
import type { Content } from '#core/scene/item.ts';
import { STACK_ADJUSTMENTS, type StackAdjustment } from '../../../develop/adjustmentWords.ts';
import { findItem, ownerOf } from '#core/scene/tree.ts';
import { frameLabel, itemLabel } from '../../../frameLabel.ts';
import { useFrames } from '../../../stores/frames.ts';
import { useNotices } from '../../../stores/notices.ts';
import { ACCEPTED, sayError } from '../../../wording.ts';
import { useBench } from '../../../stores/bench.ts';
import { useSession } from '../../../stores/session.ts';
import ChoiceRow from '../../../ui/ChoiceRow.vue';
import ShelfFrames from './ShelfFrames.vue';

const props = defineProps<{ size: Size }>();
const session = useSession();
const bench = useBench();
const frames = useFrames();
const notices = useNotices();

const GREY: [number, number, number] = [0.5, 0.5, 0.5];
const choices = computed<{ label: string; hint: string; content: Content }[]>(() => [
  { label: 'One colour', hint: 'painted in where you want it', content: { colour: GREY } },
  {
    label: 'Run of two colours', hint: 'from one to the other along a line',
    content: { gradient: { start: { x: props.size.width / 2, y: 0 }, end: { x: props.size.width / 2, y: props.size.height }, from: [0, 0, 0], to: [1, 1, 1] } },
  },
  { label: 'Picture so far', hint: 'what lies below, once more, to be laid in a mode', content: { below: true } },
  ...session.scene.frames.map(({ id }) => ({ label: `Frame ${frameLabel(session.scene, id)}`, hint: id === session.scene.base ? 'the base, once more' : 'once more, with a mask of its own', content: { frame: id } })),
]);
/** What a new adjustment changes. */
const scope = ref<'below' | 'card'>('below');
/** The layer or group that would be adjusted alone. */
const card = computed(() => {
  const { layerId } = bench.state;
  const item = layerId === null ? undefined : findItem(session.scene, layerId);
  return item?.item === 'adjustment' ? ownerOf(session.scene, item.id) : item;
});
const SCOPES = computed(() => [
  { value: 'below' as const, label: 'All below' },
  { value: 'card' as const, label: card.value ? `Only ${itemLabel(session.scene, card.value)}` : 'Only the card', disabled: !card.value },
]);
const picture = ref<HTMLInputElement>();
function takeChosen(event: Event): void {
  const input = event.target as HTMLInputElement;
  const [file] = input.files ?? [];
  input.value = '';
  if (file) void takePicture(file);
}
async function takePicture(file: File, reading?: Frame['reading']): Promise<void> {
  fromShelf.value = false;
  try {
    const taken = await frames.takeLayerPicture(file, reading);
    if (taken) lay({ picture: taken });
  } catch (error) {
    notices.tell(`${file.name}: ${sayError(error)}`, { tone: 'error' });
  }
}
/** Whether frames of other scenes are shown. */
const fromShelf = ref(false);
const adjustments = Object.entries(STACK_ADJUSTMENTS) as [StackAdjustment, { title: string; hint: string }][];
function adjust(kind: StackAdjustment): void {
  const id = ItemId.parse(crypto.randomUUID());
  const of = scope.value === 'card' ? card.value : undefined;
  scope.value = 'below';
  session.dispatch(addAdjustment({ id, kind, above: bench.state.layerId, ...(of && { of: of.id }) }));
  bench.state.layerId = id;
}
function lay(content: Content): void {
  const id = LayerId.parse(crypto.randomUUID());
  session.dispatch(addLayer({ id, content, above: bench.state.layerId }));
  bench.state.layerId = id;
}
</script>

<template>
  <Menu as="div" class="flex shrink-0">
    <MenuButton class="btn h-full w-17 flex-col justify-center gap-1 px-1 text-[12px]" title="Lay something above the card at hand" :disabled="session.readOnly"><PhPlus :size="16" /> Lay…</MenuButton>
    <MenuItems class="fixed bottom-42 z-30 flex max-h-[calc(100vh-12rem)] -translate-x-100 gap-1 overflow-y-auto rounded bg-raised p-1 shadow-xl focus:outline-none">
      <div class="flex w-66 flex-col">
        <h3 class="caption px-2 py-1">Lay</h3>
        <MenuItem v-for="{ label, hint, content } in choices" :key="label" v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="lay(content)">
            <span class="w-30 shrink-0 font-semibold">{{ label }}</span>
            <span class="text-[11px] leading-tight text-soft">{{ hint }}</span>
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="picture?.click()">
            <span class="w-30 shrink-0 font-semibold">Another picture…</span>
            <span class="text-[11px] leading-tight text-soft">from a file, of any size, placed by its corners and edges</span>
          </button>
        </MenuItem>
        <MenuItem v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="fromShelf = true">
            <span class="w-30 shrink-0 font-semibold">Another scene…</span>
            <span class="text-[11px] leading-tight text-soft">one of its frames: another sky, a long exposure</span>
          </button>
        </MenuItem>
      </div>
      <div class="flex w-62 flex-col">
        <h3 class="caption px-2 py-1">Adjust</h3>
        <ChoiceRow class="mx-1 mb-1" label="What it changes" :value="scope" :choices="SCOPES" @choose="scope = $event" />
        <MenuItem v-for="[kind, { title, hint }] in adjustments" :key="kind" v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="adjust(kind)">
            <span class="w-20 shrink-0 font-semibold">{{ title }}</span>
            <span class="text-[11px] leading-tight text-soft">{{ hint }}</span>
          </button>
        </MenuItem>
      </div>
    </MenuItems>
    <input ref="picture" type="file" :accept="ACCEPTED" class="hidden" aria-label="Picture for a layer" @change="takeChosen" />
    <ShelfFrames v-if="fromShelf" @choose="takePicture" @close="fromShelf = false" />
  </Menu>
</template>
