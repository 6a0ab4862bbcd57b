<script setup lang="ts">
/** What can be added to a mask. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { PhPlus } from '@phosphor-icons/vue';
import { computed, ref } from 'vue';
import type { Size } from '#core/raster/size.ts';
import { kindOf, PART_KINDS, type Part, type PartKind } from '#core/parts/list.ts';
import { frameOfLayer } from '#core/scene/item.ts';
import { layersOf } from '#core/scene/tree.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';
import { KINDS } from './partNames.ts';
import { useMaskPicture } from './useMaskPicture.ts';

const props = defineProps<{ size: Size }>();
const session = useSession();
const tools = useMaskTools();
const { takePicture } = useMaskPicture();

const beginnings = computed(() => {
  const other = layersOf(session.scene).find(({ id }) => id !== tools.layer?.id);
  const [stencil] = session.scene.stencils;
  return {
    size: props.size,
    base: session.scene.base,
    frame: tools.layer && frameOfLayer(tools.layer),
    otherMask: other ? { item: other.id } : stencil && { stencil: stencil.id },
  };
});
/** A kind that makes no sense here is not offered; one that cannot begin from nothing comes from a file. */
const possible = computed(() => PART_KINDS.filter((kind) => !kindOf({ kind }).begin || beginPart(kind)));
const beginPart = (kind: PartKind): Part | undefined => kindOf({ kind }).begin?.(beginnings.value);

const file = ref<HTMLInputElement>();

function add(kind: PartKind): void {
  const part = beginPart(kind);
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
