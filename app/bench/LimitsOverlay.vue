<script setup lang="ts">
/** What of a view is blown and what is blocked, hatched over it. Judged as everywhere on a small picture, which follows a moment after the view. */
import { onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';
import { type Sketch, sketchLevel } from '#core/checks/sketch.ts';
import type { Size } from '#core/raster/size.ts';
import type { View } from '#engine/protocol.ts';
import { drawnView } from '../drawing/drawnView.ts';
import { hatchLimits } from './hatchLimits.ts';
import { useBench } from '../stores/bench.ts';
import { useEngine } from '../stores/engine.ts';
import { useSession } from '../stores/session.ts';
import { useResizeObserver } from './useResizeObserver.ts';
import type { ViewTransform } from './viewTransform.ts';

const props = defineProps<{ view: View; size: Size; transform: ViewTransform; density: number }>();

const REST_MS = 150;
const RETRY_MS = 700;

const bench = useBench();
const session = useSession();
const engines = useEngine();
const box = ref<HTMLCanvasElement>();
const sketch = shallowRef<Sketch>();
let timer: ReturnType<typeof setTimeout> | undefined;
let turn = 0;

/** The picture is drawn once the hand rests. */
function renewSoon(wait = REST_MS): void {
  clearTimeout(timer);
  timer = setTimeout(() => void renew(), wait);
}
async function renew(): Promise<void> {
  const mine = ++turn;
  const { engine } = await engines.start();
  const drawn = await drawnView(engine, { show: props.view.show }, props.size, sketchLevel(props.size));
  if (mine !== turn) return;
  if (drawn) sketch.value = drawn;
  else renewSoon(RETRY_MS);
}
function draw(): void {
  const canvas = box.value;
  const context = canvas?.getContext('2d');
  if (!canvas || !context) return;
  Object.assign(canvas, { width: Math.max(1, Math.round(canvas.clientWidth * props.density)), height: Math.max(1, Math.round(canvas.clientHeight * props.density)) });
  if (sketch.value) hatchLimits(context, sketch.value, props.size, props.transform, bench.state);
}

useResizeObserver(box, draw);
watch([() => props.transform, sketch, () => bench.state.blockedTo, () => bench.state.blownFrom], draw);
watch([() => session.scene, () => JSON.stringify(props.view.show)], () => renewSoon());
onMounted(() => renewSoon(0));
onBeforeUnmount(() => {
  turn++;
  clearTimeout(timer);
});
</script>

<template>
  <canvas ref="box" class="pointer-events-none absolute inset-0 h-full w-full" role="img" aria-label="Limits: blown and blocked places, hatched" data-testid="limits" />
</template>
