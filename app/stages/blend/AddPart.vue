<script setup lang="ts">
/** What can be added to a mask. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { PhPlus } from '@phosphor-icons/vue';
import { computed, ref } from 'vue';
import type { Size } from '#core/raster/size.ts';
import { type Part, type PartKind } from '#core/parts/list.ts';
import { newPaintedPart } from '#core/parts/painted.ts';
import { newTonePart } from '#core/parts/tone.ts';
import { plainPart } from '#core/parts/partBase.ts';
import { WHOLE_RANGE } from '#core/masks/range.ts';
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

const ORDER: readonly PartKind[] = ['tone', 'colour', 'gradient', 'radial', 'outline', 'difference', 'painted', 'reference', 'picture'];

/** Another layer to refer to, and two frames to tell apart: kinds without them are not offered. */
const otherLayer = computed(() => layersOf(session.scene).find(({ id }) => id !== tools.layer?.id));
const possible = computed(() => ORDER.filter((kind) => kind !== 'reference' || otherLayer.value || session.scene.stencils.length > 0));

const file = ref<HTMLInputElement>();

function made(kind: PartKind): Part | undefined {
  const { width, height } = props.size;
  const base = session.scene.base;
  const shown = tools.layer && frameOfLayer(tools.layer);
  switch (kind) {
    case 'tone':
      return newTonePart('base');
    case 'colour':
      return {
        kind, ...plainPart(kind), source: 'base', hue: { centre: 60, width: 20, shoulder: 20 },
        chroma: { ...WHOLE_RANGE, from: 0.1, fromShoulder: 0.08 }, lightness: { ...WHOLE_RANGE },
      };
    case 'gradient':
      return { kind, ...plainPart(kind), start: { x: width / 2, y: height * 0.35 }, end: { x: width / 2, y: height * 0.6 }, profile: 'smooth', middle: 0.5 };
    case 'radial':
      return { kind, ...plainPart(kind), centre: { x: width / 2, y: height / 2 }, radiusX: width / 4, radiusY: height / 4, turn: 0, feather: 0.5 };
    case 'outline':
      return { kind, ...plainPart(kind), corners: [], feather: Math.round(width / 200) };
    case 'difference':
      return base && shown ? { kind, ...plainPart(kind), first: base, second: shown, stops: null, from: 0.06, shoulder: 0.12 } : undefined;
    case 'painted':
      return newPaintedPart();
    case 'reference':
      return otherLayer.value
        ? { kind, ...plainPart(kind), to: { item: otherLayer.value.id } }
        : { kind, ...plainPart(kind), to: { stencil: session.scene.stencils[0].id } };
    default:
      return undefined;
  }
}

function add(kind: PartKind): void {
  if (kind === 'picture') {
    file.value?.click();
    return;
  }
  const part = made(kind);
  if (!part) return;
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
