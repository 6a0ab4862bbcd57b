<script setup lang="ts">
/** A small picture of a view of the scene, kept up to date. */
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { allTiles } from '#core/raster/region.ts';
import { levelCount, levelForScale, levelSize, type Size, TILE } from '#core/raster/size.ts';
import { Lane } from '#engine/lanes.ts';
import type { View } from '#engine/protocol.ts';
import { canvasSpaceOf, tileImage } from '../drawing/canvasSpace.ts';
import { useEngine } from '../stores/engine.ts';
import { pixelsName, useFrames } from '../stores/frames.ts';
import { useSession } from '../stores/session.ts';
import { viewRest } from './viewRest.ts';

const props = defineProps<{ size: Size; view: View; /** Longest side wanted, in CSS pixels. */ side: number; label: string }>();

const engines = useEngine();
const session = useSession();
const frames = useFrames();
/** A canvas keeps the space that it was first drawn in. */
const space = computed(() => canvasSpaceOf(session.scene.workingSpace));
const canvas = ref<HTMLCanvasElement>();
const keys = new Map<string, string>();
/** The pixels of which frame were drawn whole: they never change. */
let drawnName: string | undefined;
let busy = false;
let again = false;

/** The name of the pixels that the view shows, when it shows those of one frame alone. */
function nameOfPixels(): string | undefined {
  const { show } = props.view;
  const frame = show.what === 'frame' && !show.stops ? session.scene.frames.find(({ id }) => id === show.at) : undefined;
  return frame && pixelsName(frame);
}

async function draw(): Promise<void> {
  const name = nameOfPixels();
  if (name !== undefined && name === drawnName) return;
  again = true;
  if (busy) return;
  busy = true;
  while (again) {
    await viewRest(MOST_LAG_MS);
    again = false;
    if (!canvas.value || session.scene.frames.length === 0) break;
    const scale = (props.side * (window.devicePixelRatio || 1)) / Math.max(props.size.width, props.size.height);
    const level = levelForScale(scale, levelCount(props.size));
    const { width, height } = levelSize(props.size, level);
    if (canvas.value.width !== width || canvas.value.height !== height) {
      canvas.value.width = width;
      canvas.value.height = height;
      keys.clear();
    }
    const context = canvas.value.getContext('2d', { colorSpace: space.value }) as CanvasRenderingContext2D;
    const { engine } = await engines.start();
    const tiles = allTiles(props.size, level).map(({ tx, ty }) => ({ tx, ty, known: keys.get(`${tx},${ty}`) }));
    try {
      await engine.draw(Lane.Thumbs, props.view, level, tiles, (drawn) => {
        for (const { tx, ty, key, rgba } of drawn) {
          keys.set(`${tx},${ty}`, key);
          if (rgba) context.putImageData(tileImage(rgba, space.value), tx * TILE, ty * TILE);
        }
      });
      if (keys.size === tiles.length) drawnName = name;
    } catch {
      break; // a frame is still to come, or the canvas in the middle tells of the failure: a thumb stays as it was
    }
  }
  busy = false;
}

/** Thumbs follow the large picture, and never hold it up: but while it never rests they follow all the same. */
const LAG_MS = 80;
const MOST_LAG_MS = 1000;
let timer: ReturnType<typeof setTimeout> | undefined;
function drawSoon(): void {
  timer ??= setTimeout(() => {
    timer = undefined;
    void draw();
  }, LAG_MS);
}

watch(space, () => {
  keys.clear();
  drawnName = undefined;
  drawSoon();
});
onMounted(draw);
onBeforeUnmount(() => clearTimeout(timer));
watch(() => [session.scene, props.view, frames.arrivals], drawSoon);
</script>

<template>
  <canvas :key="space" ref="canvas" class="block bg-sunken object-cover" role="img" :aria-label="label" />
</template>
