<script setup lang="ts">
/** One frame of a comparison: its picture at the place and zoom that all share, with its limits hatched. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { levelsOf, limitsOf } from '#core/checks/sketch.ts';
import type { Size } from '#core/raster/size.ts';
import type { Frame } from '#core/scene/frame.ts';
import { CanvasDriver } from '../../bench/canvasDriver.ts';
import { canvasSpaceOf } from '../../drawing/canvasSpace.ts';
import { useResizeObserver } from '../../bench/useResizeObserver.ts';
import { transformOf } from '../../bench/viewTransform.ts';
import type { Viewport } from '../../stores/benchState.ts';
import { useEngine } from '../../stores/engine.ts';
import { useSession } from '../../stores/session.ts';
import { useSketches } from '../../stores/sketches.ts';
import LevelsStrip from '../../ui/LevelsStrip.vue';
import { sayShare } from '../../wording.ts';
import { hatchLimits } from '../../bench/hatchLimits.ts';

const props = defineProps<{ frame: Frame; label: string; viewport: Viewport; limits: boolean; bare: boolean }>();
const emit = defineEmits<{ extent: [size: Size] }>();

const engines = useEngine();
const session = useSession();
const sketches = useSketches();
const box = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const hatch = ref<HTMLCanvasElement>();
const driver = shallowRef<CanvasDriver>();
const extent = ref<Size>({ width: 1, height: 1 });

const transform = computed(() => transformOf(props.viewport, props.frame, extent.value));
const sketch = computed(() => sketches.sketchOf(props.frame));
const levels = computed(() => {
  if (!sketch.value) return undefined;
  const { blown, blocked } = limitsOf(sketch.value);
  return { counts: levelsOf(sketch.value), blown: `${sayShare(blown)} blown`, blocked: `${sayShare(blocked)} blocked` };
});

function resize(): void {
  if (!box.value || !canvas.value || !hatch.value) return;
  const density = window.devicePixelRatio || 1;
  extent.value = { width: Math.max(1, Math.round(box.value.clientWidth * density)), height: Math.max(1, Math.round(box.value.clientHeight * density)) };
  for (const each of [canvas.value, hatch.value]) Object.assign(each, extent.value);
  emit('extent', extent.value);
  driver.value?.repaint();
  drawHatch();
}
useResizeObserver(box, resize);

function drawHatch(): void {
  const context = hatch.value?.getContext('2d');
  if (!context) return;
  context.clearRect(0, 0, extent.value.width, extent.value.height);
  if (props.limits && sketch.value) hatchLimits(context, sketch.value, props.frame, transform.value);
}

onMounted(async () => {
  resize();
  const { engine } = await engines.start();
  if (!canvas.value) return;
  const made = new CanvasDriver(canvas.value, engine, props.frame, canvasSpaceOf(session.scene.workingSpace), () => undefined);
  made.setTransform(transform.value);
  made.setView({ show: { what: 'frame', at: props.frame.id } });
  driver.value = made;
});
onBeforeUnmount(() => driver.value?.close());
watch(transform, (now) => driver.value?.setTransform(now));
watch([transform, () => props.limits, sketch], drawHatch);
</script>

<template>
  <figure class="relative flex min-h-0 min-w-0 flex-col" :aria-label="label">
    <div ref="box" class="relative min-h-0 flex-1 overflow-hidden">
      <canvas ref="canvas" class="absolute inset-0 h-full w-full" :data-testid="`pane-${frame.file.name}`" />
      <canvas ref="hatch" class="pointer-events-none absolute inset-0 h-full w-full" />
    </div>
    <figcaption v-if="!bare" class="pointer-events-none mt-1 flex items-center gap-3 rounded bg-panel px-2.5 py-1">
      <span class="shrink-0 font-semibold">{{ label }}</span>
      <LevelsStrip v-if="levels" v-bind="levels" class="min-w-0 flex-1" />
    </figcaption>
  </figure>
</template>
