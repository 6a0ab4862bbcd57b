<script setup lang="ts">
/** What can be done to the blend: a step above the one at hand. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue';
import { PhPlus } from '@phosphor-icons/vue';
import { nextTick } from 'vue';
import type { AnyAdjustment } from '#core/develop/list.ts';
import { ItemId, LayerId } from '#core/ids.ts';
import { gradient } from '#core/parts/gradient.ts';
import { radial } from '#core/parts/radial.ts';
import type { Size } from '#core/raster/size.ts';
import { addAdjustment, addLayer } from '#core/scene/edits/stack.ts';
import type { Content } from '#core/scene/item.ts';
import { isStep } from '#core/scene/tree.ts';
import { FINISHING_STEPS, STACK_ADJUSTMENTS } from '../../develop/adjustmentWords.ts';
import { useBench } from '../../stores/bench.ts';
import { useMaskTools } from '../../stores/maskTools.ts';
import { useSession } from '../../stores/session.ts';

const props = defineProps<{ size: Size }>();
const session = useSession();
const bench = useBench();
const tools = useMaskTools();

/** On the step at hand, else on top of all; the first begins the steps. */
function above() {
  const { layerId } = bench.state;
  if (layerId !== null && isStep(session.scene, layerId)) return layerId;
  return session.scene.finish.at(-1)?.id ?? ({ blend: true } as const);
}
/** Light is painted in and out faintly (common practice, no source: 5 to 20 % a stroke). */
const FAINT = 0.1;

const finishing = Object.entries(FINISHING_STEPS) as [AnyAdjustment, { title: string; hint: string }][];
const adjustments = Object.entries(STACK_ADJUSTMENTS) as [AnyAdjustment, { title: string; hint: string }][];
const layers: readonly { title: string; hint: string; content: () => Content }[] = [
  { title: 'One colour', hint: 'painted in where you want it', content: () => ({ colour: [0.5, 0.5, 0.5] }) },
  {
    title: 'Run of colours', hint: 'from one to another along a line',
    content: () => ({ gradient: { start: { x: props.size.width / 2, y: 0 }, end: { x: props.size.width / 2, y: props.size.height }, from: [0, 0, 0], to: [1, 1, 1] } }),
  },
  { title: 'Picture so far', hint: 'once more, in a mode', content: () => ({ below: true }) },
];
function take(id: ItemId): void {
  bench.state.layerId = id;
  bench.finishing = 'steps';
}
function adjust(kind: AnyAdjustment): void {
  const id = ItemId.parse(crypto.randomUUID());
  session.dispatch(addAdjustment({ id, kind, above: above() }));
  take(id);
  if (kind !== 'dodgeBurn') return;
  const { brush } = bench.state;
  Object.assign(brush, { effect: 'reveal', grey: 1, strength: Math.min(brush.strength, FAINT) });
}
function lay(content: Content): void {
  const id = LayerId.parse(crypto.randomUUID());
  session.dispatch(addLayer({ id, content, above: above() }));
  take(id);
}
/** Light is led by an exposure whose mask is one shape, drawn at once. */
const LEADS = [
  { title: 'Along a gradient', begin: gradient.begin },
  { title: 'Within an ellipse', begin: radial.begin },
] as const;
const LEAD_STOPS = 0.5;
async function lead({ begin }: (typeof LEADS)[number]): Promise<void> {
  const id = ItemId.parse(crypto.randomUUID());
  const part = begin?.({ size: props.size } as never);
  if (!part) return;
  session.dispatch(addAdjustment({ id, kind: 'exposure', above: above(), settings: { stops: LEAD_STOPS }, part }));
  take(id);
  await nextTick();
  tools.partId = part.id;
  await nextTick();
  tools.tool = 'draw';
}
</script>

<template>
  <Menu as="div" class="flex shrink-0">
    <MenuButton class="btn h-full w-17 flex-col justify-center gap-1 px-1 text-[12px]" title="Do something to the picture, above the step at hand" :disabled="session.readOnly"><PhPlus :size="16" /> Step…</MenuButton>
    <MenuItems class="fixed bottom-42 z-30 flex max-h-[calc(100vh-12rem)] -translate-x-100 gap-1 overflow-y-auto rounded bg-raised p-1 shadow-xl focus:outline-none">
      <div class="flex w-62 flex-col">
        <h3 class="caption px-2 py-1">Finish</h3>
        <MenuItem v-for="[kind, { title, hint }] in finishing" :key="kind" v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="adjust(kind)"><span class="w-24 shrink-0 font-semibold">{{ title }}</span><span class="text-[11px] leading-tight text-soft">{{ hint }}</span></button>
        </MenuItem>
        <h3 class="caption px-2 py-1">Lead the light</h3>
        <MenuItem v-for="each in LEADS" :key="each.title" v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="lead(each)"><span class="w-32 shrink-0 font-semibold">{{ each.title }}</span><span class="text-[11px] leading-tight text-soft">one drag</span></button>
        </MenuItem>
        <h3 class="caption px-2 py-1">Lay</h3>
        <MenuItem v-for="{ title, hint, content } in layers" :key="title" v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="lay(content())"><span class="w-24 shrink-0 font-semibold">{{ title }}</span><span class="text-[11px] leading-tight text-soft">{{ hint }}</span></button>
        </MenuItem>
      </div>
      <div class="flex w-62 flex-col">
        <h3 class="caption px-2 py-1">Adjust</h3>
        <MenuItem v-for="[kind, { title, hint }] in adjustments" :key="kind" v-slot="{ active }">
          <button type="button" class="menu-item" :class="{ 'bg-panel': active }" @click="adjust(kind)"><span class="w-20 shrink-0 font-semibold">{{ title }}</span><span class="text-[11px] leading-tight text-soft">{{ hint }}</span></button>
        </MenuItem>
      </div>
    </MenuItems>
  </Menu>
</template>
