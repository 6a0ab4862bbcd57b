<script setup lang="ts">
/** Blend: the picture in the middle, the stack below, the mask of the selected layer beside it. */
import { computed, onMounted, ref, shallowRef, watch } from 'vue';
import { setLayerVisible } from '#core/scene/edits/layers.ts';
import { sceneSize } from '#core/scene/scene.ts';
import type { View } from '#engine/protocol.ts';
import SceneCanvas from '../../bench/SceneCanvas.vue';
import { useBench } from '../../stores/bench.ts';
import { useSession } from '../../stores/session.ts';
import EmptyStage from '../../ui/EmptyStage.vue';
import { useShortcuts } from '../../useShortcuts.ts';
import MaskBench from './MaskBench.vue';
import ReadingsPanel from './ReadingsPanel.vue';
import StackStrip from './StackStrip.vue';
import ToolLine from './ToolLine.vue';

const session = useSession();
const bench = useBench();

/** Verdigris in 8-bit sRGB, for the mask over the picture. */
const OVERLAY = { colour: [94, 196, 178], strength: 0.72 } as const;

const canvas = ref<InstanceType<typeof SceneCanvas>>();
const hovered = ref<{ x: number; y: number }>();

const size = computed(() => sceneSize(session.scene));
const layer = computed(() => session.scene.stack.find(({ id }) => id === bench.state.layerId));

watch(() => session.scene.stack, (stack) => {
  if (!stack.some(({ id }) => id === bench.state.layerId)) bench.state.layerId = stack[0]?.id ?? null;
}, { immediate: true });
watch(() => layer.value?.stencil, (stencil) => {
  if (!stencil && bench.state.coverage === 'stencil') bench.state.coverage = 'mask';
});

const view = computed<View>(() => {
  const { look, coverage } = bench.state;
  const { base } = session.scene;
  if (bench.before && base) return { kind: 'frame', frameId: base };
  if (!layer.value || look === 'picture') return { kind: 'picture' };
  if (look === 'layer') return { kind: 'frame', frameId: layer.value.frame };
  const asked = { layerId: layer.value.id, of: coverage };
  return look === 'grey' ? { kind: 'grey', ...asked } : { kind: 'overlay', ...asked, ...OVERLAY };
});

/** The same view as long as it asks for the same, so that nothing is drawn anew in between. */
const steadyView = shallowRef(view.value);
watch(view, (next) => {
  if (JSON.stringify(next) !== JSON.stringify(steadyView.value)) steadyView.value = next;
});

function selectBy(steps: number): void {
  const { stack } = session.scene;
  const index = stack.findIndex(({ id }) => id === bench.state.layerId);
  const next = stack[Math.min(stack.length - 1, Math.max(0, index + steps))];
  if (next) bench.state.layerId = next.id;
}

const brush = computed(() => bench.state.brush);
const resize = (factor: number) => { brush.value.size = Math.round(Math.min(4000, Math.max(1, brush.value.size * factor))); };
const strengthen = (by: number) => { brush.value.strength = Math.min(1, Math.max(0.05, Math.round((brush.value.strength + by) * 100) / 100)); };

useShortcuts({
  'look.picture': () => { bench.state.look = 'picture'; },
  'look.grey': () => { bench.state.look = 'grey'; },
  'look.overlay': () => { bench.state.look = 'overlay'; },
  'look.layer': () => { bench.state.look = 'layer'; },
  before: (held) => { bench.before = held; },
  full: () => canvas.value?.toggleFull(),
  'brush.swap': () => { brush.value.effect = brush.value.effect === 'reveal' ? 'hide' : 'reveal'; },
  'brush.smaller': () => resize(1 / 1.2),
  'brush.larger': () => resize(1.2),
  'brush.weaker': () => strengthen(-0.05),
  'brush.stronger': () => strengthen(0.05),
  'layer.lower': () => selectBy(-1),
  'layer.higher': () => selectBy(1),
  'layer.visible': () => layer.value && session.dispatch(setLayerVisible({ layerId: layer.value.id, visible: !layer.value.visible })),
});

onMounted(() => { document.title = `${session.scene.name} · Blend`; });
</script>

<template>
  <EmptyStage v-if="!size" text="There is nothing to blend yet." />
  <div v-else class="flex h-full flex-col">
    <ToolLine :scale="canvas?.scale ?? 1" :layer="layer" @full="canvas?.toggleFull()" />
    <div class="flex min-h-0 flex-1">
      <SceneCanvas ref="canvas" :key="session.scene.workingSpace" class="min-w-0 flex-1" :size="size" :view="steadyView" :paint-layer="layer?.id" :spread="layer?.mask.softness" @hover="hovered = $event" />
      <MaskBench v-if="layer" :key="layer.id" :layer="layer" :size="size" />
      <aside v-else class="w-72 shrink-0 bg-panel p-4 text-soft">Add a second frame in Gather: the masks stand here.</aside>
    </div>
    <div class="flex h-39 shrink-0 bg-panel">
      <StackStrip class="min-w-0 flex-1" :size="size" />
      <ReadingsPanel class="shrink-0" :size="size" :view="steadyView" :point="hovered" :layer-id="layer?.id ?? null" />
    </div>
  </div>
</template>
