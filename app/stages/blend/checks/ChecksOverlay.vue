<script setup lang="ts">
/** Where the chosen check finds something, hatched over the picture, and a ring round the place that is visited. */
import { computed, onMounted, ref, watch } from 'vue';
import { hatchPlaces, type HatchedPlace } from '../../../bench/hatchPlaces.ts';
import { useResizeObserver } from '../../../bench/useResizeObserver.ts';
import { type PictureMap, SCENE_ITSELF } from '../../../bench/pictureMap.ts';
import type { Point, ViewTransform } from '../../../bench/viewTransform.ts';
import { useChecks } from '../../../stores/checks.ts';

const props = withDefaults(defineProps<{ transform: ViewTransform; density: number; /** How the scene lies in what is shown. */ map?: PictureMap }>(), { map: () => SCENE_ITSELF });
const checks = useChecks();
const box = ref<HTMLCanvasElement>();

const LEANS: Record<string, HatchedPlace['lean']> = { bright: 'rising', blown: 'rising', dark: 'falling', blocked: 'falling' };
/** Coarse places first, so that fine ones are not lost in them; only what belongs to a place to visit. */
const places = computed<HatchedPlace[]>(() => {
  const visits = checks.ofChosen;
  const reach = (id: string) => visits.find((visit) => visit.id === id)?.radius ?? 0;
  return checks.found
    .filter((each) => each.check === checks.chosen && visits.some((visit) => Math.hypot(visit.x - each.x, visit.y - each.y) <= reach(visit.id) * 1.5 && visit.reach === each.reach))
    .map((each) => ({ ...props.map.fromScene(each), reach: each.reach * props.map.scaleAt(each), lean: LEANS[each.kind ?? ''] ?? 'level' }));
});

function draw(): void {
  const canvas = box.value;
  const context = canvas?.getContext('2d');
  if (!canvas || !context) return;
  Object.assign(canvas, { width: Math.max(1, Math.round(canvas.clientWidth * props.density)), height: Math.max(1, Math.round(canvas.clientHeight * props.density)) });
  // The place that is visited is looked at by itself.
  if (!checks.visited) hatchPlaces(context, places.value, props.transform);
}
useResizeObserver(box, draw);
watch([() => props.transform, places, () => checks.visited], draw);
onMounted(draw);

function onScreen(at: Point): Point {
  const { x, y } = props.map.fromScene(at);
  return { x: (x * props.transform.scale + props.transform.offsetX) / props.density, y: (y * props.transform.scale + props.transform.offsetY) / props.density };
}
const ring = computed(() => {
  const visit = checks.visited;
  if (!visit) return undefined;
  return { ...onScreen(visit), r: Math.max(18, ((visit.radius * props.map.scaleAt(visit) * props.transform.scale) / props.density) * 1.15) };
});
/** Of two places that are held against each other the second. */
const second = computed(() => {
  const { otherX, otherY } = checks.visited?.facts ?? {};
  return otherX === undefined || otherY === undefined ? undefined : onScreen({ x: otherX, y: otherY });
});
const dots = computed(() => (checks.visited ? [] : checks.ofChosen.map((each) => ({ id: each.id, ...onScreen(each) }))));
</script>

<template>
  <div class="pointer-events-none absolute inset-0 overflow-clip" role="img" :aria-label="checks.visited ? 'The place that is visited, ringed' : 'Places that the check found, hatched'" data-testid="checks-map">
    <canvas ref="box" class="absolute inset-0 h-full w-full" />
    <svg class="absolute inset-0 h-full w-full" aria-hidden="true">
      <g v-for="dot in dots" :key="dot.id" fill="none">
        <rect :x="dot.x - 7" :y="dot.y - 7" width="14" height="14" :transform="`rotate(45 ${dot.x} ${dot.y})`" stroke="#10211e" stroke-width="4" />
        <rect :x="dot.x - 7" :y="dot.y - 7" width="14" height="14" :transform="`rotate(45 ${dot.x} ${dot.y})`" stroke="#f2f6f4" stroke-width="1.6" />
      </g>
      <template v-if="ring">
        <g v-if="second">
          <line :x1="ring.x" :y1="ring.y" :x2="second.x" :y2="second.y" stroke="#10211e" stroke-width="3" />
          <line :x1="ring.x" :y1="ring.y" :x2="second.x" :y2="second.y" stroke="#f2f6f4" stroke-width="1.2" stroke-dasharray="6 5" />
          <rect :x="second.x - 12" :y="second.y - 12" width="24" height="24" fill="none" stroke="#10211e" stroke-width="4" />
          <rect :x="second.x - 12" :y="second.y - 12" width="24" height="24" fill="none" stroke="#f2f6f4" stroke-width="1.6" />
        </g>
        <circle :cx="ring.x" :cy="ring.y" :r="ring.r" fill="none" stroke="#10211e" stroke-width="4" data-testid="visit-ring" />
        <circle :cx="ring.x" :cy="ring.y" :r="ring.r" fill="none" stroke="#f2f6f4" stroke-width="1.6" stroke-dasharray="10 5" />
      </template>
    </svg>
  </div>
</template>
