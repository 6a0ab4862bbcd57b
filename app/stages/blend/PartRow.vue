<script setup lang="ts">
/** One part of a mask in its list: its place, join, name and picture; switched on and off, and more in a menu. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { PhDotsSixVertical, PhDotsThree } from '@phosphor-icons/vue';
import { computed, onMounted, ref, type VNode } from 'vue';
import { copyPart, movePart, removePart, setJoin, setPart, setPartEnabled, setRefinement } from '#core/scene/edits/masks.ts';
import { setStencil } from '#core/scene/edits/stencils.ts';
import { StencilId } from '#core/ids.ts';
import { type Join } from '#core/parts/partBase.ts';
import { maskOfParts } from '#core/scene/mask.ts';
import { type Part } from '#core/parts/list.ts';
import type { MaskPlace } from '#core/scene/places.ts';
import type { Size } from '#core/raster/size.ts';
import TileThumb from '../../bench/TileThumb.vue';
import { itemLabel } from '../../frameLabel.ts';
import { cardsAndSteps } from '#core/scene/tree.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import NameField from '../../ui/NameField.vue';
import { JOINS, KINDS, partLabel } from './partNames.ts';

const props = defineProps<{ part: Part; place: MaskPlace; index: number; size: Size; isOpen: boolean }>();
const session = useSession();
const tools = useMaskTools();

const label = computed(() => partLabel(session.scene, props.part));
/** The part alone and added, so that one that takes away is seen as well. */
const alone = computed(() => maskOfParts([{ ...props.part, join: 'add', enabled: true }]));
const view = computed(() => ({ show: { what: 'recipe', recipe: alone.value, at: props.place.owner } }) as const);
const where = computed(() => ({ ...props.place, part: props.part.id }));
const others = computed(() => cardsAndSteps(session.scene).flatMap((item) => (item.id === tools.item?.id ? [] : [item])));

const opener = ref<HTMLButtonElement>();
/** A menu gives the focus back to its button first. */
const AFTER_MENU_MS = 60;
onMounted(() => {
  if (tools.justAdded !== props.part.id) return;
  tools.justAdded = undefined;
  setTimeout(() => opener.value?.focus(), AFTER_MENU_MS);
});

const naming = ref(false);
const focus = ({ el }: VNode) => (el as HTMLInputElement | null)?.select();
function rename(name: string): void {
  naming.value = false;
  if (name !== props.part.name) session.dispatch(setPart({ ...where.value, change: { name } }));
}

function remove(): void {
  if (props.isOpen) tools.partId = null;
  session.dispatch(removePart(where.value));
}
function hold(): void {
  const stencil = { id: StencilId.parse(crypto.randomUUID()), name: '', mask: maskOfParts([{ ...props.part, join: 'add' }]) };
  if (tools.stencilled) session.dispatch(setStencil({ layerId: tools.stencilled.id, stencil }));
}
function step(event: KeyboardEvent): void {
  if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
  event.preventDefault();
  const to = props.index + (event.key === 'ArrowUp' ? -1 : 1);
  if (to >= 0) session.dispatch(movePart({ ...where.value, to }));
}

const ACTIONS = computed<{ label: string; run: () => void }[]>(() => [
  { label: 'Invert', run: () => session.dispatch(setRefinement({ ...where.value, change: { inverted: !props.part.refine.inverted } })) },
  { label: 'Rename', run: () => { naming.value = true; } },
  { label: 'Duplicate', run: () => session.dispatch(copyPart({ ...where.value, to: null })) },
  ...(props.place.of === 'stencil' ? [] : [{ label: 'Use as stencil', run: hold }]),
  ...others.value.map((layer) => ({ label: `Copy to layer ${itemLabel(session.scene, layer)}`, run: () => session.dispatch(copyPart({ ...where.value, to: { owner: layer.id }, isLaid: true })) })),
  { label: 'Remove', run: remove },
]);
</script>

<template>
  <li
    class="flex h-7 items-center gap-1 pl-1 pr-2" :data-testid="`part-${part.id}`"
    :class="[isOpen ? 'bg-raised shadow-[inset_3px_0_0_var(--color-verdigris)]' : '', part.enabled ? '' : 'text-soft']"
  >
    <span data-grip class="cursor-grab text-soft" title="Drag to reorder; Alt and arrow keys move the selected part"><PhDotsSixVertical :size="15" /></span>
    <select
      class="field h-6 w-9 shrink-0 px-0.5 text-center" :aria-label="`How ${label} joins`" :title="JOINS.find(({ value }) => value === part.join)?.label" :value="part.join"
      @change="session.dispatch(setJoin({ ...where, join: ($event.target as HTMLSelectElement).value as Join }))"
    >
      <option v-for="join in JOINS" :key="join.value" :value="join.value" :title="join.label">{{ join.sign }}</option>
    </select>
    <NameField v-if="naming" class="field h-6 min-w-0 flex-1" label="Name of the part" :most="60" :size="12" :value="part.name || label" @commit="rename" @blur="naming = false" @vue:mounted="focus" />
    <button v-else ref="opener" type="button" class="flex min-w-0 flex-1 items-center gap-1.5 text-left" :aria-pressed="isOpen" @click="tools.partId = part.id" @keydown="step" @dblclick="naming = true">
      <component :is="KINDS[part.kind].icon" :size="15" class="shrink-0" />
      <span class="truncate">{{ label }}</span>
      <span v-if="part.refine.inverted" class="shrink-0 text-[11px] text-soft">inverted</span>
    </button>
    <span class="shrink-0" @pointerenter="tools.peek = alone" @pointerleave="tools.peek = undefined"><TileThumb :size="size" :view="view" :side="34" class="h-5.5 w-8.5 rounded-sm" :label="`${label} alone`" /></span>
    <button
      type="button" class="shrink-0 rounded px-1 text-[11px] hover:bg-panel" :aria-pressed="part.enabled" :aria-label="`${label} on`" :title="part.enabled ? 'On: click to switch it off' : 'Off: click to switch it on'"
      @click="session.dispatch(setPartEnabled({ ...where, enabled: !part.enabled }))"
    >
      {{ part.enabled ? 'on' : 'off' }}
    </button>
    <Menu as="div" class="relative shrink-0">
      <MenuButton class="rounded p-0.5 hover:bg-panel" :aria-label="`More for ${label}`"><PhDotsThree :size="17" /></MenuButton>
      <MenuItems class="absolute right-0 top-6 z-20 w-52 rounded bg-raised p-1 shadow-xl focus:outline-none">
        <MenuItem v-for="action in ACTIONS" :key="action.label" v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="action.run">{{ action.label }}</button>
        </MenuItem>
      </MenuItems>
    </Menu>
  </li>
</template>
