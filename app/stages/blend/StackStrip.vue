<script setup lang="ts">
/** The stack as cards laid from the base upwards, left to right. */
import { PhArrowDown, PhBracketsSquare, PhCaretLeft, PhCaretRight, PhDotsThree } from '@phosphor-icons/vue';
import { computed } from 'vue';
import { groupWithBelow, moveItem, setItem, ungroup } from '#core/scene/edits/items.ts';
import { GroupId, ItemId } from '#core/ids.ts';
import { duplicateItem, removeItem } from '#core/scene/edits/stack.ts';
import { activeLeaves, groupAround } from '#core/scene/tree.ts';
import type { Size } from '#core/raster/size.ts';
import { type Adjustment, frameOfLayer, type Layer } from '#core/scene/item.ts';
import type { View } from '#engine/protocol.ts';
import TileThumb from '../../bench/TileThumb.vue';
import LayMenu from './stack/LayMenu.vue';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { useBench } from '../../stores/bench.ts';
import { useSession } from '../../stores/session.ts';
import NameField from '../../ui/NameField.vue';
import { frameLabel, itemLabel } from '../../frameLabel.ts';

type Leaf = Layer | Adjustment;

defineProps<{ size: Size }>();
const session = useSession();
const bench = useBench();

const base = computed(() => session.scene.frames.find(({ id }) => id === session.scene.base));
const cards = computed(() => {
  const leaves = activeLeaves(session.scene).map(({ item }) => item);
  const groups = leaves.map(({ id }) => groupAround(session.scene, id));
  return leaves.map((layer, index) => {
    const group = groups[index];
    return {
      layer, index, group, label: itemLabel(session.scene, layer), view: viewOf(layer),
      mask: { show: { what: 'effect', at: layer.id } } as const,
      /** The first of its group carries the name; the bracket runs on to the others. */
      opens: group !== undefined && groups[index - 1] !== group,
      goesOn: group !== undefined && groups[index + 1] === group,
      canJoin: index > 0 && (!group || groups[index - 1] !== group),
    };
  });
});
function viewOf(layer: Leaf): View {
  if (layer.item === 'adjustment') return { show: { what: 'effect', at: layer.id } };
  const frame = frameOfLayer(layer);
  return { show: frame ? { what: 'frame', at: frame } : { what: 'content', at: layer.id } };
}
const baseView = computed(() => base.value && ({ show: { what: 'frame', at: base.value.id } } as const));

const toggle = (layer: Leaf) => session.dispatch(setItem({ id: layer.id, change: { visible: !layer.visible } }));
const join = (layer: Leaf) => session.dispatch(groupWithBelow({ layerId: layer.id, id: GroupId.parse(crypto.randomUUID()) }));
function duplicate(layer: Leaf, withMask: boolean): void {
  const id = ItemId.parse(crypto.randomUUID());
  session.dispatch(duplicateItem({ of: layer.id, id, withMask }));
  bench.state.layerId = id;
}
/** In which mode and how strongly; what is usual is left out. */
const howLaid = ({ item, mode, opacity }: Leaf) => [mode === 'normal' ? '' : mode, (mode === 'normal' && item === 'layer') || opacity < 1 ? `${Math.round(opacity * 100)} %` : ''].filter(Boolean).join(' ');
const actionsOf = (layer: Leaf) => [
  { label: 'Once more, with its masks', run: () => duplicate(layer, true) },
  { label: 'Once more, hidden', run: () => duplicate(layer, false) },
  { label: 'Take it out of the stack', run: () => session.dispatch(removeItem({ id: layer.id })) },
];
const move = (layer: Leaf, to: number) => session.dispatch(moveItem({ id: layer.id, to }));
</script>

<template>
  <div class="flex items-stretch">
    <section class="flex min-w-0 flex-1 items-stretch gap-2 overflow-x-auto px-2 py-2" aria-label="Stack, from the base upwards" data-skip="Stack" tabindex="-1">
      <div v-if="base && baseView" class="flex w-30 shrink-0 flex-col rounded bg-sunken p-1.5">
        <TileThumb :size="size" :view="baseView" :side="110" class="h-18 w-full rounded-sm" label="Base frame" />
        <div class="mt-1.5 flex justify-between font-semibold"><span>Base</span><span>{{ frameLabel(session.scene, base.id) }}</span></div>
        <div class="truncate text-[11px] text-soft">{{ base.file.name }}</div>
      </div>
      <div v-for="{ layer, index, group, label, view, mask, opens, goesOn, canJoin } in cards" :key="layer.id" class="relative flex shrink-0 flex-col rounded p-1.5" :class="[layer.item === 'adjustment' ? 'w-24' : 'w-30', layer.id === bench.state.layerId ? 'bg-raised shadow-[inset_0_3px_0_var(--color-verdigris)]' : 'bg-sunken']" :data-testid="`layer-${label}`">
        <button type="button" class="relative block text-left" :aria-pressed="layer.id === bench.state.layerId" :aria-label="`Select layer ${label}`" @click="bench.state.layerId = layer.id">
          <TileThumb :size="size" :view="view" :side="110" class="w-full rounded-sm" :class="[layer.visible ? '' : 'opacity-35', group ? 'h-14' : 'h-18']" :label="layer.item === 'adjustment' ? 'Where it counts' : 'What the layer shows'" />
          <PhArrowDown v-if="layer.item === 'adjustment'" :size="14" class="absolute left-1 top-1 rounded-sm bg-raised/85 p-0.5 text-ink" aria-hidden="true" />
          <TileThumb v-if="layer.item === 'layer'" :size="size" :view="mask" :side="56" class="absolute bottom-0 right-0 h-9 w-13.5 rounded-tl-sm outline-2 outline-sunken" label="Where the layer counts" />
        </button>
        <div v-if="group" class="relative mt-1 h-3.5 border-t-2 border-verdigris text-[11px]" :class="{ '-mr-3.5': goesOn }" data-testid="group-bracket">
          <NameField v-if="opens" class="w-full bg-transparent" :label="`Name of the group of ${label}`" :most="80" empty placeholder="Group" :value="group.label" @commit="session.dispatch(setItem({ id: group.id, change: { label: $event } }))" />
        </div>
        <div class="mt-1.5 flex items-baseline justify-between">
          <NameField class="min-w-0 flex-1 truncate bg-transparent font-semibold placeholder:text-ink" :label="`Name of ${label}`" :title="label" :most="80" empty :placeholder="label" :value="layer.label" @commit="session.dispatch(setItem({ id: layer.id, change: { label: $event } }))" />
          <span class="max-w-19 shrink-0 truncate whitespace-nowrap pl-1 text-[11px] text-soft" :title="`Laid in ${layer.mode}, ${Math.round(layer.opacity * 100)} %`">{{ howLaid(layer) }}</span>
        </div>
        <div class="flex items-center justify-between text-[11px] text-soft">
          <button type="button" class="rounded px-1 py-0.5 hover:bg-panel" :aria-pressed="layer.visible" :aria-label="`${layer.visible ? 'Visible' : 'Hidden'}: ${label}`" :title="layer.visible ? 'Hide this layer' : 'Show this layer'" @click="toggle(layer)">{{ layer.visible ? 'Visible' : 'Hidden' }}</button>
          <span class="flex">
            <button v-if="canJoin" type="button" class="rounded p-0.5 hover:bg-panel" :aria-label="`Group ${label} with the layer below`" title="Group with the layer below" @click="join(layer)"><PhBracketsSquare :size="13" /></button>
            <button v-else-if="group && !opens" type="button" class="rounded p-0.5 text-verdigris hover:bg-panel" :aria-label="`Take ${label} out of its group`" title="Take out of its group" @click="session.dispatch(ungroup({ layerId: layer.id }))"><PhBracketsSquare :size="13" /></button>
            <button type="button" class="rounded p-0.5 hover:bg-panel" :disabled="index === 0" :aria-label="`Move down the stack: ${label}`" title="Move down the stack" @click="move(layer, index - 1)"><PhCaretLeft :size="13" /></button>
            <Menu as="div" class="relative flex">
              <MenuButton class="rounded p-0.5 hover:bg-panel" :aria-label="`More for ${label}`" title="Once more, or away"><PhDotsThree :size="13" /></MenuButton>
              <MenuItems class="fixed bottom-16 z-30 flex w-52 flex-col rounded bg-raised p-1 shadow-xl focus:outline-none">
                <MenuItem v-for="{ label: what, run } in actionsOf(layer)" :key="what" v-slot="{ active }"><button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="run">{{ what }}</button></MenuItem>
              </MenuItems>
            </Menu>
            <button type="button" class="rounded p-0.5 hover:bg-panel" :disabled="index === cards.length - 1" :aria-label="`Move up the stack: ${label}`" title="Move up the stack" @click="move(layer, index + 1)"><PhCaretRight :size="13" /></button>
          </span>
        </div>
      </div>
    </section>
    <LayMenu class="py-2 pr-2" :size="size" />
  </div>
</template>
