<script setup lang="ts">
/** What can be added to a mask. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { PhPlus } from '@phosphor-icons/vue';
import { computed, ref } from 'vue';
import type { Size } from '#core/raster/size.ts';
import { kindOf, PART_KINDS, type Part, type PartKind } from '#core/parts/list.ts';
import { frameOfLayer } from '#core/scene/item.ts';
import type { ReferenceTarget } from '#core/parts/referenceTarget.ts';
import { leadsBack } from '#core/scene/maskGraph.ts';
import { cardsAndSteps } from '#core/scene/tree.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { KINDS, referenceLabel, sayRing } from './partNames.ts';
import { useMaskPicture } from './useMaskPicture.ts';

const props = defineProps<{ size: Size }>();
const session = useSession();
const tools = useMaskTools();
const notices = useNotices();
const { takePicture } = useMaskPicture();

/** Masks that can be referred to from here, whether they lead back or not. */
const others = computed<ReferenceTarget[]>(() => [
  ...cardsAndSteps(session.scene).flatMap(({ id }) => (id === tools.item?.id ? [] : [{ item: id }])),
  ...session.scene.stencils.map(({ id }) => ({ stencil: id })),
]);
const beginnings = computed(() => {
  const { place } = tools;
  const other = others.value.find((to) => !place || !leadsBack(session.scene, place, to));
  return {
    size: props.size,
    base: session.scene.base,
    frame: tools.layer && frameOfLayer(tools.layer),
    otherMask: other,
  };
});
/** A kind that makes no sense here is not offered; one that cannot begin from nothing comes from a file. */
const possible = computed(() => PART_KINDS.filter((kind) => !kindOf({ kind }).begin || beginPart(kind) || (kind === 'reference' && others.value.length > 0)));
const beginPart = (kind: PartKind): Part | undefined => kindOf({ kind }).begin?.(beginnings.value);

const file = ref<HTMLInputElement>();

function add(kind: PartKind): void {
  const part = beginPart(kind);
  if (!part && kind === 'reference') {
    notices.tell(sayRing(others.value.map((to) => referenceLabel(session.scene, to)).join(', ')), { tone: 'error' });
    return;
  }
  if (!part) {
    file.value?.click();
    return;
  }
  tools.add(part);
  if (kind === 'outline') setTimeout(() => { tools.tool = 'draw'; });
}

async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const [chosen] = input.files ?? [];
  input.value = '';
  const part = chosen && (await takePicture(chosen, props.size));
  if (part) tools.add(part);
}
</script>

<template>
  <Menu as="div" class="relative">
    <MenuButton class="btn h-7 px-2"><PhPlus :size="14" /> Add part</MenuButton>
    <MenuItems class="absolute right-0 top-8 z-20 w-64 rounded bg-raised p-1 shadow-xl focus:outline-none">
      <MenuItem v-for="kind in possible" :key="kind" v-slot="{ active }">
        <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="add(kind)">
          <component :is="KINDS[kind].icon" :size="16" class="shrink-0" />
          <span class="w-20 shrink-0 font-semibold">{{ KINDS[kind].label }}</span>
          <span class="text-[11px] leading-tight text-soft">{{ KINDS[kind].hint }}</span>
        </button>
      </MenuItem>
    </MenuItems>
    <input ref="file" type="file" accept=".png,.tif,.tiff" class="hidden" aria-label="Grey picture for the mask" @change="take" />
  </Menu>
</template>
