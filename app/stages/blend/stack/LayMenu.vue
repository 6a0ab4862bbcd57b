<script setup lang="ts">
/** What can be laid in the stack, above the card at hand. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { PhPlus } from '@phosphor-icons/vue';
import { computed } from 'vue';
import { LayerId } from '#core/ids.ts';
import type { Size } from '#core/raster/size.ts';
import { addLayer } from '#core/scene/edits/stack.ts';
import type { Content } from '#core/scene/item.ts';
import { frameLabel } from '../../../frameLabel.ts';
import { useBench } from '../../../stores/bench.ts';
import { useSession } from '../../../stores/session.ts';

const props = defineProps<{ size: Size }>();
const session = useSession();
const bench = useBench();

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
function lay(content: Content): void {
  const id = LayerId.parse(crypto.randomUUID());
  session.dispatch(addLayer({ id, content, above: bench.state.layerId }));
  bench.state.layerId = id;
}
</script>

<template>
  <Menu as="div" class="sticky right-0 flex shrink-0 bg-panel pl-1">
    <MenuButton class="btn h-full w-17 flex-col justify-center gap-1 px-1 text-[12px]" title="Lay something above the card at hand" :disabled="session.readOnly"><PhPlus :size="16" /> Lay…</MenuButton>
    <MenuItems class="fixed bottom-42 z-30 flex max-h-96 w-72 -translate-x-40 flex-col overflow-y-auto rounded bg-raised p-1 shadow-xl focus:outline-none">
      <MenuItem v-for="{ label, hint, content } in choices" :key="label" v-slot="{ active }">
        <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="lay(content)">
          <span class="w-32 shrink-0 font-semibold">{{ label }}</span>
          <span class="text-[11px] leading-tight text-soft">{{ hint }}</span>
        </button>
      </MenuItem>
    </MenuItems>
  </Menu>
</template>
